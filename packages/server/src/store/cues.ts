import { goesByZones } from '@convite/core';
import type { Knex } from 'knex';
import { cueFields, digestFields, type CueFields, type DigestFields } from '@convite/contract';
import { readJson } from './database';
import { readEach, readOne } from './per-row';

export interface StoredCue extends CueFields {
  readonly id: number;
  /** Removed after it fired: nothing more is planned. */
  readonly isRetired: boolean;
  readonly eventId: number;
}
export interface StoredDigest extends DigestFields {
  readonly id: number;
}

export function cueStore(db: Knex) {
  const rowOf = (fields: CueFields) => ({
    name: fields.name,
    channel: fields.channel,
    moment: JSON.stringify(fields.moment),
    audience: JSON.stringify(fields.audience),
    subject: fields.subject,
    body: fields.body,
    is_draft: fields.isDraft,
    goes_on: fields.moment.kind === 'own-date' || goesByZones(fields.moment),
  });
  /** Which lists it asks for or leaves out; one that is gone by now counts for nothing. */
  const noteLists = async (cueId: number, { audience: { lists, exceptLists } }: CueFields): Promise<void> => {
    await db.raw(
      `insert ignore into cue_list (list_id, cue_id) select id, ? from list where id in (${[0, ...lists, ...exceptLists].map(() => '?').join(', ')})`,
      [cueId, 0, ...lists, ...exceptLists],
    );
  };
  return {
    async ofEvent(eventId: number): Promise<StoredCue[]> {
      const rows: CueRow[] = await db('cue').where({ event_id: eventId }).orderBy('id');
      return readEach(db, 'cue', rows, cueOf);
    },
    async find(id: number): Promise<StoredCue | null> {
      const row: CueRow | undefined = await db('cue').where({ id }).first();
      return row ? readOne(db, 'cue', row, cueOf) : null;
    },
    async findMany(ids: readonly number[]): Promise<Map<number, StoredCue>> {
      const rows: CueRow[] = await db('cue').whereIn('id', [...new Set(ids)]);
      return new Map(readEach(db, 'cue', rows, cueOf).map((cue) => [cue.id, cue]));
    },
    async create(eventId: number, fields: CueFields): Promise<number> {
      const [id] = await db('cue').insert({ event_id: eventId, ...rowOf(fields) });
      await noteLists(Number(id), fields);
      return Number(id);
    },
    async update(id: number, fields: CueFields): Promise<void> {
      await db('cue').where({ id }).update(rowOf(fields));
      await db('cue_list').where({ cue_id: id }).delete();
      await noteLists(id, fields);
    },
    async retire(id: number): Promise<void> {
      await db('cue').where({ id }).update({ is_retired: true });
    },
    async remove(id: number): Promise<void> {
      await db('cue').where({ id }).delete();
    },
    async names(ids: readonly number[]): Promise<Map<number, string>> {
      const rows: { id: number; name: string }[] = await db('cue')
        .whereIn('id', [...ids])
        .select('id', 'name');
      return new Map(rows.map((row) => [row.id, row.name]));
    },
  };
}

export function digestStore(db: Knex) {
  return {
    async all(): Promise<StoredDigest[]> {
      const rows: { id: number; fields: unknown }[] = await db('digest').orderBy('id');
      return readEach(db, 'digest', rows, digestOf);
    },
    async find(id: number): Promise<StoredDigest | null> {
      const row: { id: number; fields: unknown } | undefined = await db('digest').where({ id }).first();
      return row ? readOne(db, 'digest', row, digestOf) : null;
    },
    async create(fields: DigestFields): Promise<number> {
      const [id] = await db('digest').insert({ fields: JSON.stringify(fields) });
      return Number(id);
    },
    async update(id: number, fields: DigestFields): Promise<void> {
      await db('digest')
        .where({ id })
        .update({ fields: JSON.stringify(fields) });
    },
  };
}

const digestOf = (row: { id: number; fields: unknown }): StoredDigest => ({
  id: row.id,
  ...digestFields.parse(readJson(row.fields)),
});

interface CueRow {
  id: number;
  event_id: number;
  name: string;
  channel: string;
  moment: unknown;
  audience: unknown;
  subject: string;
  body: string;
  is_draft: number;
  is_retired: number;
}
const cueOf = (row: CueRow): StoredCue => ({
  id: row.id,
  eventId: row.event_id,
  isRetired: Boolean(row.is_retired),
  ...cueFields.parse({
    name: row.name,
    channel: row.channel,
    moment: readJson(row.moment),
    audience: readJson(row.audience),
    subject: row.subject,
    body: row.body,
    isDraft: Boolean(row.is_draft),
  }),
});
