import type { RequestHandler } from 'express';
import type { Context } from '../services/context';
import { publicHouse, writePage } from './page';

/** Addresses that are made for one person, each with the way to read for whom. */
const own = /^\/(opt-out|my|p|r|i|feed\/person)\/([0-9a-z.-]+?)(?:\.ics)?(?:\/|$)/i;

/** What a test or a preview leads to answers for nobody, and says so: only who gets the real message has links that act. */
export function ofATest(context: Context): RequestHandler {
  const { links } = context;
  const isOfNobody = (page: string, token: string): boolean => {
    switch (page) {
      case 'opt-out':
        return links.readOptOut(token) === 0;
      case 'my':
      case 'feed/person':
        return links.readFeed(token)?.subscriberId === 0;
      case 'p':
        return links.readPreferences(token)?.subscriberId === 0;
      default:
        return links.readPersonEvent(page === 'r' ? 'reply' : 'ics', token)?.subscriberId === 0;
    }
  };
  return async (request, response, next) => {
    const [, page = '', token = ''] = own.exec(request.path) ?? [];
    if (!page || !isOfNobody(page.toLowerCase(), token)) return next();
    const house = await publicHouse(context);
    response.send(
      writePage(
        'Only a test',
        house,
        '<h1>Only a test</h1><p>This link came with a test or a preview. Whoever gets the real message has one of their own, which opens their page here. Nothing was changed.</p>',
      ),
    );
  };
}
