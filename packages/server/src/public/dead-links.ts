import type { RequestHandler } from 'express';
import type { Context } from '../services/context';
import type { Links, PersonalPage } from '../services/sending/links';
import { ownWords } from './own-words';
import { publicHouse, writePage } from './page';
import { askForNewLink } from './stale-link';

/** Addresses that are made for one person. */
const own = /^\/(opt-out|my|p|r|i|a|j|c|feed\/person)\/([0-9a-z.-]+?)(?:\.ics)?(?:\/|$)/i;
/** A short link of a preview, which no delivery has. */
const sample = /^\/k\/[0-9a-z.]+--{8}$/;

/**
 * Links that act for nobody: those of tests and previews, made for person 0, and those from before all personal links were
 * ended. Each leads to a page that says so.
 */
export function deadLinks(context: Context): RequestHandler {
  const { links } = context;
  return async (request, response, next) => {
    const [, found = '', token = ''] = own.exec(request.path) ?? [];
    const page = found.toLowerCase();
    if (sample.test(request.path) || (page && isOfNobody(links, page, token))) {
      const house = await publicHouse(context);
      response.send(
        writePage(
          'Only a test',
          house,
          '<h1>Only a test</h1><p>This link is from a test or a preview. In the real message, each reader has a link to their own page. Nothing was changed.</p>',
        ),
      );
    } else if (isPersonal(page) && links.isEnded(page, token)) {
      const { language } = await context.store.house.settings();
      const words = ownWords[language];
      askForNewLink(response, await publicHouse(context), { words, language, about: words.endedAbout });
    } else next();
  };
}

const personalPages: readonly string[] = ['i', 'r', 'my', 'feed/person', 'p', 'a', 'j', 'c'] satisfies PersonalPage[];
const isPersonal = (page: string): page is PersonalPage => personalPages.includes(page);

function isOfNobody(links: Links, page: string, token: string): boolean {
  switch (page) {
    case 'opt-out':
      return links.readOptOut(token) === 0;
    case 'my':
    case 'feed/person':
      return links.readFeed(token)?.subscriberId === 0;
    case 'p':
      return links.readPreferences(token)?.subscriberId === 0;
    case 'a':
      return links.readAddressChange(token)?.id === 0;
    case 'j':
      return links.readSignup(token) === 0;
    case 'c':
      return links.readHold(token) === 0;
    default:
      return links.readPersonEvent(page === 'r' ? 'reply' : 'ics', token)?.subscriberId === 0;
  }
}
