import {
  mostPicked,
  type BulkAct,
  type BulkProgress,
  type BulkRequest,
  type PeopleSelection,
  type SubscriberPage,
} from '@convite/contract';
import { readFieldValue } from '@convite/core';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { notFound, refuseProblems } from '../failure';
import { findPeople } from './find-people';

/** People dealt with in one transaction. */
const chunkSize = 500;
/** Erasing looks everywhere. */
const erasedAtOnce = 25;

/**
 * Does one thing to many people, chunk by chunk, each in a transaction of its own, and says after each how far it is; whoever
 * stops reading stops it there. @throws Failure 404 for a list or field that is not there, 422 for a value that is none of its type
 */
export async function bulkPeople(
  context: Context,
  { selection, what }: BulkRequest,
  actor: Actor,
): Promise<AsyncGenerator<BulkProgress>> {
  const { store } = context;
  const act = await prepare(context, what, actor);
  await store.house.audit(
    nowOf(context),
    actor,
    `person: many, ${what.act}`,
    `${sayWhom(selection)}: ${sayWhat(what)}`,
  );
  return run();

  async function* run(): AsyncGenerator<BulkProgress> {
    let [done, changed] = [0, 0];
    let named: number[] | null = canBeUndone(what) ? [] : null;
    for await (const ids of chunksOf(context, selection, what.act === 'erase' ? erasedAtOnce : chunkSize)) {
      // Who is gone meanwhile stops nobody.
      const those = await store.transact(async (tx) => act(tx, await tx.subscribers.present(ids)));
      done += ids.length;
      changed += those.length;
      named = named && named.length + those.length <= mostPicked ? [...named, ...those] : null;
      yield { done, changed, isOver: false, changedIds: null };
    }
    await store.house.audit(nowOf(context), actor, `person: many, ${what.act}`, `${changed} of ${done} people changed`);
    await store.live.touch('subscribers', 'board');
    yield { done, changed, isOver: true, changedIds: named };
  }
}

type Act = (tx: StoreSubjects, ids: readonly number[]) => Promise<readonly number[]>;

/** What is done to a chunk. @returns for whom it changed something */
async function prepare(context: Context, what: BulkAct, actor: Actor): Promise<Act> {
  const { store } = context;
  const now = nowOf(context);
  switch (what.act) {
    case 'to-list':
      if (!(await store.lists.has(what.listId))) throw notFound('list');
      return (tx, ids) => tx.lists.join(what.listId, ids, now);
    case 'off-list':
      return (tx, ids) => tx.lists.leave(what.listId, ids, now);
    case 'give-topic':
      return (tx, ids) => tx.subscribers.giveTopic(ids, what.topic);
    case 'take-topic':
      return (tx, ids) => tx.subscribers.takeTopic(ids, what.topic);
    case 'set-field': {
      const field = await store.fields.find(what.fieldId);
      if (!field) throw notFound('field');
      if (what.value.trim() && readFieldValue(field.type, what.value) === null)
        refuseProblems([
          { code: 'bad-value', path: 'value', facts: { text: what.value.slice(0, 60), type: field.type } },
        ]);
      return async (tx, ids) => {
        if (what.value.trim())
          await tx.fields.write(ids.map((subscriberId) => ({ subscriberId, field, typed: what.value.trim() })));
        else await tx.fields.empty(field.id, ids);
        return ids;
      };
    }
    case 'opt-out':
      return (tx, ids) => tx.consents.optOutMany(ids, { source: 'by-hand', how: what.how, by: actor.name }, now);
    case 'erase':
      return async (tx, ids) => {
        const erased: number[] = [];
        for (const id of ids) if (await tx.erasures.erase(id, now)) erased.push(id);
        return erased;
      };
  }
}

const canBeUndone = ({ act }: BulkAct): boolean => ['to-list', 'off-list', 'give-topic', 'take-topic'].includes(act);

async function* chunksOf(
  context: Context,
  selection: PeopleSelection,
  size: number,
): AsyncGenerator<readonly number[]> {
  if ('ids' in selection) {
    for (let from = 0; from < selection.ids.length; from += size) yield selection.ids.slice(from, from + size);
    return;
  }
  const { search, list, segment } = selection;
  const which = { search, ...(list !== null && { list }), ...(typeof segment === 'number' && { segment }) };
  for (let after: number | null = 0; after !== null;) {
    const page: SubscriberPage = await findPeople(context, { ...which, after, limit: size });
    if (page.rows.length) yield page.rows.map(({ id }) => id);
    after = page.next;
  }
}

const sayWhom = (selection: PeopleSelection): string =>
  'ids' in selection
    ? `${selection.ids.length} picked`
    : [
        selection.search && 'found by a search',
        selection.list !== null && `on list ${selection.list}`,
        typeof selection.segment === 'number' && `in segment ${selection.segment}`,
      ]
        .filter(Boolean)
        .join(', ') || 'everybody';

function sayWhat(what: BulkAct): string {
  switch (what.act) {
    case 'to-list':
    case 'off-list':
      return `list ${what.listId}`;
    case 'give-topic':
    case 'take-topic':
      return what.topic;
    case 'set-field':
      return `field ${what.fieldId}`;
    case 'opt-out':
      return what.how;
    case 'erase':
      return 'for good';
  }
}
