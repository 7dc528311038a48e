import type { ActChoices } from '@convite/contract';
import {
  isOnPeople,
  occurrenceOfSlot,
  readFieldValue,
  type ActOnPeople,
  type CueAct,
  type Problem,
} from '@convite/core';
import type { ContentOf } from '../../store/content';
import type { StoredCue } from '../../store/cues';
import type { StoredEvent } from '../../store/events';
import type { StoredFiring } from '../../store/firings';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { notFound } from '../failure';
import { pressDocument, writeHouseEmail } from '../sending/write-message';
import { whoGets } from './who-gets';

/** People something is done with in one transaction. */
const atOnce = 500;

/** What must be right before a cue that does something may be set: what it names has to be there. */
export async function checkAct(
  store: Pick<StoreSubjects, 'lists' | 'fields' | 'members' | 'webhooks'>,
  act: CueAct,
): Promise<Problem[]> {
  const gone: Problem[] = [{ code: 'act-gone', path: 'act' }];
  switch (act.kind) {
    case 'join':
    case 'leave':
      return (await store.lists.has(act.list)) ? [] : gone;
    case 'field': {
      const field = await store.fields.find(act.field);
      if (!field) return gone;
      const isReadable = act.value.trim() === '' || readFieldValue(field.type, act.value) !== null;
      const facts = { text: act.value.slice(0, 60), type: field.type };
      return isReadable ? [] : [{ code: 'bad-value', path: 'act', facts }];
    }
    case 'task':
      if (!act.text) return [{ code: 'required', path: 'act' }];
      return (await store.members.all()).some(({ id, isInvited }) => id === act.member && !isInvited) ? [] : gone;
    case 'call':
      return (await store.webhooks.find(act.webhook)) ? [] : gone;
  }
}

/** What a cue may do something with, by name. */
export async function actChoices({ store }: Pick<Context, 'store'>): Promise<ActChoices> {
  const named = ({ id, name }: { readonly id: number; readonly name: string }) => ({ id, name });
  return {
    lists: (await store.lists.all()).map(named),
    fields: (await store.fields.all()).map(({ id, name, type }) => ({ id, name, type })),
    members: (await store.members.all()).filter(({ isInvited }) => !isInvited).map(named),
    webhooks: (await store.webhooks.all()).map(named),
  };
}
export const noChoices: ActChoices = { lists: [], fields: [], members: [], webhooks: [] };

/** @example 'puts them on Friends' */
export function sayAct(act: CueAct, { lists, fields, members, webhooks }: ActChoices): string {
  const nameIn = (some: readonly { readonly id: number; readonly name: string }[], id: number): string =>
    some.find((one) => one.id === id)?.name ?? 'what is gone';
  switch (act.kind) {
    case 'join':
      return `puts them on ${nameIn(lists, act.list)}`;
    case 'leave':
      return `takes them off ${nameIn(lists, act.list)}`;
    case 'field': {
      const name = nameIn(fields, act.field);
      return act.value.trim() ? `sets ${name} to ${act.value}` : `empties ${name}`;
    }
    case 'task':
      return `a task for ${nameIn(members, act.member)}: ${act.text}`;
    case 'call':
      return `calls ${nameIn(webhooks, act.webhook)}`;
  }
}

interface Expanded {
  readonly content: ContentOf<'act'>;
  readonly planned: number;
  readonly note: string;
}

/**
 * The moment of a cue that does something: puts down with whom, or does at once what is done once, in the caller's transaction.
 * @throws Error where what it names is gone: the firing fails with that
 */
export async function expandAct(
  store: StoreSubjects,
  { firing, event, cue }: { readonly firing: StoredFiring; readonly event: StoredEvent; readonly cue: StoredCue },
  act: CueAct,
  now: Date,
): Promise<Expanded> {
  const content = { kind: 'act', act, document: { subject: '', blocks: [] } } as const;
  if (isOnPeople(act)) {
    const going = { ...firing, dueMs: Math.max(firing.dueMs, now.getTime()) };
    const planned = await store.expansions.expand(firing.id, await whoGets(store, event, cue, going), 'act', now);
    return { content, planned, note: 'It was for nobody.' };
  }
  return { content, planned: 0, note: await doOnce(store, act, { event, cue, firing }, now) };
}

