import {
  segmentFields,
  type ChosenPeople,
  type Overlap,
  type SegmentChange,
  type SegmentCount,
  type SegmentPeople,
  type SegmentRow,
  type SegmentUse,
  type SegmentWhy,
} from '@convite/contract';
import {
  eventsIn,
  explainSegment,
  namesItself,
  segmentsIn,
  treeOfSegment,
  type Segment,
  type Tree,
} from '@convite/core';
import { isDuplicate } from '../../store/database';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound, refuseInUse, refuseStale } from '../failure';

/** So many people are looked at in one statement. */
const sliceSize = 50_000;
/** So many cues that use one are named. */
const mostNamed = 50;
/** Of more cues than these, the count follows when their own time comes. */
const mostRecounted = 500;

export async function allSegments({ store }: Context): Promise<SegmentRow[]> {
  const all = await store.segments.all();
  const events = await store.events.findMany(all.flatMap(({ conditions }) => eventsIn(conditions)));
  return all.map(({ id, name, description, conditions, people, countedAt }) => ({
    id,
    name,
    description,
    conditions,
    people,
    countedAt: countedAt?.toISOString() ?? null,
    events: [...new Set(eventsIn(conditions))].flatMap((eventId) => {
      const event = events.get(eventId);
      return event ? [{ id: eventId, title: event.version.facts.title }] : [];
    }),
  }));
}

/** What would miss it. @throws Failure 404 */
export async function useOfSegment({ store }: Context, id: number): Promise<SegmentUse> {
  const all = await store.segments.all();
  if (!all.some((one) => one.id === id)) throw notFound('segment');
  const cueIds = await store.segments.cuesOf(id, mostNamed + 1);
  const cues = await store.cues.findMany(cueIds.slice(0, mostNamed));
  const events = await store.events.findMany(await store.toInvite.eventsWith(id, mostNamed));
  return {
    cues: cueIds.slice(0, mostNamed).flatMap((cueId) => {
      const cue = cues.get(cueId);
      return cue ? [{ id: cueId, name: cue.name, eventId: cue.eventId }] : [];
    }),
    hasMoreCues: cueIds.length > mostNamed,
    digests: (await store.digests.all())
      .filter((one) => namesSegment(one.whom, id))
      .map((one) => ({ id: one.id, name: one.name })),
    segments: all
      .filter(({ conditions }) => segmentsIn(conditions).includes(id))
      .map((one) => ({ id: one.id, name: one.name })),
    events: [...events.values()].map((event) => ({ id: event.id, title: event.version.facts.title })),
  };
}

/** Asks for it, or leaves it out. */
const namesSegment = ({ segments, exceptSegments }: ChosenPeople, id: number): boolean =>
  segments.includes(id) || exceptSegments.includes(id);

/** Keeps a segment. @throws Failure 409 for a name that another has, or where somebody else saved meanwhile */
export async function saveSegment(
  context: Context,
  id: number | null,
  { was, ...fields }: SegmentChange,
  actor: Actor,
): Promise<number> {
  const now = nowOf(context);
  try {
    const saved = await context.store.transact(async (tx) => {
      const known = await tx.segments.known();
      if (id !== null) {
        const before = await tx.segments.findForUpdate(id);
        if (!before) throw notFound('segment');
        refuseStale('segment', segmentFields.parse(before), was);
        if (namesItself(id, fields.conditions, known))
          throw new Failure(
            422,
            'names-itself',
            'This segment would ask whether people are in it. Take that condition out.',
          );
      }
      const gone = segmentsIn(fields.conditions).filter((one) => one > 0 && !known.has(one));
      if (gone.length)
        throw new Failure(422, 'segment-gone', 'A segment that this one names is not there any more. Choose another.');
      const saves = id === null ? await tx.segments.create(fields, actor.name, now) : id;
      if (id !== null) {
        await tx.segments.change(id, fields, actor.name, now);
        for (const cueId of await tx.segments.cuesOf(id, mostRecounted)) await tx.firings.recountCue(cueId);
        for (const digest of await tx.digests.all())
          if (namesSegment(digest.whom, id)) await tx.firings.recountDigest(digest.id);
      }
      await tx.house.audit(now, actor, id === null ? 'segment: made' : 'segment: changed', fields.name);
      return saves;
    });
    await context.store.live.touch('subscribers', 'board');
    return saved;
  } catch (error) {
    if (isDuplicate(error)) throw new Failure(409, 'segment-exists', `There is a segment “${fields.name}” already.`);
    throw error;
  }
}

