import type { Need } from '@convite/contract';
import type { StoredFiring } from '../../store/firings';
import type { Fault } from '../../store/troubles';
import type { Context } from '../context';
import { kindWords } from './kind-words';
import { readTroubles } from '../health';

const dayMs = 86_400_000;
/** So many firings of one kind stand there; when there are more, a line says so. */
const mostOfAKind = 200;
/** Letters are counted no further than this. */
const mostLetters = 200;

/**
 * What a machine cannot settle: what is not there, what cannot be read, drafts due soon, missed firings, and the like.
 * @param isOwner with what only owners are asked
 */
export async function findNeeds(context: Context, isOwner = false): Promise<Need[]> {
  const { store, clock } = context;
  const nowMs = clock.now();
  const weekAgo = new Date(nowMs - 7 * dayMs);
  const firings = await store.firings.wanting(weekAgo.getTime(), nowMs + 7 * dayMs, mostOfAKind);
  const [behind, aside, proposed, letters, imports, tasks] = await Promise.all([
    store.eventTallies.behind(mostOfAKind),
    store.replies.countSetAsideSince(weekAgo),
    store.proposals.countOpen(),
    store.letters.countOpen(mostLetters),
    store.peopleImports.stopped(),
    store.tasks.open(mostOfAKind),
  ]);
  const events = await store.events.findMany(
    [...firings, ...behind, ...aside, ...proposed, ...letters].flatMap(({ eventId }) => eventId ?? []),
  );
  const titleOf = (eventId: number | null): string => events.get(eventId ?? 0)?.version.facts.title ?? '';
  const names = await store.cues.names(firings.flatMap(({ cueId }) => (cueId === null ? [] : [cueId])));
  const releases = await store.releases.all(mostOfAKind);
  const waiting = new Set(releases.flatMap(({ what, ref }) => (what === 'cue' ? [ref] : [])));
  const needs: Need[] = [
    ...(await readTroubles(store)).map(({ text }) => need('trouble', { title: text })),
    ...(await store.troubles.faults()).map((fault) => need('fault', { title: sayFault(fault), at: fault.firstAt })),
  ];
  if (releases[0])
    needs.push(
      need('release', {
        title: releases.length < mostOfAKind ? '' : 'or more',
        count: releases.length,
        at: releases[0].at,
      }),
    );
  for (const firing of firings) {
    const { eventId } = firing;
    const at = new Date(firing.dueMs);
    const title = [names.get(firing.cueId ?? 0), titleOf(eventId)].filter(Boolean).join(' · ');
    // What waits for a second member is named as that.
    if (firing.state === 'draft' && firing.kind === 'cue' && !waiting.has(firing.cueId ?? 0))
      needs.push(need('draft-due', { eventId, title, at }));
    const { noJoinLink } = firing.doubts;
    if (noJoinLink && !firing.isExpanded) needs.push(need('no-join-link', { eventId, title, count: noJoinLink, at }));
    // Of an event that was called off nothing may go any more, so nobody is asked.
    if (firing.state === 'missed' && events.get(eventId ?? 0)?.status !== 'called-off')
      needs.push(need('missed', { eventId, title, at }));
  }
  if (firings.length >= mostOfAKind)
    needs.push(
      need('missed', { title: `and more: the first ${mostOfAKind} of each kind are named`, count: firings.length }),
    );
  needs.push(...failuresOf(firings, titleOf, new Map((await store.digests.all()).map(({ id, name }) => [id, name]))));
  for (const { eventId, count } of behind) needs.push(need('old-version', { eventId, title: titleOf(eventId), count }));
  for (const { eventId, count } of aside)
    needs.push(need('set-aside', { eventId, title: titleOf(eventId) || 'no event of ours', count }));
  for (const { eventId, count } of proposed) needs.push(need('proposal', { eventId, title: titleOf(eventId), count }));
  for (const { eventId, count } of letters)
    needs.push(need('letter', { eventId, title: titleOf(eventId) || 'no event of ours', count }));
  for (const { id, eventId, memberName, text, at } of tasks)
    needs.push({ ...need('task', { eventId, title: `${memberName}: ${text}`, at }), taskId: id });
  if (tasks.length >= mostOfAKind)
    needs.push(need('task', { title: `and more: the oldest ${mostOfAKind} are named`, count: tasks.length }));
  for (const { name } of imports) needs.push(need('import-stopped', { title: name }));
  for (const watch of await store.watches.all())
    if (watch.isOn && watch.isFailing) needs.push(need('watch-failing', { title: watch.name }));
  for (const { name, failingSince } of await store.webhooks.all())
    if (failingSince) needs.push(need('webhook-failing', { title: name, at: failingSince }));
  const bounced = await store.refusals.countBouncedSince(weekAgo, mostCounted);
  const since = `${bounced < mostCounted ? '' : 'or more, '}in the last seven days`;
  if (bounced) needs.push(need('bounced', { title: since, count: bounced }));
  const misuses = isOwner ? await store.linkEndings.countMisuses(mostCounted) : 0;
  if (misuses) needs.push(need('misuse', { title: 'before this version, see Settings', count: misuses }));
  const reported = await store.refusals.countReported(new Date(nowMs - dayMs), mostCounted);
  if (reported >= leastReported)
    needs.push(need('refusal-reports', { title: 'by delivery reports of the last 24 hours', count: reported }));
  return needs;
}

/** One or two people’s reports say nothing of the sender. */
const leastReported = 10;

function need(
  kind: Need['kind'],
  more: { eventId?: number | null; firingId?: number; title: string; count?: number; at?: Date },
): Need {
  const { eventId = null, firingId = null, title, count = 1, at } = more;
  return { kind, eventId, firingId, taskId: null, title, count, at: at?.toISOString() ?? null };
}

/** Counting further would look at more than anybody reads. */
const mostCounted = 1000;

const faultWords: Readonly<Record<Fault['kind'], string>> = {
  event: 'Event',
  firing: 'Sending',
  cue: 'Cue',
  digest: 'Digest',
  watch: 'Watched calendar',
  delivery: 'Message',
  segment: 'Segment',
  form: 'Sign-up form',
  import: 'Import',
  wording: 'Wording',
};
const sayFault = ({ kind, ref, text }: Fault): string => `${faultWords[kind]} no. ${ref} cannot be read: ${text}`;

/** Deliveries that failed, together for each event or digest, with when the last of its firings was due. */
function failuresOf(
  firings: readonly StoredFiring[],
  titleOf: (eventId: number | null) => string,
  digestNames: ReadonlyMap<number, string>,
): Need[] {
  const needs = new Map<string, Need>();
  for (const { id, eventId, digestId, failed, dueMs, state, note, title: ofMessage } of firings) {
    const count = failed || (state === 'failed' ? 1 : 0);
    if (count === 0) continue;
    const title = titleOf(eventId) || (digestNames.get(digestId ?? 0) ?? (ofMessage || kindWords.manual));
    const key = `${eventId} ${digestId}`;
    const before = needs.get(key)?.count ?? 0;
    const said = failed === 0 && note ? `${title}: ${note}` : title;
    needs.set(key, need('failed', { eventId, firingId: id, title: said, count: before + count, at: new Date(dueMs) }));
  }
  return [...needs.values()];
}
