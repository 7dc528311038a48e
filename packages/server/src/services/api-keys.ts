import { createHash, randomBytes } from 'node:crypto';
import { nowOf, type Actor, type Context } from './context';

const digestOf = (key: string): string => createHash('sha256').update(key).digest('hex');

/** Makes a key for a program. It is shown this once; only its digest is kept. */
export async function makeApiKey(context: Context, name: string, actor: Actor): Promise<string> {
  const key = `cv_${randomBytes(24).toString('base64url')}`;
  await context.store.house.addApiKey(name, digestOf(key), nowOf(context));
  await context.store.house.audit(nowOf(context), actor.name, 'key: made', name);
  return key;
}

export async function removeApiKey(context: Context, id: number, actor: Actor): Promise<void> {
  await context.store.house.removeApiKey(id);
  await context.store.house.audit(nowOf(context), actor.name, 'key: removed', String(id));
}

/** Whose key this is; null when it is nobody's. */
export const nameOfApiKey = (context: Context, key: string): Promise<string | null> =>
  context.store.house.useApiKey(digestOf(key), nowOf(context));
