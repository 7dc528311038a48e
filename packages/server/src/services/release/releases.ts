import { channelOf } from '../../store/firing-rows';
import type { ReleasePage, ReleaseRow, ReleaseShown } from '@convite/contract';
import type { ReleaseWhat, WaitingRelease } from '../../store/releases';
import { textOf } from '../../store/cues';
import type { StoredFiring } from '../../store/firings';
import type { StoreSubjects } from '../../store/store';
import { checkCue } from '../countdown/cues';
import { previewCue } from '../countdown/preview-cue';
import { kindWords } from '../countdown/kind-words';
import { planCues, planDigest } from '../countdown/plan-firings';
import { previewDigest } from '../digests/digests';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound, refuseProblems } from '../failure';
import { teamTitle } from '../sending/team-text';
import { previewFiring } from './preview-firing';

/** More than anybody reads at once; the others follow as these are read, and that is said. */
const mostShown = 50;

/** What waits for a second member, the first that came. */
export async function listReleases({ store }: Pick<Context, 'store'>, actor: Actor): Promise<ReleasePage> {
  const rows: ReleaseRow[] = [];
  const { asksRelease } = await store.house.settings();
  const all = await store.releases.all(mostShown + 1);
  for (const one of all.slice(0, mostShown)) {
    const about = await aboutOf(store, one);
    // What it was about is gone by now.
    if (!about) continue;
    const { what, ref, by, at } = one;
    rows.push({ what, ref, by, at: at.toISOString(), isOwn: isOwn(one, actor, asksRelease), ...about });
  }
  return { rows, hasMore: all.length > mostShown };
}

type About = Pick<ReleaseRow, 'title' | 'eventId' | 'eventTitle' | 'channel' | 'gets' | 'dueAt'>;

async function aboutOf(store: StoreSubjects, { what, ref, gets }: WaitingRelease): Promise<About | null> {
  const titleOf = async (eventId: number | null): Promise<string> =>
    eventId === null ? '' : ((await store.events.find(eventId))?.version.facts.title ?? '');
  const next = (firings: readonly StoredFiring[]) => {
    const firing = firings.find(({ isExpanded }) => !isExpanded);
    return { gets: firing?.gets ?? null, dueAt: firing ? new Date(firing.dueMs).toISOString() : null };
  };
  if (what === 'cue') {
    const cue = await store.cues.find(ref);
    if (!cue || cue.isRetired) return null;
    const { name: title, eventId, channel } = cue;
    return { title, eventId, eventTitle: await titleOf(eventId), channel, ...next(await store.firings.ofCue(ref)) };
  }
  if (what === 'digest') {
    const digest = await store.digests.find(ref);
    const firings = digest ? await store.firings.ofDigest(ref, 0) : [];
    return digest && { title: digest.name, eventId: null, eventTitle: '', channel: 'email', ...next(firings) };
  }
  const firing = await store.firings.find(ref);
  if (firing?.state !== 'draft' || !firing.content) return null;
  const { document } = firing.content;
  const { eventId, slot, dueMs: atMs } = firing;
  const event = eventId === null ? null : await store.events.find(eventId);
  const title = (await teamTitle(store, document, event && { event, date: slot, atMs })) || kindWords[firing.kind];
  const channel = channelOf(firing);
  return { title, eventId, eventTitle: await titleOf(eventId), channel, gets, dueAt: null };
}

/** Whoever wrote it does not release it, as long as the house asks for a second. */
const isOwn = ({ writtenBy }: WaitingRelease, { memberId }: Actor, asksRelease: boolean): boolean =>
  asksRelease && writtenBy !== null && writtenBy === memberId;

