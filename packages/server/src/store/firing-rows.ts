import type { Knex } from 'knex';
import type { FiringKind } from '@convite/contract';
import { heldCodes, type Channel, type Lane, type HeldCode, type StoredFiringState } from '@convite/core';
import { content, type Content } from './content';
import { readJson } from './database';
import type { CountedDoubts } from './firing-counts';

export interface StoredFiring {
  readonly id: number;
  readonly kind: FiringKind;
  readonly eventId: number | null;
  readonly cueId: number | null;
  readonly digestId: number | null;
  /** Key of the date, or of the own time, that it is for; empty for the whole event. */
  readonly slot: string;
  /** The zone of the people it is for, where its cue goes by each person's clock; else empty. */
  readonly zone: string;
  readonly channel: Lane;
  readonly dueMs: number;
  readonly state: StoredFiringState;
  readonly note: string;
  /** Of a message by hand; empty for what is called otherwise. */
  readonly title: string;
  /** Why it does not go, or did not; who stopped it, where somebody did. */
  readonly held: HeldCode | null;
  readonly heldBy: string;
  readonly content: Content | null;
  readonly isExpanded: boolean;
  /** How many are to get it as counted last, and when that was; null while it was not counted. */
  readonly gets: number | null;
  readonly countedMs: number | null;
  /** Of them, as counted with them. */
  readonly doubts: CountedDoubts;
  /** Of a digest's issue: how many dates are in it, as counted last. */
  readonly eventCount: number;
  readonly planned: number;
  readonly sent: number;
  readonly failed: number;
  readonly skipped: number;
}

export interface FiringRow {
  id: number;
  kind: FiringKind;
  event_id: number | null;
  cue_id: number | null;
  digest_id: number | null;
  slot: string;
  zone: string;
  channel: Lane;
  due_at: Date;
  state: StoredFiringState;
  note: string;
  title: string;
  held: string | null;
  held_by: string;
  content: unknown;
  is_expanded: number;
  gets: number | null;
  in_quiet: number | null;
  over_limit: number | null;
  nameless: number | null;
  no_join_link: number | null;
  counted_at: Date | null;
  event_count: number;
  planned: number;
  sent: number;
  failed: number;
  skipped: number;
}

const columns = [
  'id',
  'kind',
  'event_id',
  'cue_id',
  'digest_id',
  'slot',
  'zone',
  'channel',
  'due_at',
  'state',
  'note',
  'title',
  'held',
  'held_by',
  'is_expanded',
  'gets',
  'in_quiet',
  'over_limit',
  'nameless',
  'no_join_link',
  'counted_at',
  'event_count',
  'planned',
  'sent',
  'failed',
  'skipped',
] as const satisfies readonly (keyof FiringRow)[];

/** The channel of a firing that writes to people. @throws Error for one that does something instead (bad use) */
export function channelOf({ id, channel }: Pick<StoredFiring, 'id' | 'channel'>): Channel {
  if (channel === 'act') throw new Error(`firing ${id} writes to nobody`);
  return channel;
}

/** Reads some firings. What they say is read with one of them, not with many. */
export async function manyFirings(query: Knex.QueryBuilder): Promise<StoredFiring[]> {
  const rows = (await query.select(...columns)) as Omit<FiringRow, 'content'>[];
  return rows.map((row) => firingOf({ ...row, content: null }));
}

export const firingOf = (row: FiringRow): StoredFiring => ({
  id: row.id,
  kind: row.kind,
  eventId: row.event_id,
  cueId: row.cue_id,
  digestId: row.digest_id,
  slot: row.slot,
  zone: row.zone,
  channel: row.channel,
  dueMs: row.due_at.getTime(),
  state: row.state,
  note: row.note,
  title: row.title,
  held: heldCodes.find((code) => code === row.held) ?? null,
  heldBy: row.held_by,
  content: row.content === null ? null : content.parse(readJson(row.content)),
  isExpanded: Boolean(row.is_expanded),
  gets: row.gets,
  countedMs: row.counted_at?.getTime() ?? null,
  doubts: { inQuiet: row.in_quiet, overLimit: row.over_limit, nameless: row.nameless, noJoinLink: row.no_join_link },
  eventCount: row.event_count,
  planned: row.planned,
  sent: row.sent,
  failed: row.failed,
  skipped: row.skipped,
});

/** A cue by email, and the text that goes with it, where it has one. */
export async function withItsText(db: Knex, cueId: number): Promise<number[]> {
  const texts: number[] = await db('cue').where({ text_of_id: cueId }).pluck('id');
  return [cueId, ...texts];
}
