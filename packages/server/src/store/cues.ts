import { goesByWorkdays, goesByZones } from '@convite/core';
import type { Knex } from 'knex';
import * as z from 'zod';
import { cueFields, digestFields, type CueFields, type DigestFields } from '@convite/contract';
import { readJson } from './database';
import { readEach, readOne } from './per-row';
import { atOnce } from './firing-counts';
import { documentOf, withWording, wordingStore, type WordingRef } from './wordings';

export interface StoredCue extends CueFields {
  readonly id: number;
  /** Removed after it fired: nothing more is planned. */
  readonly isRetired: boolean;
  readonly eventId: number;
  /** The cue by email that it is the text of: it has its moment, its people and its name. Null for one of its own. */
  readonly textOf: number | null;
}
export interface StoredDigest extends DigestFields {
  readonly id: number;
}

/** Not the text of another. */
export const isOwnCue = ({ isRetired, textOf }: StoredCue): boolean => !isRetired && textOf === null;

/** What the text of a cue by email is, as a cue. */
export function textOf({ textWording, ...fields }: CueFields): CueFields | null {
  if (!textWording) return null;
  const { exceptTextable: _, ...audience } = fields.audience;
  return { ...fields, channel: 'text', wording: textWording, audience };
}

export function cueStore(db: Knex) {
  const rowOf = (fields: CueFields) => ({
    name: fields.name,
    channel: fields.channel,
    act: fields.act ? JSON.stringify(fields.act) : null,
    moment: JSON.stringify(fields.moment),
    audience: JSON.stringify(fields.audience),
    is_draft: fields.isDraft,
    late_hours: fields.lateHours ?? 0,
    in_thread: fields.inThread ?? false,
    steps_look_at: fields.moment.kind === 'step' ? atOnce : null,
    steps_seen_at: null,
    goes_on: fields.moment.kind === 'own-date' || goesByZones(fields.moment) || goesByWorkdays(fields.moment),
  });
  /** Which lists it asks for or leaves out; one that is gone by now counts for nothing. */
  const noteLists = async (cueId: number, { audience: { lists, exceptLists } }: CueFields): Promise<void> => {
    await db.raw(
      `insert ignore into cue_list (list_id, cue_id) select id, ? from list where id in (${[0, ...lists, ...exceptLists].map(() => '?').join(', ')})`,
      [cueId, 0, ...lists, ...exceptLists],
    );
  };
  /** The same of segments. */
  const noteSegments = async (cueId: number, { audience }: CueFields): Promise<void> => {
    const named = [...(audience.segments ?? []), ...(audience.exceptSegments ?? [])];
    await db('cue_segment').where({ cue_id: cueId }).delete();
    const known: number[] = named.length ? await db('segment').whereIn('id', named).pluck('id') : [];
    if (known.length) await db('cue_segment').insert(known.map((id) => ({ segment_id: id, cue_id: cueId })));
  };
  const wordings = wordingStore(db);
  const cues = (): Knex.QueryBuilder =>
    withWording(db('cue'), 'cue')
      .leftJoin('cue as text', 'text.text_of_id', 'cue.id')
      .leftJoin('wording as tw', (on) => on.on('tw.id', 'text.wording_id').andOn('tw.version', 'text.wording_version'))
      .select({ text_document: 'tw.document' });
  const createRow = async (eventId: number, fields: CueFields, textOfId: number | null): Promise<number> => {
    const wording = await wordings.create('cue', fields.wording);
    const [id] = await db('cue').insert({ event_id: eventId, text_of_id: textOfId, ...rowOf(fields), ...wording });
    await noteLists(Number(id), fields);
    await noteSegments(Number(id), fields);
    return Number(id);
  };
  const updateRow = async (id: number, ref: WordingRef, fields: CueFields): Promise<void> => {
    const wording = await wordings.save(ref, 'cue', fields.wording);
    await db('cue')
      .where({ id })
      .update({ ...rowOf(fields), ...wording });
    await db('cue_list').where({ cue_id: id }).delete();
    await noteLists(id, fields);
    await noteSegments(id, fields);
  };
  /** One that has fired keeps its past, and is planned no more. */
  const dropText = async ({ id, wording_id }: { id: number; wording_id: number }): Promise<void> => {
    const fired: unknown = await db('firing').where({ cue_id: id, is_expanded: true }).first('id');
    if (fired) {
      await db('firing').where({ cue_id: id, is_expanded: false }).delete();
      await db('cue').where({ id }).update({ is_retired: true, text_of_id: null });
    } else {
      await db('cue').where({ id }).delete();
      await db('wording').where({ id: wording_id }).delete();
    }
  };
  const followText = async (id: number, eventId: number, fields: CueFields): Promise<void> => {
    const known: ({ id: number } & WordingRef) | undefined = await db('cue')
      .where({ text_of_id: id })
      .first('id', 'wording_id', 'wording_version');
    const text = textOf(fields);
    if (text && known) await updateRow(known.id, known, text);
    else if (text) await createRow(eventId, text, id);
    else if (known) await dropText(known);
  };
  return {
    /** In the order in which they were made; the texts of others too. */
    async ofEvent(eventId: number): Promise<StoredCue[]> {
      const rows: CueRow[] = await cues().where({ 'cue.event_id': eventId }).orderBy('cue.id');
      return readEach(db, 'cue', rows, cueOf);
    },
    async find(id: number): Promise<StoredCue | null> {
      const row: CueRow | undefined = await cues().where({ 'cue.id': id }).first();
      return row ? readOne(db, 'cue', row, cueOf) : null;
    },
    async findMany(ids: readonly number[]): Promise<Map<number, StoredCue>> {
      const rows: CueRow[] = await cues().whereIn('cue.id', [...new Set(ids)]);
      return new Map(readEach(db, 'cue', rows, cueOf).map((cue) => [cue.id, cue]));
    },
    async create(eventId: number, fields: CueFields): Promise<number> {
      const id = await createRow(eventId, fields, null);
      await followText(id, eventId, fields);
      return id;
    },
    /** With the text that goes beside it. */
    async update(id: number, fields: CueFields): Promise<void> {
      const known: ({ event_id: number } & WordingRef) | undefined = await db('cue')
        .where({ id })
        .first('event_id', 'wording_id', 'wording_version');
      if (!known) return;
      await updateRow(id, known, fields);
      await followText(id, known.event_id, fields);
    },
    /** What is about one date of a series alone follows it as the dates move. @param moveKey null for a date that stays, or is no more */
    async moveDates(eventId: number, moveKey: (key: string) => string | null): Promise<void> {
      const rows: { id: number; date: string }[] = await db('cue')
        .where({ event_id: eventId })
        .whereRaw("json_value(moment, '$.date') is not null")
        .select('id', { date: db.raw("json_value(moment, '$.date')") });
      for (const { id, date } of rows) {
        const to = moveKey(date);
        if (to && to !== date)
          await db('cue')
            .where({ id })
            .update({ moment: db.raw("json_set(moment, '$.date', ?)", [to]) });
      }
    },
    async retire(id: number): Promise<void> {
      await db('cue').where({ id }).orWhere({ text_of_id: id }).update({ is_retired: true });
    },
    async remove(id: number): Promise<void> {
      const words: number[] = await db('cue').where({ id }).orWhere({ text_of_id: id }).pluck('wording_id');
      await db('cue').where({ id }).delete();
      await db('wording').whereIn('id', words).delete();
    },
    /** Those that count from a date of people's own, with the field that holds it. */
    async goingByDates(): Promise<{ name: string; fieldId: number }[]> {
      const rows: { name: string; field: string | number | null }[] = await db('cue')
        .where({ goes_on: true, is_retired: false })
        .select('name', { field: db.raw(`json_value(moment, '$.field')`) });
      return rows.flatMap(({ name, field }) => (field === null ? [] : [{ name, fieldId: Number(field) }]));
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
  const wordings = wordingStore(db);
  /** What it says stands with the wordings. */
  const plainFields = ({ wording: _, ...fields }: DigestFields): string => JSON.stringify(fields);
  const one = async (id: number, from: Knex.QueryBuilder): Promise<StoredDigest | null> => {
    const row: DigestStored | undefined = await from.where({ 'digest.id': id }).first();
    return row ? readOne(db, 'digest', row, digestOf) : null;
  };
  return {
    async all(): Promise<StoredDigest[]> {
      const rows: DigestStored[] = await withWording(db('digest'), 'digest').orderBy('digest.id');
      return readEach(db, 'digest', rows, digestOf);
    },
    find: (id: number): Promise<StoredDigest | null> => one(id, withWording(db('digest'), 'digest')),
    /** Whoever else is saving it waits until this transaction is over. */
    findForUpdate: (id: number): Promise<StoredDigest | null> =>
      one(id, withWording(db('digest'), 'digest').forUpdate()),
    async create(fields: DigestFields): Promise<number> {
      const wording = await wordings.create('digest', fields.wording);
      const [id] = await db('digest').insert({ fields: plainFields(fields), ...wording });
      return Number(id);
    },
    async update(id: number, fields: DigestFields): Promise<void> {
      const ref: WordingRef | undefined = await db('digest').where({ id }).first('wording_id', 'wording_version');
      if (!ref) return;
      const wording = await wordings.save(ref, 'digest', fields.wording);
      await db('digest')
        .where({ id })
        .update({ fields: plainFields(fields), ...wording });
    },
  };
}

interface DigestStored {
  id: number;
  fields: unknown;
  document: unknown;
}
function digestOf({ id, fields, document }: DigestStored): StoredDigest {
  return { id, ...digestFields.parse({ ...recordOf(fields), wording: documentOf(document) }) };
}
const recordOf = (stored: unknown): Record<string, unknown> =>
  z.record(z.string(), z.unknown()).parse(readJson(stored));

interface CueRow {
  id: number;
  event_id: number;
  name: string;
  channel: string;
  moment: unknown;
  act: unknown;
  audience: unknown;
  document: unknown;
  text_of_id: number | null;
  text_document: unknown;
  is_draft: number;
  is_retired: number;
  late_hours: number;
  in_thread: number;
}
function cueOf(row: CueRow): StoredCue {
  return {
    id: row.id,
    eventId: row.event_id,
    isRetired: Boolean(row.is_retired),
    textOf: row.text_of_id,
    ...cueFields.parse({
      name: row.name,
      channel: row.channel,
      moment: readJson(row.moment),
      audience: readJson(row.audience),
      wording: documentOf(row.document),
      ...(row.act !== null && { act: readJson(row.act) }),
      ...(row.text_document !== null && { textWording: documentOf(row.text_document) }),
      isDraft: Boolean(row.is_draft),
      ...(row.late_hours > 0 && { lateHours: row.late_hours }),
      ...(row.in_thread > 0 && { inThread: true }),
    }),
  };
}
