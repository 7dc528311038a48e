import type { Person, SubscriberPage } from '@convite/contract';
import type { Context } from '../context';

/** Which people somebody asks for: everybody, those of a list, those searched for, or those of a segment as of now. */
export interface WhichPeople {
  readonly search: string;
  readonly list?: number | undefined;
  readonly segment?: number | undefined;
}

/**
 * One page of them, in the order of their numbers, from behind one. Of a segment a page may have few rows and more behind it: so
 * many people are looked at for one. The segment goes before a search or a list.
 */
export async function findPeople(
  { store }: Pick<Context, 'store'>,
  { search, list, segment, after, limit }: WhichPeople & { readonly after: number; readonly limit: number },
): Promise<SubscriberPage> {
  if (segment === undefined) return store.subscribers.page({ search, list, after, limit });
  const { ids, lookedTo } = await store.segments.page({ kind: 'segment', segments: [segment] }, after, limit + 1);
  const shown = ids.slice(0, limit);
  return {
    rows: await store.subscribers.rowsOf(shown),
    next: ids.length > limit ? (shown.at(-1) ?? null) : lookedTo,
    total: after === 0 ? ((await store.segments.find(segment))?.people ?? null) : null,
  };
}

/** Some people by name. Who is not there is left out. */
export async function namePeople({ store }: Pick<Context, 'store'>, ids: readonly number[]): Promise<Person[]> {
  const rows = await store.subscribers.rowsOf(ids);
  return rows.map(({ id, name, email, mobile }) => ({ id, name, email, mobile }));
}
