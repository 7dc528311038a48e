import { Router } from 'express';
import { factorConfirm, passwordChange, recoveryCodes, tells, withPassword } from '@convite/contract';
import {
  changePassword,
  endSession,
  provePassword,
  readAccount,
  removeOwnFactor,
  setTells,
} from '../services/accounts/own-account';
import { confirmFactor, offerFactor } from '../services/accounts/second-factor';
import type { Context } from '../services/context';
import { Failure } from '../services/failure';
import { readJsonBody } from './json-body';
import { actorOf, allow, memberOf, sessionIdOf } from './session';

/** What everybody does with their own account, whatever their role, and before the second factor is set up. */
export function accountRoutes(context: Context): Router {
  const routes = Router();
  routes.use(allow(['owner', 'marketer', 'viewer'], true), readJsonBody('10kb'));
  routes.get('/', async (request, response) => {
    response.json(await readAccount(context, memberOf(request).id, sessionIdOf(request)));
  });
  routes.post('/password', async (request, response) => {
    const change = passwordChange.parse(request.body);
    await changePassword(context, memberOf(request).id, change, sessionIdOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/factor', async (request, response) => {
    const member = await provePassword(context, memberOf(request).id, withPassword.parse(request.body).current);
    const { secret, picture, sealed } = await offerFactor(context, member);
    request.session.offer = sealed;
    response.json({ secret, picture });
  });
  routes.post('/factor/confirm', async (request, response) => {
    const { offer } = request.session;
    if (!offer) throw new Failure(409, 'no-offer', 'Begin once more: no second factor is being set up.');
    const { code } = factorConfirm.parse(request.body);
    const codes = await confirmFactor(context, memberOf(request).id, offer, code, actorOf(request));
    request.session.offer = '';
    response.json(recoveryCodes.parse({ codes }));
  });
  routes.post('/factor/remove', async (request, response) => {
    const { current } = withPassword.parse(request.body);
    await removeOwnFactor(context, memberOf(request).id, current, actorOf(request));
    response.status(204).end();
  });
  routes.put('/tells', async (request, response) => {
    await setTells(context, memberOf(request).id, tells.parse(request.body));
    response.status(204).end();
  });
  routes.delete('/sessions/:id', async (request, response) => {
    await endSession(context, memberOf(request).id, String(request.params.id), actorOf(request));
    response.status(204).end();
  });
  return routes;
}
