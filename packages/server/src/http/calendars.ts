import { Router } from 'express';
import { importCalendarChoice, mostCalendarOctets, watchFields } from '@convite/contract';
import type { Context } from '../services/context';
import { importCalendar, lookIntoCalendar } from '../services/calendars/import-calendar';
import { listWatches, removeWatch, saveWatch } from '../services/calendars/watch-calendars';
import { hideAddress } from '../services/hide-address';
import { takeFile } from './file-body';
import { idOf } from './ids';
import { actorOf, memberOf } from './session';

/** Calendars made elsewhere: files, and addresses that are watched. */
export function calendarRoutes(context: Context): Router {
  const routes = Router();
  routes.post('/calendars/read', async (request, response) => {
    response.json(await lookIntoCalendar(context, await takeFile(request, mostCalendarOctets)));
  });
  routes.post('/calendars/import', async (request, response) => {
    const choice = importCalendarChoice.parse(request.query);
    const file = await takeFile(request, mostCalendarOctets);
    const options = { ...choice, watchId: 0, search: '', people: null, cuesOfEvent: null };
    const stop = new AbortController();
    // Whoever asked is gone: they pressed Stop, or closed the page.
    response.on('close', () => stop.abort());
    try {
      response.json(await importCalendar(context, file, options, actorOf(request), stop.signal));
    } catch (error) {
      if (!stop.signal.aborted) throw error;
    }
  });
  routes.get('/watches', async (request, response) => {
    const watches = await listWatches(context);
    const isLooking = memberOf(request).role === 'viewer';
    response.json(isLooking ? watches.map((watch) => ({ ...watch, url: hideAddress(watch.url) })) : watches);
  });
  routes.post('/watches', async (request, response) => {
    await saveWatch(context, null, watchFields.parse(request.body), actorOf(request));
    response.status(201).end();
  });
  routes.put('/watches/:id', async (request, response) => {
    await saveWatch(context, idOf(request), watchFields.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.delete('/watches/:id', async (request, response) => {
    await removeWatch(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  return routes;
}
