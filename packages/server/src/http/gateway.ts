import { timingSafeEqual } from 'node:crypto';
import { Router } from 'express';
import type { Context } from '../services/context';
import { receiveReceipt, receiveText } from '../services/replies/receive-text';
import { gatewayIncoming, gatewayReceipt } from '../text/gateway';
import { readJsonBody } from './json-body';

/** Where the text gateway posts receipts and incoming texts. The secret in the path is what proves that it is the gateway. */
export function gatewayRoutes(context: Context, token: string): Router {
  const routes = Router();
  routes.use('/:token', (request, response, next) => {
    const given = Buffer.from(request.params.token);
    const expected = Buffer.from(token);
    if (given.length === expected.length && timingSafeEqual(given, expected)) next();
    else response.status(404).end();
  });
  routes.use('/:token', readJsonBody('20kb'));
  routes.post('/:token/receipt', async (request, response) => {
    await receiveReceipt(context, gatewayReceipt.parse(request.body));
    response.status(204).end();
  });
  routes.post('/:token/incoming', async (request, response) => {
    await receiveText(context, gatewayIncoming.parse(request.body));
    response.status(204).end();
  });
  return routes;
}
