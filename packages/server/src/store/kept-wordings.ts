import type { Knex } from 'knex';
import { keptFields, type KeptFields } from '@convite/contract';
import type { WordingDocument } from '@convite/core';
import { readEach } from './per-row';
import { documentOf, usesOf, wordingStore, type WordingRef, type WordingUses } from './wordings';

/** A kept wording as the house has it. */
export interface Kept extends KeptFields {
  readonly key: string;
  readonly version: number;
  readonly isArchived: boolean;
  readonly changedAt: Date;
  readonly changedBy: string;
}

interface KeptDbRow {
  readonly id: number;
  readonly wording_key: string;
  readonly name: string;
  readonly purpose: string;
  readonly channel: string;
  readonly wording_id: number;
  readonly wording_version: number;
  readonly is_archived: number;
  readonly changed_at: Date;
  readonly changed_by: string;
  readonly document: unknown;
}

/** Messages kept to be used again. Those that come with Convite stand here only once the house says them otherwise. */
export function keptWordingStore(db: Knex) {
  const wordings = wordingStore(db);
  const rows = (): Knex.QueryBuilder =>
    db('kept_wording as k')
      .join('wording as w', (on) => on.on('w.id', 'k.wording_id').andOn('w.version', 'k.wording_version'))
      .select('k.*', { id: 'k.wording_id' }, 'w.document');
  const read = async (query: Knex.QueryBuilder): Promise<Kept[]> => readEach(db, 'wording', await query, keptOf);
  return {
    /** All of them: a house keeps some dozens, and is not let beyond some hundreds. */
    all: (): Promise<Kept[]> => read(rows().orderBy('k.wording_key')),
    async find(key: string): Promise<Kept | null> {
      return (await read(rows().where('k.wording_key', key)))[0] ?? null;
    },
    async findMany(keys: readonly string[]): Promise<Kept[]> {
      return read(rows().whereIn('k.wording_key', [...keys]));
    },
    /** The same, which nobody else changes until the transaction ends. */
    async findForUpdate(key: string): Promise<Kept | null> {
      await db('kept_wording').where({ wording_key: key }).forUpdate().first('wording_key');
      return this.find(key);
    },
    async count(): Promise<number> {
      return Number((await db('kept_wording').count({ count: '*' }).first())?.['count'] ?? 0);
    },
    /** Keeps what nobody keeps yet. @returns whether it is kept; not where somebody else did meanwhile */
    async add(key: string, fields: KeptFields, by: string, at: Date): Promise<boolean> {
      const { name, purpose, channel, wording } = fields;
      const { wording_id, wording_version } = await wordings.create('kept', wording, by);
      const [result]: { affectedRows: number }[] = await db.raw(
        `insert ignore into kept_wording (wording_key, name, purpose, channel, wording_id, wording_version, changed_at, changed_by)
         values (?, ?, ?, ?, ?, ?, ?, ?)`,
        [key, name, purpose, channel, wording_id, wording_version, at, by],
      );
      return (result?.affectedRows ?? 0) > 0;
    },
    /** Keeps it as a version beside those before. */
    async change(key: string, fields: KeptFields, by: string, at: Date): Promise<void> {
      const before: WordingRef | undefined = await db('kept_wording')
        .where({ wording_key: key })
        .first('wording_id', 'wording_version');
      if (!before) return;
      const { name, purpose, channel, wording } = fields;
      const ref = await wordings.save(before, 'kept', wording, by);
      await db('kept_wording')
        .where({ wording_key: key })
        .update({ name, purpose, channel, ...ref, changed_at: at, changed_by: by });
    },
    /** Its versions stay, as what went out may name them. */
    async remove(key: string): Promise<boolean> {
      return (await db('kept_wording').where({ wording_key: key }).delete()) > 0;
    },
    async archive(key: string, isArchived: boolean): Promise<boolean> {
      return (await db('kept_wording').where({ wording_key: key }).update({ is_archived: isArchived })) > 0;
    },
    /** The newest first. @param most so many */
    async versions(key: string, most: number): Promise<{ number: number; at: Date; by: string }[]> {
      const found: { version: number; created_at: Date; by_name: string }[] = await db('kept_wording as k')
        .join('wording as w', 'w.id', 'k.wording_id')
        .where('k.wording_key', key)
        .orderBy('w.version', 'desc')
        .limit(most)
        .select('w.version', 'w.created_at', 'w.by_name');
      return found.map(({ version, created_at, by_name }) => ({ number: version, at: created_at, by: by_name }));
    },
    async version(key: string, number: number): Promise<WordingDocument | null> {
      const row: { document: unknown } | undefined = await db('kept_wording as k')
        .join('wording as w', 'w.id', 'k.wording_id')
        .where({ 'k.wording_key': key, 'w.version': number })
        .first('w.document');
      return row ? documentOf(row.document) : null;
    },
    /** When each was last begun from, by its key. Reads the last of each from the index. */
    async lastUsed(): Promise<Map<string, Date>> {
      const found: { from_key: string; at: Date }[] = await db('wording')
        .whereNotNull('from_key')
        .groupBy('from_key')
        .select('from_key')
        .max({ at: 'created_at' });
      return new Map(found.map(({ from_key, at }) => [from_key, at]));
    },
    /** What says one of the house's blocks now, so many of each kind. */
    saidIn: (key: string, most: number): Promise<WordingUses> => usesOf(db, 'block_use', { block_key: key }, most),
    /** Cues whose words were begun from it, the newest first. */
    async usedBy(key: string, most: number): Promise<{ cueId: number; name: string; eventId: number }[]> {
      return db('wording as w')
        .join('cue as c', (on) => on.on('c.wording_id', 'w.id').andOn('c.wording_version', 'w.version'))
        .where({ 'w.from_key': key, 'c.is_retired': false })
        .orderBy('w.created_at', 'desc')
        .limit(most)
        .select({ cueId: 'c.id', name: 'c.name', eventId: 'c.event_id' });
    },
  };
}

const keptOf = (row: KeptDbRow): Kept => ({
  key: row.wording_key,
  version: row.wording_version,
  isArchived: Boolean(row.is_archived),
  changedAt: row.changed_at,
  changedBy: row.changed_by,
  ...keptFields.parse({
    name: row.name,
    purpose: row.purpose,
    channel: row.channel,
    wording: documentOf(row.document),
  }),
});
