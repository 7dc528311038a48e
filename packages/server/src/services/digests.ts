import type { DigestFields, DigestRow, IssuePreview } from '@convite/contract';
import { isZone, nextIssues, readWording, visibleState } from '@convite/core';
import { wholeEvent } from '../store/audience-sql';
import type { StoredDigest } from '../store/cues';
import { nowOf, type Actor, type Context } from './context';
import { digestComposer } from './compose-firing';
import { digestAudience, issueContent } from './expand-firing';
import { notFound, refuseProblems } from './failure';
import { exampleReader } from './invite';
import { planDigest } from './plan-firings';

export async function listDigests(context: Context): Promise<DigestRow[]> {
  const { store, clock } = context;
  const lists = new Map((await store.lists.all()).map((list) => [list.id, list.name]));
  return Promise.all(
    (await store.digests.all()).map(async (digest) => {
      const firings = await store.firings.ofDigest(digest.id, clock.now());
      const issues = await Promise.all(
        firings.slice(0, 4).map(async ({ id, dueMs, state }) => {
          const { gets, eventCount } = await measureIssue(context, digest, dueMs);
          return {
            firingId: id,
            dueAt: new Date(dueMs).toISOString(),
            state: visibleState(state, dueMs, clock.now()),
            eventCount,
            gets,
          };
        }),
      );
      return { ...digest, listName: lists.get(digest.listId) ?? '', issues };
    }),
  );
}

/** Saves a digest, new when `id` is null, and plans its next issues anew. */
export async function saveDigest(
  context: Context,
  id: number | null,
  fields: DigestFields,
  actor: Actor,
): Promise<number> {
  const isListKnown = await context.store.lists.has(fields.listId);
  refuseProblems([
    ...(isZone(fields.zone) ? [] : [{ code: 'unknown-zone', path: 'zone', facts: { zone: fields.zone } } as const]),
    ...(isListKnown ? [] : [{ code: 'no-audience', path: 'listId' } as const]),
    ...readWording(fields.subject, 'subject').problems,
    ...readWording(fields.intro, 'intro').problems,
  ]);
  return context.store.transact(async (tx) => {
    if (id !== null && !(await tx.digests.find(id))) throw notFound('digest');
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
  return Promise.all(
    nextIssues(digest, context.clock.now(), 4).map(async (dueMs) => {
      const content = await issueContent(context.store, digest, dueMs);
      const message = digestComposer(context, settings, content)(person, 0, []);
      const { gets, eventCount } = await measureIssue(context, digest, dueMs);
      return {
        dueAt: new Date(dueMs).toISOString(),
        subject: message?.kind === 'email' ? message.subject : digest.subject,
        html: message?.kind === 'email' ? message.html : null,
        eventCount,
        gets,
      };
    }),
  );
}

async function measureIssue(
  { store }: Context,
  digest: StoredDigest,
  dueMs: number,
): Promise<{ eventCount: number; gets: number }> {
  const content = await issueContent(store, digest, dueMs);
  if (content.events.length === 0) return { eventCount: 0, gets: 0 };
  const { gets } = await store.deliveries.countAudience(digestAudience(digest, content), 'email', wholeEvent(null));
  return { eventCount: content.events.length, gets };
}
