import { Router } from 'express';
import {
  bulkRequest,
  listChange,
  mergeRequest,
  messageQuery,
  namedQuery,
  newNote,
  timelineQuery,
  newList,
  pourList as pourListRequest,
  personChange,
  subscriberQuery,
  tableFormats,
} from '@convite/contract';
import type { Actor, Context } from '../services/context';
import { allFields, allLists, changeList, createList, describeList, pourList } from '../services/audience/lists';
import { findPeople, namePeople } from '../services/audience/find-people';
import { bulkPeople } from '../services/audience/bulk-people';
import { erasePerson } from '../services/audience/erase-person';
import { takeHeldAbout } from '../services/audience/held-about';
import { mergePeople, partPeople, previewMerge, samePeople } from '../services/audience/merge-people';
import { editPerson, getPerson } from '../services/audience/persons';
import {
  addNote,
  listNotes,
  readComing,
  readTimeline,
  removeNote,
  resetOwnAddress,
} from '../services/audience/timeline';
import { listMessages, showMessage } from '../services/sending/show-message';
import { exportCards, exportPeople, peopleHeading } from '../services/audience/export-people';
import { sendLines } from './lines';
import { sendPieces } from './send-pieces';
import { sendTable } from './send-table';
import { idOf } from './ids';
import { actorOf, allow } from './session';

export function subscriberRoutes(
  context: Context,
  { mailOwnLink }: { readonly mailOwnLink: (personId: number, actor: Actor) => Promise<void> },
): Router {
  const routes = Router();
  routes.get('/subscribers', async (request, response) => {
    response.json(await findPeople(context, subscriberQuery.parse(request.query)));
  });
  routes.get('/subscribers/named', async (request, response) => {
    response.json(await namePeople(context, namedQuery.parse(request.query).ids));
  });
  routes.get('/subscribers/fields', async (_request, response) => {
    response.json(await allFields(context));
  });
  for (const format of tableFormats)
    routes.get(`/subscribers.${format}`, allow(['owner', 'marketer']), async (request, response) => {
      const rows = await exportPeople(context, subscriberQuery.parse(request.query), actorOf(request));
      await sendTable(response, { format, name: 'people', heading: peopleHeading, rows });
    });
  routes.get('/subscribers.vcf', allow(['owner', 'marketer']), async (request, response) => {
    const pieces = await exportCards(context, subscriberQuery.parse(request.query), actorOf(request));
    await sendPieces(response, { name: 'people.vcf', type: 'text/vcard; charset=utf-8', pieces });
  });
  routes.post('/subscribers/bulk', async (request, response) => {
    await sendLines(response, await bulkPeople(context, bulkRequest.parse(request.body), actorOf(request)));
  });
  routes.get('/subscribers/:id', async (request, response) => {
    response.json(await getPerson(context, idOf(request)));
  });
  routes.put('/subscribers/:id', async (request, response) => {
    response.json(await editPerson(context, idOf(request), personChange.parse(request.body), actorOf(request)));
  });
  routes.get('/subscribers/:id/held.json', allow(['owner', 'marketer']), async (request, response) => {
    const held = await takeHeldAbout(context, idOf(request), actorOf(request));
    response.attachment(`person-${idOf(request)}.json`).json(held);
  });
  routes.delete('/subscribers/:id', async (request, response) => {
    await erasePerson(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.get('/subscribers/:id/timeline', async (request, response) => {
    response.json(await readTimeline(context, idOf(request), timelineQuery.parse(request.query).after));
  });
  routes.get('/subscribers/:id/coming', async (request, response) => {
    response.json(await readComing(context, idOf(request)));
  });
  routes.get('/subscribers/:id/notes', async (request, response) => {
    response.json(await listNotes(context, idOf(request)));
  });
  routes.post('/subscribers/:id/notes', async (request, response) => {
    await addNote(context, idOf(request), newNote.parse(request.body).text, actorOf(request));
    response.status(201).json({});
  });
  routes.delete('/subscribers/:id/notes/:note', async (request, response) => {
    await removeNote(context, idOf(request), idOf(request, 'note'));
    response.status(204).end();
  });
  routes.post('/subscribers/:id/link', async (request, response) => {
    await mailOwnLink(idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/subscribers/:id/address', async (request, response) => {
    await resetOwnAddress(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.get('/subscribers/:id/same', async (request, response) => {
    response.json(await samePeople(context, idOf(request)));
  });
  routes.post('/subscribers/:id/same/preview', async (request, response) => {
    const { otherId } = mergeRequest.parse(request.body);
    response.json(await previewMerge(context, idOf(request), otherId));
  });
  routes.post('/subscribers/:id/same', async (request, response) => {
    await mergePeople(context, idOf(request), mergeRequest.parse(request.body).otherId, actorOf(request));
    response.status(204).end();
  });
  routes.delete('/merges/:id', async (request, response) => {
    await partPeople(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.get('/subscribers/:id/messages', async (request, response) => {
    response.json(await listMessages(context, idOf(request), messageQuery.parse(request.query).before));
  });
  // As it was read, by name and with what they answered: not for viewers.
  routes.get('/messages/:id', allow(['owner', 'marketer']), async (request, response) => {
    response.json(await showMessage(context, idOf(request)));
  });
  routes.get('/lists', async (_request, response) => {
    response.json(await allLists(context));
  });
  routes.post('/lists', async (request, response) => {
    response.status(201).json({ id: await createList(context, newList.parse(request.body).name, actorOf(request)) });
  });
  routes.get('/lists/:id', async (request, response) => {
    response.json(await describeList(context, idOf(request)));
  });
  routes.post('/lists/:id/pour', async (request, response) => {
    const how = pourListRequest.parse(request.body);
    await sendLines(response, await pourList(context, idOf(request), how, actorOf(request)));
  });
  routes.put('/lists/:id', async (request, response) => {
    await changeList(context, idOf(request), listChange.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  return routes;
}
