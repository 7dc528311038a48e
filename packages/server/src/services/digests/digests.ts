import {
  digestFields,
  noWording,
  sayChosen,
  type DigestChange,
  type DigestFields,
  type DigestRow,
  type IssuePreview,
} from '@convite/contract';
import { isZone, nextIssues, visibleState, type Who } from '@convite/core';
import type { StoredFiring } from '../../store/firings';
import { nowOf, type Actor, type Context } from '../context';
import { digestComposer } from '../sending/compose-digest';
import { settle } from '../sending/settle';
import { askRelease } from '../release/ask-release';
import { asSender } from '../senders/as-sender';
import { shownMessage } from '../sending/shown-message';
import { prepareWording } from '../sending/write-message';
import { whoGetsIssue } from '../sending/as-allowed';
import { digestAudience, issueContent } from '../sending/expand-firing';
import { notFound, refuseProblems, refuseStale } from '../failure';
import { exampleReader } from '../sending/invite';
import { checkHouseWording } from '../countdown/check-wording';
import { standbyMsOf } from '../countdown/standby';
import { planDigest } from '../countdown/plan-firings';

export async function listDigests(context: Context): Promise<DigestRow[]> {
  const { store, clock } = context;
  const lists = new Map((await store.lists.all()).map((list) => [list.id, list.name]));
  const standby = standbyMsOf(await store.house.settings());
  const segments = new Map((await store.segments.all()).map((segment) => [segment.id, segment.name]));
  return Promise.all(
    (await store.digests.all()).map(async (digest) => {
      const firings = await store.firings.ofDigest(digest.id, clock.now());
      const issues = firings.slice(0, 4).map((firing) => ({
        firingId: firing.id,
        dueAt: new Date(firing.dueMs).toISOString(),
        state: visibleState(firing.state, firing.dueMs, clock.now(), standby),
        ...countsOf(firing),
      }));
      return { ...digest, whomSaid: sayChosen(digest.whom, lists, segments), issues };
    }),
  );
}

/** Saves a digest, new when `id` is null, and plans its next issues anew. */
export async function saveDigest(
  context: Context,
  id: number | null,
  { was, ...fields }: DigestChange,
  actor: Actor,
): Promise<number> {
  const { lists, segments, people } = fields.whom;
  const known = new Set((await context.store.segments.all()).map((segment) => segment.id));
  const isGone = (await missingLists(context, lists)) || segments.some((segment) => !known.has(segment));
  refuseProblems([
    ...(isZone(fields.zone) ? [] : [{ code: 'unknown-zone', path: 'zone', facts: { zone: fields.zone } } as const]),
    ...(isGone || lists.length + segments.length + people.length === 0
      ? [{ code: 'no-audience', path: 'whom' } as const]
      : []),
    ...checkHouseWording(fields.wording, 'email').filter(({ path, code }) => path === 'subject' || code !== 'required'),
  ]);
  return context.store.transact(async (tx) => {
    const before = id === null ? null : await tx.digests.findForUpdate(id);
    if (id !== null && !before) throw notFound('digest');
    if (before) refuseStale('digest', digestFields.parse(before), was);
    const digestId = id ?? (await tx.digests.create(fields));
    await tx.digests.update(digestId, fields);
    if (fields.isOn) await askRelease(context, tx, { what: 'digest', ref: digestId }, actor);
    else await tx.releases.drop('digest', digestId);
    await tx.firings.deleteUnfiredOfDigest(digestId);
    await planDigest(tx, { id: digestId, ...fields }, context.clock.now());
    await tx.house.audit(nowOf(context), actor, 'digest: saved', fields.name);
    await tx.live.touch('board', 'digests');
    return digestId;
  });
}

const missingLists = async ({ store }: Context, lists: readonly number[]): Promise<boolean> => {
  const known = new Set((await store.lists.all()).map(({ id }) => id));
  return lists.some((id) => !known.has(id));
};

/** Who gets the next issue of a digest that is being put together. */
export async function whoGetsNextIssue(
  { store, clock }: Context,
  digest: Pick<DigestFields, 'weekday' | 'at' | 'zone' | 'windowDays' | 'whom'>,
): Promise<Who> {
  const [dueMs = clock.now()] = isZone(digest.zone) ? nextIssues(digest, clock.now(), 1) : [];
  const { events } = await issueContent(store, { ...digest, wording: noWording }, dueMs);
  return whoGetsIssue(store, digestAudience(digest, { events }), { id: null, dueMs });
}

/** The next four issues as somebody who asked for every topic would get them. */
export async function previewDigest(context: Context, id: number): Promise<IssuePreview[]> {
  const digest = await context.store.digests.find(id);
  if (!digest) throw notFound('digest');
  const settings = await asSender(context, await context.store.house.settings(), digest.senderId ?? null);
  const person = { ...exampleReader, zone: digest.zone };
  const firings = new Map(
    (await context.store.firings.ofDigest(id, context.clock.now())).map((firing) => [firing.dueMs, firing]),
  );
  return Promise.all(
    nextIssues(digest, context.clock.now(), 4).map(async (dueMs) => {
      const issue = await issueContent(context.store, digest, dueMs);
      const wording = await settle(context, digest.wording, { eventId: null, atMs: dueMs });
      const content = { ...issue, document: wording };
      const message = digestComposer(context, settings, content)(person, 0, []);
      const prepared = prepareWording(context, settings, null, wording);
      return {
        dueAt: new Date(dueMs).toISOString(),
        message:
          message && (await shownMessage(context, message, { settings, wording, facts: null, prepared, person })),
        ...countsOf(firings.get(dueMs)),
        eventCount: content.events.length,
      };
    }),
  );
}

const countsOf = (firing: StoredFiring | undefined): Pick<IssuePreview, 'eventCount' | 'gets' | 'countedAt'> => ({
  eventCount: firing?.eventCount ?? 0,
  gets: firing?.gets ?? 0,
  countedAt: firing?.countedMs ? new Date(firing.countedMs).toISOString() : null,
});
