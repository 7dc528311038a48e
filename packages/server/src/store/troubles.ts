import type { Knex } from 'knex';
import type { Channel } from '@convite/core';
import { affectedRows } from './database';

/** What of ours cannot be read or done: one thing each, told where a person sees it. */
export type FaultKind =
  'event' | 'firing' | 'cue' | 'digest' | 'watch' | 'delivery' | 'segment' | 'form' | 'import' | 'wording';
export interface Fault {
  readonly kind: FaultKind;
  /** Its number. */
  readonly ref: string;
  readonly text: string;
  readonly firstAt: Date;
}

/** Parts that Convite depends on; each process reports what it sees of them. */
export type Part = 'mail-server' | 'text-gateway' | 'inbound' | 'clock' | 'worker';
export interface Report {
  readonly part: Part;
  readonly isOk: boolean;
  readonly text: string;
}

/** Faults are told again as long as they are met; one that was not met for so long is mended. */
const faultSeconds = 600;
/** A report older than this says nothing any more. */
const reportSeconds = 25;

/** Faults, and what processes report of what they depend on. All on real time. */
export function troubleStore(db: Knex) {
  return {
    async tellFault(kind: FaultKind, ref: number, text: string): Promise<void> {
      await db.raw(
        `insert into fault (kind, ref, text, first_at, seen_at) values (?, ?, ?, now(3), now(3))
         on duplicate key update text = values(text), seen_at = values(seen_at)`,
        [kind, String(ref), text.slice(0, 500)],
      );
    },
    async faults(): Promise<Fault[]> {
      const rows: { kind: FaultKind; ref: string; text: string; first_at: Date }[] = await db('fault')
        .whereRaw('seen_at > now(3) - interval ? second', [faultSeconds])
        .orderBy('seen_at', 'desc')
        .limit(100);
      return rows.map(({ kind, ref, text, first_at }) => ({ kind, ref, text, firstAt: first_at }));
    },
    async forgetFaults(): Promise<void> {
      await db('fault').whereRaw('seen_at < now(3) - interval 1 day').limit(1000).delete();
    },

    async report(reporter: string, { part, isOk, text }: Report): Promise<void> {
      await db.raw(
        `insert into health (part, reporter, is_ok, text, seen_at) values (?, ?, ?, ?, now(3))
         on duplicate key update is_ok = values(is_ok), text = values(text), seen_at = values(seen_at)`,
        [part, reporter, isOk, text.slice(0, 500)],
      );
    },
    /** What processes that are alive say now, good and bad. */
    async reports(): Promise<Report[]> {
      const rows: { part: Part; is_ok: number; text: string }[] = await db('health')
        .whereRaw('seen_at > now(3) - interval ? second', [reportSeconds])
        .orderBy('part')
        .select('part', 'is_ok', 'text');
      return rows.map(({ part, is_ok, text }) => ({ part, isOk: Boolean(is_ok), text }));
    },
    async forgetReports(): Promise<void> {
      await db('health').whereRaw('seen_at < now(3) - interval 1 hour').delete();
    },
    /** The database's own clock, in epoch milliseconds. */
    async databaseNowMs(): Promise<number> {
      const [rows = []]: { at: Date }[][] = await db.raw('select now(3) as at');
      return rows[0]?.at.getTime() ?? 0;
    },

    /** A channel that stands still because the world refuses what it sends, or somebody holds it; a person lets it go on. */
    async pause(channel: Channel, text: string, heldBy: string | null = null): Promise<boolean> {
      const result: unknown = await db.raw(
        'insert ignore into pause (channel, text, held_by, since) values (?, ?, ?, now(3))',
        [channel, text.slice(0, 500), heldBy],
      );
      return affectedRows(result) > 0;
    },
    async resume(channel: Channel): Promise<boolean> {
      return (await db('pause').where({ channel }).delete()) > 0;
    },
    async pauses(): Promise<{ channel: Channel; text: string; heldBy: string | null; since: Date }[]> {
      return db('pause').select('channel', 'text', { heldBy: 'held_by' }, 'since');
    },
  };
}
