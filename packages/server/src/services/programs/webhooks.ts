import { randomBytes } from 'node:crypto';
import type { MadeWebhook, Webhook, WebhookCalls, WebhookFields } from '@convite/contract';
import { hideAddress } from '../hide-address';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';

const mostCounted = 1000;
const shownAtOnce = 30;

export async function listWebhooks({ store }: Context): Promise<Webhook[]> {
  const all = await store.webhooks.all();
  return Promise.all(
    all.map(async ({ secret: _, failingSince, ...one }) => ({
      ...one,
      failingSince: failingSince?.toISOString() ?? null,
      waiting: await store.webhooks.waiting(one.id, mostCounted),
    })),
  );
}

/** Adds an address that is told of things. The secret by which its calls are signed is said this once. */
export async function addWebhook(context: Context, fields: WebhookFields, actor: Actor): Promise<MadeWebhook> {
  const secret = randomBytes(32).toString('base64url');
  const id = await context.store.webhooks.create(fields, context.seal.close(secret), nowOf(context));
  await context.store.house.audit(
    nowOf(context),
    actor,
    'webhook: added',
    `${fields.name}, ${hideAddress(fields.url)}`,
  );
  return { id, secret };
}

/** What waits is tried anew. @throws Failure 404 */
export async function changeWebhook(context: Context, id: number, fields: WebhookFields, actor: Actor): Promise<void> {
  if (!(await context.store.webhooks.find(id))) throw notFound('webhook');
  await context.store.webhooks.update(id, fields, nowOf(context));
  await context.store.house.audit(
    nowOf(context),
    actor,
    'webhook: changed',
    `${fields.name}, ${hideAddress(fields.url)}`,
  );
  await context.store.live.touch('board');
}

/** With all that it was told. @throws Failure 404 */
export async function removeWebhook(context: Context, id: number, actor: Actor): Promise<void> {
  const found = await context.store.webhooks.find(id);
  if (!found || !(await context.store.webhooks.remove(id))) throw notFound('webhook');
  await context.store.house.audit(nowOf(context), actor, 'webhook: removed', found.name);
  await context.store.live.touch('board');
}

/** Tells it something that did not happen, to see whether it takes it. @throws Failure 404, 409 for one that is off */
export async function testWebhook(context: Context, id: number): Promise<void> {
  const found = await context.store.webhooks.find(id);
  if (!found) throw notFound('webhook');
  if (!found.isOn) throw new Failure(409, 'is-off', 'Switch it on first.');
  await context.store.webhooks.test(id, nowOf(context));
}

/** What one was told, the latest first. */
export async function webhookLog({ store }: Context, id: number, before: number): Promise<WebhookCalls> {
  const found = await store.webhooks.log(id, before, shownAtOnce + 1);
  const rows = found.slice(0, shownAtOnce);
  return {
    rows: rows.map(({ id: call, kind, state, at, attempts, answer, nextAt }) => ({
      ...{ id: call, kind, state, attempts, answer },
      at: at.toISOString(),
      nextAt: nextAt.toISOString(),
    })),
    next: found.length > shownAtOnce ? (rows.at(-1)?.id ?? null) : null,
  };
}

/** @throws Failure 404 for one that is not there, or waits already */
export async function postAgain(context: Context, id: number, callId: number): Promise<void> {
  if (!(await context.store.webhooks.again(id, callId, nowOf(context)))) throw notFound('call');
}