/** As one of its readers would get it. @throws Failure 404 */
export async function showRelease(context: Context, what: ReleaseWhat, ref: number): Promise<ReleaseShown> {
  const { store } = context;
  if (!(await store.releases.find(what, ref))) throw notFound('message that waits');
  if (what === 'cue') {
    const cue = await store.cues.find(ref);
    if (!cue) throw notFound('cue');
    const text = textOf(cue);
    const parts = text ? [cue, text] : [cue];
    const shown = await Promise.all(parts.map((one) => previewCue(context, cue.eventId, one, null)));
    return { messages: shown.map(({ message }) => message) };
  }
  if (what === 'digest') {
    const first = (await previewDigest(context, ref))[0]?.message;
    return { messages: first ? [first] : [] };
  }
  const firing = await store.firings.find(ref);
  if (!firing) throw notFound('message');
  const message = await previewFiring(context, firing);
  return { messages: message ? [message] : [] };
}

/**
 * A second member has read it: it is set, or goes at once.
 * @throws Failure 404, 409 for who wrote it, and for what can go no more; 422 where a cue is no longer whole
 */
export async function release(context: Context, what: ReleaseWhat, ref: number, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const waiting = await tx.releases.find(what, ref);
    if (!waiting) throw notFound('message that waits');
    if (isOwn(waiting, actor, (await tx.house.settings()).asksRelease))
      throw new Failure(409, 'own-words', 'Whoever wrote it does not release it: ask somebody else to read it.');
    await lockOf(tx, what, ref);
    // Somebody saved other words, or released it, in the same moment.
    if (!(await tx.releases.drop(what, ref))) throw notFound('message that waits');
    await followed(context, tx, what, ref);
    if (what === 'firing' && !(await tx.firings.setUnfired(ref, ['draft'], 'set', context.clock.now())))
      throw new Failure(409, 'over', 'It was held back meanwhile.');
    await tx.house.audit(nowOf(context), actor, 'message: released', `${what} ${ref}, written by ${waiting.by}`);
  });
}

/** It does not go: a cue is a draft again, a digest is off, what was to go by hand is stopped. @throws Failure 404 */
export async function holdBack(context: Context, what: ReleaseWhat, ref: number, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    await lockOf(tx, what, ref);
    if (!(await tx.releases.drop(what, ref))) throw notFound('message that waits');
    if (what === 'cue') {
      const cue = await tx.cues.find(ref);
      if (cue) await tx.cues.update(ref, { ...cue, isDraft: true });
    }
    if (what === 'digest') {
      const digest = await tx.digests.find(ref);
      if (digest) await tx.digests.update(ref, { ...digest, isOn: false });
    }
    if (what === 'firing') await tx.firings.stop(ref, actor.name);
    await followed(context, tx, what, ref, true);
    await tx.house.audit(nowOf(context), actor, 'message: held back', `${what} ${ref}`);
  });
}

/** In the order in which saving locks them. */
async function lockOf(tx: StoreSubjects, what: ReleaseWhat, ref: number): Promise<void> {
  if (what === 'digest') await tx.digests.findForUpdate(ref);
  if (what !== 'cue') return;
  const cue = await tx.cues.find(ref);
  if (cue) await tx.events.findForUpdate(cue.eventId);
}

/** What was planned follows. */
async function followed(
  context: Context,
  tx: StoreSubjects,
  what: ReleaseWhat,
  ref: number,
  isHeld = false,
): Promise<void> {
  const nowMs = context.clock.now();
  if (what === 'cue') {
    const cue = await tx.cues.find(ref);
    const event = cue && (await tx.events.find(cue.eventId));
    if (!cue || !event) throw notFound('cue');
    if (!isHeld) refuseProblems(await checkCue(tx, cue, event, nowMs));
    await planCues(tx, event, await tx.cues.ofEvent(event.id), nowMs);
    await tx.live.touch('board', `event:${event.id}`);
  }
  if (what === 'digest') {
    const digest = await tx.digests.find(ref);
    if (!digest) throw notFound('digest');
    await tx.firings.deleteUnfiredOfDigest(ref);
    await planDigest(tx, digest, nowMs);
  }
  if (what !== 'cue') await tx.live.touch('board', 'digests');
}