/** Takes a segment out for good. @throws Failure 409 while something uses it */
export async function removeSegment(context: Context, id: number, actor: Actor): Promise<void> {
  const { store } = context;
  const found = await store.segments.find(id);
  if (!found) throw notFound('segment');
  const { cues, digests, segments, events } = await useOfSegment(context, id);
  const names = [...[...cues, ...digests, ...segments].map(({ name }) => name), ...events.map(({ title }) => title)];
  refuseInUse(names.map((name) => `“${name}”`));
  await store.segments.remove(id);
  await store.house.audit(nowOf(context), actor, 'segment: removed', found.name);
  await store.live.touch('subscribers');
}

/** What is being composed, as a tree of what is so now. */
const treeFor = async ({ store, clock }: Pick<Context, 'store' | 'clock'>, conditions: Segment): Promise<Tree> =>
  treeOfSegment(conditions, await store.segments.known(), clock.now());

/** Those of all people who are in it, page by page; a page ends when it is full, or when so many were looked at. */
export async function peopleOfSegment(
  context: Pick<Context, 'store' | 'clock'>,
  conditions: Segment,
  after: number,
  limit: number,
): Promise<SegmentPeople> {
  const { ids, lookedTo } = await context.store.segments.page(await treeFor(context, conditions), after, limit + 1);
  const shown = ids.slice(0, limit);
  const people = await context.store.subscribers.findMany(shown);
  return {
    rows: shown.flatMap((id) => {
      const one = people.get(id);
      return one ? [{ id, name: one.name, email: one.email, mobile: one.mobile }] : [];
    }),
    next: ids.length > limit ? (shown.at(-1) ?? null) : lookedTo,
  };
}

/** All people, slice by slice: the share that is done with each, and its first and last number. */
async function* slicesOf({
  store,
}: Pick<Context, 'store'>): AsyncGenerator<{ share: number; from: number; to: number }> {
  const slices = Math.max(1, Math.ceil((await store.subscribers.lastId()) / sliceSize));
  for (let slice = 0; slice < slices; slice += 1)
    yield { share: (slice + 1) / slices, from: slice * sliceSize + 1, to: (slice + 1) * sliceSize };
}

/** Counts for somebody who composes. Whoever stops reading stops the counting. */
export async function* countSegment(
  context: Pick<Context, 'store' | 'clock'>,
  conditions: Segment,
): AsyncGenerator<SegmentCount> {
  const tree = await treeFor(context, conditions);
  let sum = { people: 0, byEmail: 0, byText: 0 };
  for await (const { share, from, to } of slicesOf(context)) {
    const more = await context.store.segments.countAmong(tree, from, to);
    sum = { people: sum.people + more.people, byEmail: sum.byEmail + more.byEmail, byText: sum.byText + more.byText };
    yield { share, ...sum };
  }
}

/** How many are in both of two sets, and in one alone. */
export async function* countOverlap(
  context: Pick<Context, 'store' | 'clock'>,
  left: Segment,
  right: Segment,
): AsyncGenerator<Overlap> {
  const [one, other] = [await treeFor(context, left), await treeFor(context, right)];
  let sum = { both: 0, onlyLeft: 0, onlyRight: 0 };
  for await (const { share, from, to } of slicesOf(context)) {
    const more = await context.store.segments.overlapAmong(one, other, from, to);
    sum = {
      both: sum.both + more.both,
      onlyLeft: sum.onlyLeft + more.onlyLeft,
      onlyRight: sum.onlyRight + more.onlyRight,
    };
    yield { share, ...sum };
  }
}

/** Why somebody is in it, or not: part by part. @throws Failure 404 */
export async function whyInSegment(context: Context, conditions: Segment, personId: number): Promise<SegmentWhy> {
  const { store, clock } = context;
  const person = await store.personFacts.of(personId, clock.now());
  if (!person) throw notFound('subscriber');
  const parts = explainSegment(conditions, await store.segments.known(), person, clock.now());
  return { parts: parts.map(({ path, isSo }) => ({ path: [...path], isSo })) };
}

/** Counts the next segment that is due. @returns whether there was one */
export async function countNextSegment(context: Pick<Context, 'store' | 'clock'>): Promise<boolean> {
  const { store, clock } = context;
  const id = await store.segments.takeUncounted();
  if (id === null) return false;
  const begunAt = performance.now();
  const people = await store.segments.count({ kind: 'segment', segments: [id] });
  const before = (await store.segments.find(id))?.people;
  await store.segments.keepCount(id, people, performance.now() - begunAt, new Date(clock.now()));
  if (before !== people) await store.live.touch('subscribers');
  return true;
}
