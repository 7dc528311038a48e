import { Router } from 'express';
import {
  changePeopleImport,
  headingsRequest,
  importRowQuery,
  peopleImportFields,
  peopleImportRows,
  sayProblem,
  takeImport as takeImportRequest,
  tableFormats,
} from '@convite/contract';
import {
  addRows,
  beginImport,
  describeImport,
  headingsOf,
  discardImport,
  latestImports,
  pageRows,
  refusedRows,
  rememberedColumns,
} from '../services/audience/bring-in';
import { changeImport, takeImport } from '../services/audience/take-in';
import type { Context } from '../services/context';
import { idOf } from './ids';
import { sendLines } from './lines';
import { sendTable } from './send-table';
import { actorOf, allow } from './session';

/** Bringing people in: rows are handed in, looked at, and taken; all of it can be taken back. */
export function peopleImportRoutes(context: Context): Router {
  const routes = Router();
  // What stands in the files is nobody's but theirs who take people in.
  routes.use(allow(['owner', 'marketer']));
  routes.get('/', async (_request, response) => {
    response.json(await latestImports(context));
  });
  routes.post('/columns', async (request, response) => {
    const { headings } = headingsRequest.parse(request.body);
    response.json({ columns: await rememberedColumns(context, headings) });
  });
  routes.post('/', async (request, response) => {
    const id = await beginImport(context, peopleImportFields.parse(request.body), actorOf(request));
    response.status(201).json({ id });
  });
  routes.get('/:id', async (request, response) => {
    response.json(await describeImport(context, idOf(request)));
  });
  routes.post('/:id/rows', async (request, response) => {
    response.json(await addRows(context, idOf(request), peopleImportRows.parse(request.body)));
  });
  routes.get('/:id/rows', async (request, response) => {
    const { kind, after } = importRowQuery.parse(request.query);
    response.json(await pageRows(context, idOf(request), kind, after));
  });
  for (const format of tableFormats)
    routes.get(`/:id/refused.${format}`, async (request, response) => {
      const heading = [...(await headingsOf(context, idOf(request))), 'Why it was not taken'];
      const rows = refusedRows(context, idOf(request), (problems, isTwice) =>
        isTwice ? 'Stands in the file twice; taken once.' : problems.map((one) => sayProblem(one)).join(' '),
      );
      await sendTable(response, { format, name: 'not-taken', heading, rows });
    });
  routes.post('/:id/take', async (request, response) => {
    const asked = takeImportRequest.parse(request.body);
    await sendLines(response, await takeImport(context, idOf(request), asked, actorOf(request)));
  });
  routes.post('/:id', async (request, response) => {
    const { change } = changePeopleImport.parse(request.body);
    if (change === 'discard') await discardImport(context, idOf(request));
    else await changeImport(context, idOf(request), change, actorOf(request));
    response.status(204).end();
  });
  return routes;
}
