import { createHash, randomBytes } from 'node:crypto';
import type { NewApiKey } from '@convite/contract';
import type { KnownProgram } from '../../store/api-keys';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';

const digestOf = (key: string): string => createHash('sha256').update(key).digest('hex');

/** The keys there are; not what they are. */
export const listApiKeys = ({ store }: Context) => store.apiKeys.all();

/** Makes a key for a program: for the times of one event or of all, for so many days. It is shown this once. */
export async function makeApiKey(
  context: Context,
  { name, eventId, days, scopes }: NewApiKey,
  actor: Actor,
): Promise<string> {
  const { store } = context;
  if (eventId !== null && !(await store.events.find(eventId))) throw notFound('event');
  if (eventId !== null && scopes.some((scope) => scope !== 'times:write'))
    throw new Failure(422, 'not-of-one-event', 'A key for one event can only bring people’s times to it.');
  const key = `cv_${randomBytes(24).toString('base64url')}`;
  const now = nowOf(context);
  const expiresAt = new Date(now.getTime() + days * 86_400_000);
  await store.apiKeys.add({ name, eventId, digest: digestOf(key), scopes, now, expiresAt });
  const where = eventId === null ? 'all events' : `event ${eventId}`;
  await store.house.audit(now, actor, 'key: made', `${name}, for ${where}, ${days} days: ${scopes.join(', ')}`);
  return key;
}

export async function removeApiKey(context: Context, id: number, actor: Actor): Promise<void> {
  if (!(await context.store.apiKeys.remove(id))) throw notFound('key');
  await context.store.house.audit(nowOf(context), actor, 'key: removed', String(id));
}

/** Whose key this is; null when it is nobody's, or its time is over. */
export const programOf = (context: Context, key: string): Promise<KnownProgram | null> =>
  context.store.apiKeys.use(digestOf(key), nowOf(context));
