import type { Router } from 'express';
import { escapeHtml, sayInstant } from '@convite/core';
import type { Context } from '../services/context';
import { Failure } from '../services/failure';
import { sayWhom } from '../services/countdown/announce';
import { describeFiring, stopFiring } from '../services/countdown/firings';
import { publicHouse, sendNotThere, writePage } from './page';

const title = 'Standby';

/** Where whoever was told of a firing sees what it is and stops it, without signing in. Looking stops nothing: scanners fetch every link. */
export function standbyPageRoutes(routes: Router, context: Context): void {
  const { links, store } = context;

  routes.get('/h/:token', async (request, response) => {
    response.set('cache-control', 'no-store').set('referrer-policy', 'no-referrer');
    const house = await publicHouse(context);
    const id = links.readStandby(request.params.token);
    if (id === 0)
      return void response.send(
        writePage(
          title,
          house,
          '<h1>This was a test</h1><p>Here you would see what stands by, and stop it in one press.</p>',
        ),
      );
    const firing = id === null ? null : await store.firings.find(id);
    if (!firing) return sendNotThere(response, house);
    const about = await describeFiring(context, firing);
    const { zone } = await store.house.settings();
    const facts = [
      about.eventTitle,
      sayInstant(firing.dueMs, zone, house.manner),
      sayWhom(about),
      firing.zone && 'Stopping it stops it for people in all zones.',
    ].filter(Boolean);
    const words = `<blockquote><p><strong>${escapeHtml(about.subject)}</strong></p><p>${escapeHtml(about.firstLines)}</p></blockquote>`;
    response.send(
      writePage(
        title,
        house,
        `<h1>${escapeHtml(about.title)}</h1><p>${facts.map(escapeHtml).join('<br>')}</p>${words}${wayOut(firing)}`,
      ),
    );
  });

  routes.post('/h/:token', async (request, response) => {
    const house = await publicHouse(context);
    const id = links.readStandby(request.params.token);
    if (!id || !(await store.firings.find(id))) return sendNotThere(response, house);
    const said = (words: string, isDone: boolean): void =>
      void response
        .status(isDone ? 200 : 409)
        .send(
          writePage(
            title,
            house,
            `<h1>${title}</h1><p class="${isDone ? 'thanks' : 'notice'}" role="status">${words}</p>`,
          ),
        );
    try {
      await stopFiring(context, id, { name: 'the standby link' });
      said('It is stopped. Whoever is signed in sets it again, or lets it be.', true);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      said('Too late: it has gone out, or was stopped before.', false);
    }
  });
}

/** What can still be done about it. */
function wayOut({ state, sent, planned }: { state: string; sent: number; planned: number }): string {
  const stop = (label: string): string => `<form method="post"><p><button>${label}</button></p></form>`;
  if (state === 'set' || state === 'draft') return stop('Stop it');
  if (state === 'sending') return `<p>It is going out: ${sent} of ${planned} have left.</p>${stop('Stop the rest')}`;
  return state === 'stopped' ? '<p class="notice">It is stopped.</p>' : '<p>It is over.</p>';
}
