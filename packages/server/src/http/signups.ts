import { Router } from 'express';
import { toString as drawQr } from 'qrcode';
import { signupChange } from '@convite/contract';
import { allForms, saveForm } from '../services/audience/sign-up';
import type { Context } from '../services/context';
import { notFound } from '../services/failure';
import { idOf } from './ids';
import { actorOf } from './session';

/** Forms by which people sign up, for who keeps them. */
export function signupRoutes(context: Context): Router {
  const routes = Router();
  routes.get('/', async (_request, response) => {
    response.json(await allForms(context));
  });
  routes.post('/', async (request, response) => {
    const id = await saveForm(context, null, signupChange.parse(request.body), actorOf(request));
    response.status(201).json({ id });
  });
  routes.put('/:id', async (request, response) => {
    await saveForm(context, idOf(request), signupChange.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  // To be printed: sharp at any size.
  routes.get('/:id/address.svg', async (request, response) => {
    const form = (await allForms(context)).find(({ id }) => id === idOf(request));
    if (!form) throw notFound('form');
    response.type('svg').send(await drawQr(form.url, { type: 'svg', errorCorrectionLevel: 'M' }));
  });
  return routes;
}
