import type { FieldProgress, NewField, Vocabulary } from '@convite/contract';
import { asks } from '@convite/core';
import { isDuplicate } from '../../store/database';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound, refuseInUse } from '../failure';

/** Values taken out in one statement. */
const emptiedAtOnce = 5000;
const mostTopics = 50;
const mostEvents = 5;

/** The fields and topics of the house, each with what would miss it. */
export async function readVocabulary(context: Context): Promise<Vocabulary> {
  const { store, clock } = context;
  const [fields, settings, segments, forms, cues] = await Promise.all([
    store.fields.all(),
    store.house.settings(),
    store.segments.all(),
    store.signups.forms(),
    store.cues.goingByDates(),
  ]);
  return {
    fields: fields.map((field) => ({
      ...field,
      usedBy: [
        ...segments
          .filter(({ conditions }) => asks(conditions, (one) => one.kind === 'field' && one.field === field.id))
          .map(({ name }) => ({ kind: 'segment' as const, name })),
        ...cues.filter((cue) => cue.fieldId === field.id).map(({ name }) => ({ kind: 'cue' as const, name })),
      ],
    })),
    topics: await Promise.all(
      settings.topics.map(async (topic) => ({
        topic,
        usedBy: [
          ...segments
            .filter(({ conditions }) => asks(conditions, (one) => one.kind === 'topic' && one.topics.includes(topic)))
            .map(({ name }) => ({ kind: 'segment' as const, name })),
          ...forms.filter(({ topics }) => topics.includes(topic)).map(({ name }) => ({ kind: 'form' as const, name })),
          ...(await store.events.titlesAbout(topic, clock.now(), mostEvents)).map((name) => ({
            kind: 'event' as const,
            name,
          })),
        ],
      })),
    ),
  };
}

/** @throws Failure 409 for a name that another has */
export async function createField(context: Context, { name, type }: NewField, actor: Actor): Promise<number> {
  return named(name, async () => {
    const id = await context.store.fields.create(name, type);
    await context.store.house.audit(nowOf(context), actor, 'field: made', name);
    return id;
  });
}

/** What stands in it stays, whatever it is called. @throws Failure 404, 409 */
export async function renameField(context: Context, id: number, name: string, actor: Actor): Promise<void> {
  const before = await context.store.fields.find(id);
  if (!before) throw notFound('field');
  await named(name, () => context.store.fields.rename(id, name));
  await context.store.house.audit(nowOf(context), actor, 'field: renamed', `${before.name} to ${name}`);
}

async function named<T>(name: string, act: () => Promise<T>): Promise<T> {
  try {
    return await act();
  } catch (error) {
    if (isDuplicate(error)) throw new Failure(409, 'field-exists', `There is a field “${name}” already.`);
    throw error;
  }
}

/**
 * Takes a field out with all that stands in it, some at a time. @throws Failure 404, 409 while something asks for it
 */
export async function removeField(context: Context, id: number, actor: Actor): Promise<AsyncGenerator<FieldProgress>> {
  const { store } = context;
  const field = (await readVocabulary(context)).fields.find((one) => one.id === id);
  if (!field) throw notFound('field');
  refuseUsed(field.usedBy);
  await store.house.audit(nowOf(context), actor, 'field: removed', field.name);
  return run();

  async function* run(): AsyncGenerator<FieldProgress> {
    let done = 0;
    for (let more = emptiedAtOnce; more === emptiedAtOnce;) {
      more = await store.fields.takeOut(id, emptiedAtOnce);
      done += more;
      yield { done, isOver: false };
    }
    await store.fields.remove(id);
    await store.live.touch('subscribers');
    yield { done, isOver: true };
  }
}

const refuseUsed = (usedBy: readonly { readonly kind: string; readonly name: string }[]): void =>
  refuseInUse(usedBy.map(({ kind, name }) => `the ${kind} “${name}”`));

/** @throws Failure 409 for one that is there, or one more than are offered */
export async function addTopic(context: Context, topic: string, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const settings = await tx.house.settingsForUpdate();
    if (settings.topics.some((one) => one.toLowerCase() === topic.toLowerCase()))
      throw new Failure(409, 'topic-exists', `There is a topic “${topic}” already.`);
    await offerTopics(tx, [topic]);
    await tx.house.audit(nowOf(context), actor, 'topic: added', topic);
    await tx.live.touch('settings');
  });
}

/** Offers topics that are not offered yet. To be called in a transaction. @throws Failure 409 for more than people choose among */
export async function offerTopics(tx: StoreSubjects, topics: readonly string[]): Promise<void> {
  const settings = await tx.house.settingsForUpdate();
  const known = new Set(settings.topics.map((topic) => topic.toLowerCase()));
  const fresh = new Map(topics.map((topic) => [topic.toLowerCase(), topic]));
  const more = [...fresh].flatMap(([key, topic]) => (known.has(key) ? [] : [topic]));
  if (more.length === 0) return;
  if (settings.topics.length + more.length > mostTopics)
    throw new Failure(
      409,
      'too-many',
      `There would be more than ${mostTopics} topics, among which nobody chooses. Take some out first, or leave out: ${more.slice(0, 5).join(', ')}.`,
    );
  await tx.house.saveSettings({ ...settings, topics: [...settings.topics, ...more] });
}

/** It is offered no more; who asked for it keeps it. @throws Failure 404, 409 while something asks for it */
export async function removeTopic(context: Context, topic: string, actor: Actor): Promise<void> {
  const found = (await readVocabulary(context)).topics.find((one) => one.topic === topic);
  if (!found) throw notFound('topic');
  refuseUsed(found.usedBy);
  await context.store.transact(async (tx) => {
    const settings = await tx.house.settingsForUpdate();
    await tx.house.saveSettings({ ...settings, topics: settings.topics.filter((one) => one !== topic) });
    await tx.house.audit(nowOf(context), actor, 'topic: removed', topic);
    await tx.live.touch('settings');
  });
}
