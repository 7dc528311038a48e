import type { WebhookBody } from '@convite/contract';
import { guardedPost, reasonOf } from '../../net/guarded-get';
import { contentDigest, signRequest } from '../../net/sign-request';
import type { StoredCall, StoredWebhook } from '../../store/webhooks';
import { nowOf, type Context } from '../context';

const minuteMs = 60_000;
/** After so many minutes what was not taken is posted again; then never. */
const againAfter = [1, 5, 30, 2 * 60, 6 * 60, 12 * 60, 24 * 60];
const withinMs = 10_000;
/** So many calls of one are made in a row; the others have their turn then. */
const inARow = 50;
/** So many are called at a time: one that hangs holds up nobody. */
const atOnce = 5;
/** A row of calls ends after so long, well before anybody else could take it for abandoned. */
const rowMs = 60_000;

/**
 * Calls those who are due to be told something.
 * @param isStopped asked between two calls: a worker that ends waits for no more than those it makes
 * @returns whether any was
 */
export async function callDue(context: Context, isStopped: () => boolean = () => false): Promise<boolean> {
  const called = await Promise.all(Array.from({ length: atOnce }, () => callNext(context, isStopped)));
  return called.includes(true);
}

async function callNext(context: Context, isStopped: () => boolean): Promise<boolean> {
  const { store } = context;
  const due = await store.webhooks.takeDue(nowOf(context), inARow);
  if (!due) return false;
  const { webhook, calls } = due;
  const end = performance.now() + rowMs;
  let next = nowOf(context);
  let isFailing = webhook.failingSince !== null;
  for (const call of calls) {
    if (performance.now() > end || isStopped()) break;
    const became = await post(context, webhook, call);
    const minutes = againAfter[call.attempts];
    const again = became.isTaken || minutes === undefined ? null : new Date(context.clock.now() + minutes * minuteMs);
    await store.webhooks.record(call.id, became, again);
    isFailing = !became.isTaken;
    // In their order: what comes behind it waits for it, until it is given up.
    if (again) next = again;
    if (isFailing) break;
  }
  await store.webhooks.settle(webhook.id, next, isFailing, nowOf(context));
  if (isFailing !== (webhook.failingSince !== null)) await store.live.touch('board');
  return true;
}

async function post(
  context: Context,
  { id, url, secret }: StoredWebhook,
  call: StoredCall,
): Promise<{ isTaken: boolean; answer: string }> {
  const key = context.seal.open(secret);
  if (key === null) return { isTaken: false, answer: 'Its secret cannot be read any more. Add it anew.' };
  const { allowPrivateAddresses } = await context.store.house.settings();
  const body = JSON.stringify(await bodyOf(context, call));
  const digest = contentDigest(body);
  const target = URL.canParse(url) ? new URL(url).href : url;
  const signed = signRequest(
    'convite',
    [
      ['@method', 'POST'],
      ['@target-uri', target],
      ['content-digest', digest],
    ],
    {
      keyId: `webhook-${id}`,
      secret: Buffer.from(key, 'utf8'),
      // Whoever checks it has a real clock.
      created: Math.floor(Date.now() / 1000),
    },
  );
  try {
    const response = await guardedPost(target, body, {
      allowPrivate: allowPrivateAddresses,
      withinMs,
      headers: {
        'content-type': 'application/json',
        'content-length': String(Buffer.byteLength(body)),
        'content-digest': digest,
        ...signed,
      },
    });
    // Nothing of what it says is read.
    response.destroy();
    const { statusCode = 0 } = response;
    return { isTaken: statusCode >= 200 && statusCode < 300, answer: `It answered ${statusCode}.` };
  } catch (error) {
    return { isTaken: false, answer: reasonOf(error, { withinMs }) };
  }
}

/** Of the person and the event as they stand now. */
async function bodyOf({ store }: Context, call: StoredCall): Promise<WebhookBody> {
  const person = call.subscriberId === null ? null : await store.subscribers.detail(call.subscriberId);
  const event = call.eventId === null ? null : await store.events.find(call.eventId);
  return {
    id: String(call.id),
    kind: call.kind,
    at: call.at.toISOString(),
    subscriber:
      call.subscriberId === null
        ? null
        : { id: call.subscriberId, email: person?.email ?? '', mobile: person?.mobile ?? '' },
    event: event && { id: event.id, title: event.version.facts.title, occurrence: call.occurrence },
    channel: call.channel,
    detail: call.detail,
  };
}
