import { randomUUID } from 'node:crypto';
import {
  noneCame,
  type Came,
  type HouseBlock,
  type KeptChange,
  type KeptFields,
  type KeptRow,
  type KeptWording,
} from '@convite/contract';
import { isSame, plainTextOf, versionsOf, type WordingDocument } from '@convite/core';
import type { Kept } from '../../store/kept-wordings';
import { checkBlocks, checkWording } from '../countdown/check-wording';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound, refuseProblems, refuseStale } from '../failure';
import { findShipped, shipped, type Shipped } from './shipped';

/** More than a team finds its way in. */
const mostKept = 500;
const mostVersions = 20;
const mostUses = 10;
const mostSaid = 120;

/** Every wording that is kept: those that come with Convite in their order, then the house's own by name. */
export async function listWordings({ store }: Pick<Context, 'store'>): Promise<KeptRow[]> {
  const [kept, used, came] = await Promise.all([
    store.keptWordings.all(),
    store.keptWordings.lastUsed(),
    store.cameOf.ofWordings(),
  ]);
  const byKey = new Map(kept.map((one) => [one.key, one]));
  const own = kept
    .filter(({ key }) => findShipped(key) === null)
    .sort((one, other) => one.name.localeCompare(other.name));
  return [
    ...shipped.map((one) => rowOf(one.key, one, byKey.get(one.key) ?? null, { used, came })),
    ...own.map((one) => rowOf(one.key, null, one, { used, came })),
  ];
}

/** One of them, with its versions and what was begun from it. @throws Failure 404 */
export async function findWording({ store }: Pick<Context, 'store'>, key: string): Promise<KeptWording> {
  const [original, kept] = [findShipped(key), await store.keptWordings.find(key)];
  const said = kept ?? original;
  if (!said) throw notFound('wording');
  const [versions, used, came, begun, saidIn] = await Promise.all([
    store.keptWordings.versions(key, mostVersions),
    store.keptWordings.lastUsed(),
    store.cameOf.ofWordings(),
    store.keptWordings.usedBy(key, mostUses + 1),
    store.keptWordings.saidIn(key, mostUses + 1),
  ]);
  const usedBy = [...begun, ...saidIn.cues.map(({ id, ...use }) => ({ cueId: id, ...use }))];
  const alsoIn = [...saidIn.digests, ...saidIn.wordings].map(({ name }) => name);
  const events = await store.events.findMany(usedBy.map(({ eventId }) => eventId));
  return {
    ...rowOf(key, original, kept, { used, came }),
    version: kept?.version ?? 0,
    wording: said.wording,
    original: original?.wording ?? null,
    versions: versions.map(({ number, at, by }) => ({ number, at: at.toISOString(), by })),
    usedBy: usedBy.slice(0, mostUses).map((use) => ({
      ...use,
      eventTitle: events.get(use.eventId)?.version.facts.title ?? '',
    })),
    alsoIn: alsoIn.slice(0, mostUses),
    hasMoreUses: usedBy.length > mostUses || alsoIn.length > mostUses,
  };
}

/** Blocks of the house that stand in many messages, by name. */
export async function listBlocks({ store }: Pick<Context, 'store'>): Promise<HouseBlock[]> {
  return (await store.keptWordings.all())
    .filter(({ purpose, isArchived }) => purpose === 'block' && !isArchived)
    .map(({ key, name }) => ({ key, name }))
    .sort((one, other) => one.name.localeCompare(other.name));
}

function rowOf(
  key: string,
  original: Shipped | null,
  kept: Kept | null,
  { used, came }: { readonly used: ReadonlyMap<string, Date>; readonly came: ReadonlyMap<string, Came> },
): KeptRow {
  const { name = '', purpose = 'other', channel = 'email', wording } = kept ?? original ?? {};
  return {
    key,
    name,
    purpose,
    channel,
    says: wording ? wording.subject || plainTextOf(wording).slice(0, mostSaid) : '',
    goes: original?.goes ?? '',
    languages: wording ? versionsOf(wording).flatMap(({ language }) => language ?? []) : [],
    isShipped: original !== null,
    isChanged: original !== null && kept !== null && !isSame(kept.wording, original.wording),
    isArchived: kept?.isArchived ?? false,
    changedAt: kept?.changedAt.toISOString() ?? null,
    changedBy: kept?.changedBy ?? '',
    usedAt: used.get(key)?.toISOString() ?? null,
    came: came.get(key) ?? noneCame,
  };
}

/** A version of one, as it was. @throws Failure 404 */
export async function readVersion({ store }: Context, key: string, number: number): Promise<WordingDocument> {
  const document = number === 0 ? findShipped(key)?.wording : await store.keptWordings.version(key, number);
  if (!document) throw notFound('version');
  return document;
}

/**
 * Keeps a wording: a new one, another version, or the house's own words for one that comes with Convite. What goes by itself must
 * be whole. @returns its key @throws Failure 409 where somebody saved meanwhile, 422 with problems
 */
export async function keepWording(
  context: Context,
  key: string | null,
  { was, ...fields }: KeptChange,
  actor: Actor,
): Promise<string> {
  const original = key === null ? null : findShipped(key);
  const said = original ? { ...fields, purpose: original.purpose, channel: original.channel } : fields;
  refuseProblems(said.purpose === 'block' ? checkBlocks(said.wording) : checkWording(said.wording, said.channel));
  const at = key ?? `own-${randomUUID()}`;
  await context.store.transact(async (tx) => {
    const before = key === null ? null : await tx.keptWordings.findForUpdate(key);
    if (key !== null && !before && !original) throw notFound('wording');
    const stored = before ?? original;
    if (stored) refuseStale('wording', fieldsOf(stored), was && fieldsOf(was));
    if (!before && (await tx.keptWordings.count()) >= mostKept)
      throw new Failure(409, 'too-many', `A house keeps at most ${mostKept} wordings. Take out some that nobody uses.`);
    // What it was begun from says nothing of a wording that is begun from itself.
    const { from: _from, ...wording } = said.wording;
    const words = { ...said, wording };
    if (before) await tx.keptWordings.change(at, words, actor.name, nowOf(context));
    else if (!(await tx.keptWordings.add(at, words, actor.name, nowOf(context)))) refuseStale('wording', words, {});
    await tx.house.audit(nowOf(context), actor, 'wording: kept', said.name);
    await tx.live.touch('wordings');
  });
  return at;
}

const fieldsOf = ({ name, purpose, channel, wording }: KeptFields): KeptFields => ({ name, purpose, channel, wording });

/** One that comes with Convite says again what it came with; one of the house's own is taken out. @throws Failure 404 */
export async function dropWording(context: Context, key: string, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const before = await tx.keptWordings.find(key);
    if (!before || !(await tx.keptWordings.remove(key))) throw notFound('wording');
    const what = findShipped(key) ? 'wording: back to the original' : 'wording: taken out';
    await tx.house.audit(nowOf(context), actor, what, before.name);
    await tx.live.touch('wordings');
  });
}

/** Sets one of the house's own aside, or takes it up again: it is offered to nobody meanwhile. @throws Failure 404 */
export async function archiveWording(context: Context, key: string, isArchived: boolean, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const before = await tx.keptWordings.find(key);
    if (!before || findShipped(key)) throw notFound('wording of the house’s own');
    await tx.keptWordings.archive(key, isArchived);
    await tx.house.audit(
      nowOf(context),
      actor,
      isArchived ? 'wording: archived' : 'wording: taken up again',
      before.name,
    );
    await tx.live.touch('wordings');
  });
}
