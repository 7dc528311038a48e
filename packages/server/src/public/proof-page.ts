import type { Router } from 'express';
import { escapeHtml } from '@convite/core';
import { proveSender } from '../services/beginning/prove-sender';
import type { Context } from '../services/context';
import { publicHouse, sendNotThere, writePage } from './page';

/** Where somebody of the house says that mail from its sender arrived. Looking proves nothing: scanners fetch every link. */
export function proofPageRoutes(routes: Router, context: Context): void {
  const { links } = context;
  routes.get('/s/:token', async (request, response) => {
    const house = await publicHouse(context);
    const email = links.readProvenSender(request.params.token);
    if (email === null) return sendNotThere(response, house);
    const body = `<h1>Did it arrive?</h1><p>The message from ${escapeHtml(email)}.</p><form method="post"><p><button>Yes, it arrived</button></p></form>`;
    response.send(writePage('Did it arrive?', house, body));
  });
  routes.post('/s/:token', async (request, response) => {
    const house = await publicHouse(context);
    const email = links.readProvenSender(request.params.token);
    if (email === null) return sendNotThere(response, house);
    const isProven = await proveSender(context, email);
    const said = isProven
      ? '<p class="thanks" role="status">Thank you. Mail from this sender leaves and arrives.</p>'
      : '<p class="notice" role="alert">The house writes as somebody else by now; ask for another proof.</p>';
    response.status(isProven ? 200 : 409).send(writePage('The sender', house, `<h1>The sender</h1>${said}`));
  });
}
