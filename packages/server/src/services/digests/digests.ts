import { digestFields, type DigestChange, type DigestRow, type IssuePreview } from '@convite/contract';
import { isZone, nextIssues, readWording, visibleState } from '@convite/core';
import type { StoredFiring } from '../../store/firings';
import { nowOf, type Actor, type Context } from '../context';
import { digestComposer } from '../sending/compose-digest';
import { issueContent } from '../sending/expand-firing';
import { notFound, refuseProblems, refuseStale } from '../failure';
import { exampleReader } from '../sending/invite';
import { planDigest } from '../countdown/plan-firings';

export async function listDigests(context: Context): Promise<DigestRow[]> {
  const { store, clock } = context;
  const lists = new Map((await store.lists.all()).map((list) => [list.id, list.name]));
  const segments = new Map((await store.segments.all()).map((segment) => [segment.id, segment.name]));
  return Promise.all(
    (await store.digests.all()).map(async (digest) => {
      const firings = await store.firings.ofDigest(digest.id, clock.now());
      const issues = firings.slice(0, 4).map((firing) => ({
        firingId: firing.id,
        dueAt: new Date(firing.dueMs).toISOString(),
        state: visibleState(firing.state, firing.dueMs, clock.now()),
        ...countsOf(firing),
      }));
      const listName = digest.segmentId === null ? lists.get(digest.listId) : segments.get(digest.segmentId);
      return { ...digest, listName: listName ?? '', issues };
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
  const isListKnown =
    fields.segmentId === null
      ? await context.store.lists.has(fields.listId)
      : (await context.store.segments.find(fields.segmentId)) !== null;
  refuseProblems([
    ...(isZone(fields.zone) ? [] : [{ code: 'unknown-zone', path: 'zone', facts: { zone: fields.zone } } as const]),
    ...(isListKnown ? [] : [{ code: 'no-audience', path: 'listId' } as const]),
    ...readWording(fields.subject, 'subject').problems,
    ...readWording(fields.intro, 'intro').problems,
  ]);
  return context.store.transact(async (tx) => {
    const known = id === null ? null : await tx.digests.findForUpdate(id);
    if (id !== null && !known) throw notFound('digest');
    if (known) refuseStale('digest', digestFields.parse(known), was);
    const digestId = id ?? (await tx.digests.create(fields));
    await tx.digests.update(digestId, fields);
    await tx.firings.deleteUnfiredOfDigest(digestId);
    await planDigest(tx, { id: digestId, ...fields }, context.clock.now());
    await tx.house.audit(nowOf(context), actor, 'digest: saved', fields.name);
    await tx.live.touch('board', 'digests');
    return digestId;
  });
}

/** The next four issues as somebody who asked for every topic would get them. */
export async function previewDigest(context: Context, id: number): Promise<IssuePreview[]> {
  const digest = await context.store.digests.find(id);
  if (!digest) throw notFound('digest');
  const settings = await context.store.house.settings();
  const person = { ...exampleReader, zone: digest.zone };
  const firings = new Map(
    (await context.store.firings.ofDigest(id, context.clock.now())).map((firing) => [firing.dueMs, firing]),
  );
  return Promise.all(
    nextIssues(digest, context.clock.now(), 4).map(async (dueMs) => {
      const content = await issueContent(context.store, digest, dueMs);
      const message = digestComposer(context, settings, content)(person, 0, []);
      return {
        dueAt: new Date(dueMs).toISOString(),
        subject: message?.kind === 'email' ? message.subject : digest.subject,
        html: message?.kind === 'email' ? message.html : null,
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