/** @returns what to say of it */
async function doOnce(
  store: StoreSubjects,
  act: Exclude<CueAct, ActOnPeople>,
  { event, cue, firing }: { readonly event: StoredEvent; readonly cue: StoredCue; readonly firing: StoredFiring },
  now: Date,
): Promise<string> {
  if (act.kind === 'task') {
    const member = (await store.members.all()).find(({ id }) => id === act.member);
    if (!member) throw new Error('The member whose task it was to be is gone.');
    await store.tasks.give({ memberId: member.id, eventId: event.id, text: act.text }, now);
    return `A task for ${member.name}: ${act.text}`;
  }
  const webhook = await store.webhooks.find(act.webhook);
  if (!webhook) throw new Error('The system that was to be called is gone.');
  await store.webhooks.call(
    webhook.id,
    { eventId: event.id, occurrence: occurrenceOfSlot(firing.slot), detail: cue.name },
    now,
  );
  return `${webhook.name} is called.`;
}

/**
 * Does with the next few people what their cue does, all of it or nothing in one transaction. What cannot be done fails for them, with
 * the reason, and nobody else waits for it. @returns whether there was anything
 */
export async function actOnNext(context: Context): Promise<boolean> {
  const { store } = context;
  const now = nowOf(context);
  const firingId = await store.transact(async (tx) => {
    const due = await tx.acts.takeNext(now, atOnce);
    if (!due) return null;
    const content = (await tx.firings.find(due.firingId))?.content;
    if (due.deliveryIds.length && content?.kind === 'act' && isOnPeople(content.act))
      await tx.acts.record(due, await perform(tx, content.act, due.personIds, now), now);
    await tx.live.touch('board', 'subscribers');
    return due.firingId;
  });
  if (firingId === null) return false;
  await store.firings.closeFinished([firingId], now);
  return true;
}

async function perform(
  tx: StoreSubjects,
  act: ActOnPeople,
  people: readonly number[],
  now: Date,
): Promise<{ readonly isDone: boolean; readonly answer: string }> {
  const ids = await tx.subscribers.present(people);
  if (act.kind === 'field') {
    const field = await tx.fields.find(act.field);
    if (!field) return { isDone: false, answer: 'The field is gone.' };
    const typed = act.value.trim();
    if (typed) await tx.fields.write(ids.map((subscriberId) => ({ subscriberId, field, typed })));
    else await tx.fields.empty(field.id, ids);
    return { isDone: true, answer: typed ? `${field.name} was set to ${typed}.` : `${field.name} was emptied.` };
  }
  const list = await tx.lists.find(act.list);
  if (!list) return { isDone: false, answer: 'The list is gone.' };
  if (act.kind === 'join') await tx.lists.join(list.id, ids, now);
  else await tx.lists.leave(list.id, ids, now);
  return { isDone: true, answer: `${act.kind === 'join' ? 'Put on' : 'Taken off'} ${list.name}.` };
}

/** Mails the next task to the member whose it is. @returns whether there was one that left */
export async function tellNextTask(context: Context): Promise<boolean> {
  const { store, links } = context;
  const task = await store.transact((tx) => tx.tasks.takeUntold(nowOf(context)));
  if (!task) return false;
  const settings = await store.house.settings();
  const event = task.eventId === null ? null : await store.events.find(task.eventId);
  const about = event ? `For ${event.version.facts.title}.` : '';
  const look = { label: 'Open the call board', url: links.screen('/') };
  const mail = writeHouseEmail(context, settings, {
    to: { name: task.memberName, address: task.memberEmail },
    document: pressDocument('A task for you', [task.text, about].filter(Boolean).join('\n\n'), look),
  });
  const refusal = await context.mail.send(mail).catch(() => ({ kind: 'transient' as const }));
  const isTaken = refusal === null || refusal.kind === 'permanent';
  if (!isTaken) await store.tasks.setUntold(task.id);
  return isTaken;
}

/** Says that a task is done. @throws Failure 404 for one that is done already, or is not there */
export async function finishTask(context: Context, id: number, actor: Actor): Promise<void> {
  const { store } = context;
  if (!(await store.tasks.setDone(id, actor.name, nowOf(context)))) throw notFound('task');
  await store.house.audit(nowOf(context), actor, 'cue: task done', `task ${id}`);
  await store.live.touch('board');
}
