import express, { type Router } from 'express';
import { nowOf, type Context } from '../services/context';
import { publicHouse, sendNotThere, writePage } from './page';

/** The way out: a page that asks, and the one-click POST of RFC 8058. */
export function optOutRoutes(routes: Router, context: Context): void {
  const { store, links } = context;
  routes.get('/opt-out/:token', async (request, response) => {
    const house = await publicHouse(context);
    // Looking changes nothing: link scanners fetch every address they see.
    if (links.readOptOut(request.params.token) === null) sendNotThere(response, house);
    else
      response.send(
        writePage(
          'Opt out',
          house,
          '<h1>Opt out</h1><p>You will get no more event news from us, by email or text.</p><form method="post"><button>Opt out</button></form>',
        ),
      );
  });
  routes.post('/opt-out/:token', express.urlencoded({ extended: false }), async (request, response) => {
    const house = await publicHouse(context);
    const named = links.readOptOut(request.params.token);
    if (named === null) {
      sendNotThere(response, house);
      return;
    }
    const id = await store.subscribers.whoIs(named);
    const said = { source: 'form', how: 'pressed the link to opt out', by: `person ${id}` } as const;
    await store.transact((tx) => tx.consents.optOut(id, said, nowOf(context)));
    const by = { name: `person ${id}`, address: request.ip ?? '' };
    await store.house.audit(nowOf(context), by, 'opt-out: by its page', '');
    await store.live.touch('subscribers');
    response.send(writePage('You are out', house, '<h1>You are out</h1><p>We will send you no more event news.</p>'));
  });
}
