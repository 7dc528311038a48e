import {
  listFields,
  type List,
  type ListChange,
  type ListDetail,
  type PersonField,
  type PourList,
  type PourProgress,
} from '@convite/contract';
import { isDuplicate } from '../../store/database';
import type { GrowthOfDay } from '../../store/list-growth';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound, refuseStale } from '../failure';

/** The further fields that people have. */
export const allFields = ({ store }: Context): Promise<PersonField[]> => store.fields.all();

export const allLists = ({ store }: Context): Promise<List[]> => store.lists.all();

/** Makes a list. @throws Failure 409 when there is one of that name */
export async function createList(context: Context, name: string, actor: Actor): Promise<number> {
  try {
    const id = await context.store.lists.create(name);
    await context.store.house.audit(nowOf(context), actor, 'list: created', name);
    return id;
  } catch (error) {
    if (isDuplicate(error)) throw new Failure(409, 'list-exists', `There is a list “${name}” already.`);
    throw error;
  }
}

/** So many cues that use it are named. */
const mostNamed = 50;

/** What a list is for, how it grew over a year, and what uses it. @throws Failure 404 */
export async function describeList(context: Context, id: number): Promise<ListDetail> {
  const { store } = context;
  const list = await store.lists.find(id);
  if (!list) throw notFound('list');
  const months = lastMonths(nowOf(context));
  const [days, used, digests] = await Promise.all([
    store.listGrowth.since(id, new Date(`${months[0] ?? ''}-01T00:00Z`)),
    store.lists.usedBy(id, mostNamed + 1),
    store.digests.all(),
  ]);
  const named = used.cueIds.slice(0, mostNamed);
  const cues = await store.cues.findMany(named);
  return {
    ...list,
    growth: months.map((month) => sumOf(month, days)),
    hasMoreCues: used.cueIds.length > mostNamed,
    cues: named.flatMap((cueId) => {
      const cue = cues.get(cueId);
      return cue ? [{ id: cueId, name: cue.name, eventId: cue.eventId }] : [];
    }),
    digests: digests.filter((one) => used.digestIds.includes(one.id)).map(({ id, name }) => ({ id, name })),
  };
}

/** Renames a list, says what it is for, puts it away or takes it out again. @throws Failure 404, 409 for a name that is taken */
export async function changeList(
  context: Context,
  id: number,
  { was, ...fields }: ListChange,
  actor: Actor,
): Promise<void> {
  const now = nowOf(context);
  try {
    await context.store.transact(async (tx) => {
      const list = await tx.lists.findForUpdate(id);
      if (!list) throw notFound('list');
      refuseStale('list', listFields.parse(list), was);
      await tx.lists.change(id, { ...fields, archivedAt: fields.isArchived ? now : null });
      const what =
        fields.isArchived === list.isArchived ? 'changed' : fields.isArchived ? 'put away' : 'taken out again';
      await tx.house.audit(now, actor, `list: ${what}`, fields.name);
      await tx.live.touch('subscribers');
    });
  } catch (error) {
    if (isDuplicate(error)) throw new Failure(409, 'list-exists', `There is a list “${fields.name}” already.`);
    throw error;
  }
}

/** Members put on another list in one transaction. */
const pouredAtOnce = 5000;

/**
 * Puts all members of a list on another, chunk by chunk: on a new one, or on one that there is, after which this one is put away.
 * It keeps its members, so that what asks for it goes on. Whoever stops reading stops it there, and begins again where it is.
 * @throws Failure 404, 409 for a name that is taken, 422 for the list itself
 */
export async function pourList(
  context: Context,
  id: number,
  how: PourList,
  actor: Actor,
): Promise<AsyncGenerator<PourProgress>> {
  const { store } = context;
  const from = await store.lists.find(id);
  if (!from) throw notFound('list');
  if (how.into === 'list' && how.listId === id)
    throw new Failure(422, 'same-list', 'A list cannot be put together with itself.');
  if (how.into === 'list' && !(await store.lists.has(how.listId))) throw notFound('list');
  const target = how.into === 'copy' ? await createList(context, how.name, actor) : how.listId;
  const what = how.into === 'copy' ? 'list: copied' : 'list: put together';
  await store.house.audit(nowOf(context), actor, what, `${from.name} onto list ${target}`);
  return run();

  async function* run(): AsyncGenerator<PourProgress> {
    const total = await store.lists.sizeOf(id);
    let [done, joined] = [0, 0];
    for (let after = 0; ;) {
      const ids = await store.lists.membersAfter(id, after, pouredAtOnce);
      const last = ids.at(-1);
      if (last === undefined) break;
      joined += (await store.transact((tx) => tx.lists.join(target, ids, nowOf(context)))).length;
      done += ids.length;
      after = last;
      yield { done, total, joined, isOver: false, listId: target };
    }
    if (how.into === 'list')
      await store.transact(async (tx) => {
        const now = await tx.lists.findForUpdate(id);
        if (now) await tx.lists.change(id, { ...now, archivedAt: nowOf(context) });
      });
    await store.live.touch('subscribers');
    yield { done, total, joined, isOver: true, listId: target };
  }
}

/** Twelve months as `2026-11`, the one of the instant last. */
function lastMonths(now: Date): string[] {
  return Array.from({ length: 12 }, (_, index) =>
    new Date(Date.UTC(now.getUTCFullYear(), now.getUTCMonth() - 11 + index)).toISOString().slice(0, 7),
  );
}

function sumOf(month: string, days: readonly GrowthOfDay[]): ListDetail['growth'][number] {
  const mine = days.filter(({ day }) => day.startsWith(month));
  const sum = (what: 'came' | 'went' | 'bounced'): number => mine.reduce((all, one) => all + one[what], 0);
  return { month, came: sum('came'), went: sum('went'), bounced: sum('bounced') };
}
