import express, { type Router } from 'express';
import { escapeHtml } from '@convite/core';
import type { Context } from '../services/context';
import { noteOpened } from '../services/audience/note-opened';
import { personOfFeed } from '../services/digests/feeds';
import { publicHouse, sendNotThere, writeActions, writePage } from './page';

/** "Your calendar": the address of a person's own feed, and a new one when the old has come into wrong hands. */
export function personPageRoutes(routes: Router, context: Context): void {
  const { store, links } = context;
  routes.get('/my/:token', async (request, response) => {
    const house = await publicHouse(context);
    const person = await personOfFeed(context, request.params.token);
    if (!person) {
      sendNotThere(response, house);
      return;
    }
    void noteOpened(context, person.id, 'calendar');
    const feed = links.personFeed(person.id, person.feedNonce);
    const actions = [
      { name: 'Follow in your calendar program', url: feed.replace(/^https?:/, 'webcal:') },
      { name: 'Download once', url: feed },
    ];
    response.send(
      writePage(
        'Your calendar',
        house,
        `<h1>Your calendar</h1><p>Everything you said yes to, kept up to date by your calendar program.</p>${writeActions(actions)}
<p>Its address, to be kept to yourself:<br><code>${escapeHtml(feed)}</code></p>
<form method="post"><p>Somebody else has it? A new address makes the old one worthless.</p><button>Make a new address</button></form>`,
      ),
    );
  });
  routes.post('/my/:token', express.urlencoded({ extended: false, limit: '1kb' }), async (request, response) => {
    const person = await personOfFeed(context, request.params.token);
    if (!person) {
      sendNotThere(response, await publicHouse(context));
      return;
    }
    await store.subscribers.resetFeed(person.id);
    response.redirect(303, links.personPage(person.id, person.feedNonce + 1));
  });
}
