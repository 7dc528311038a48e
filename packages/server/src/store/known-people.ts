import type { Knex } from 'knex';
import type { KnownPerson, PersonChange } from '@convite/core';
import { isHere } from './is-here';
import { listStore } from './lists';

/** Somebody whom a file brings again, as they stand here. */
export interface Known extends KnownPerson {
  readonly id: number;
  /** Empty where there is none. */
  readonly email: string;
  readonly emailConsent: boolean;
  readonly textConsent: boolean;
  readonly optedOut: boolean;
  readonly bounced: boolean;
}

interface Row {
  id: number;
  email: string | null;
  name: string;
  mobile: string;
  phone: string;
  zone: string;
  zone_from: string;
  language: string;
  email_consent: number;
  text_consent: number;
  opted_out_at: Date | null;
  bounced_at: Date | null;
  email_key: string;
  same_as_id: number | null;
}

/** People whom files bring again: found by address, number or spelling, and changed as the files say. */
export function knownPeopleStore(db: Knex) {
  const withAll = async (rows: readonly Row[], isHeld: boolean): Promise<Known[]> => {
    const ids = rows.map(({ id }) => id);
    if (ids.length === 0) return [];
    const held = (query: Knex.QueryBuilder): Knex.QueryBuilder => (isHeld ? query.forUpdate() : query);
    const [lists, topics, fields] = [
      await listStore(db).namesOf(ids),
      byPerson<{ topic: string }>(await held(db('subscriber_topic').whereIn('subscriber_id', ids))),
      byPerson<{ name: string; typed: string }>(
        await db('subscriber_field as v')
          .join('field as f', 'f.id', 'v.field_id')
          .whereIn('v.subscriber_id', ids)
          .select('v.subscriber_id', 'f.name', 'v.typed'),
      ),
    ];
    return rows.map((row) => ({
      id: row.id,
      email: row.email ?? '',
      name: row.name,
      mobile: row.mobile,
      phone: row.phone,
      zone: row.zone,
      zoneFrom: row.zone_from,
      language: row.language,
      emailConsent: Boolean(row.email_consent),
      textConsent: Boolean(row.text_consent),
      optedOut: row.opted_out_at !== null,
      bounced: row.bounced_at !== null,
      lists: lists.get(row.id) ?? [],
      topics: (topics.get(row.id) ?? []).map(({ topic }) => topic),
      fields: Object.fromEntries((fields.get(row.id) ?? []).map(({ name, typed }) => [name.toLowerCase(), typed])),
    }));
  };
  const columns = [
    's.id',
    's.email',
    's.name',
    's.mobile',
    's.phone',
    's.zone',
    's.zone_from',
    's.language',
    's.email_consent',
    's.text_consent',
    's.opted_out_at',
    's.bounced_at',
    's.email_key',
    's.same_as_id',
  ] as const;
  return {
    /** By address, and by number of who has no address. @param isHeld nobody else changes them until the transaction is over */
    async byKeys(emails: readonly string[], numbers: readonly string[], isHeld: boolean): Promise<Map<string, Known>> {
      const rows: Row[] = await db('subscriber as s')
        .whereIn('s.email', [...emails])
        .modify((query) => void (isHeld && query.forUpdate()))
        .select(...columns);
      const withoutEmail: Row[] = numbers.length
        ? await db('subscriber as s')
            .whereIn('s.mobile', [...numbers])
            .whereNull('s.email')
            .modify((query) => void (isHeld && query.forUpdate()))
            .select(...columns)
        : [];
      const found = [...rows, ...withoutEmail];
      const known = await withAll(
        found.filter((row) => row.same_as_id === null),
        isHeld,
      );
      const keyed = new Map(known.map((one) => [one.email || one.mobile, one]));
      // An address of somebody who was found to be another means that one.
      const absorbed = found.filter((row) => row.same_as_id !== null);
      if (absorbed.length === 0) return keyed;
      const others = await this.byIds(
        absorbed.flatMap((row) => row.same_as_id ?? []),
        isHeld,
      );
      for (const row of absorbed) {
        const other = others.get(row.same_as_id ?? 0);
        if (other) keyed.set(row.email ?? row.mobile, other);
      }
      return keyed;
    },
    /** By what remains of an address without what stands behind a plus (RFC 5233); the first of each. */
    async bySpelling(keys: readonly string[]): Promise<Map<string, Known>> {
      if (keys.length === 0) return new Map();
      // However many write to one mailbox in ways of their own; who is erased has no address.
      const first = db('subscriber')
        .whereIn('email_key', [...keys])
        .whereNull('same_as_id')
        .groupBy('email_key')
        .min('id');
      const rows: Row[] = await db('subscriber as s')
        .whereIn('s.id', first)
        .select(...columns);
      const keyOf = new Map(rows.map((row) => [row.id, row.email_key]));
      return new Map((await withAll(rows, false)).map((one) => [keyOf.get(one.id) ?? '', one]));
    },
    async byIds(ids: readonly number[], isHeld: boolean): Promise<Map<number, Known>> {
      const rows: Row[] = await db('subscriber as s')
        .whereIn('s.id', [...ids])
        .whereRaw(isHere)
        .modify((query) => void (isHeld && query.forUpdate()))
        .select(...columns);
      return new Map((await withAll(rows, isHeld)).map((one) => [one.id, one]));
    },
    /**
     * Writes what changed of names, numbers, zones and languages of people who are held. Fields, lists and topics are their own
     * stores' to change.
     */
    async write(
      people: readonly {
        readonly known: Known;
        readonly changes: readonly PersonChange[];
        readonly zoneFrom: string;
      }[],
      now: Date,
    ): Promise<void> {
      const rows = people.flatMap(({ known, changes, zoneFrom }) => {
        const after = new Map(
          changes.filter(({ part }) => isDetail(part)).map((change) => [change.part, change.after]),
        );
        if (after.size === 0) return [];
        return {
          id: known.id,
          name: after.get('name') ?? known.name,
          mobile: after.get('mobile') ?? known.mobile,
          phone: after.get('phone') ?? known.phone,
          zone: after.get('zone') ?? known.zone,
          zone_from: after.has('zone') ? zoneFrom : known.zoneFrom,
          language: after.get('language') ?? known.language,
          // They are there: this is for a row that is never made.
          created_at: now,
        };
      });
      if (rows.length)
        await db('subscriber')
          .insert(rows)
          .onConflict('id')
          .merge(['name', 'mobile', 'phone', 'zone', 'zone_from', 'language']);
    },
    /**
     * Of people who came by a file, those with whom nothing has been done since: on no other list than these, guests of nothing,
     * written nothing, never opted out.
     */
    async untouched(ids: readonly number[], lists: readonly number[]): Promise<number[]> {
      const none = (table: string) => db(`${table} as m`).whereRaw('m.subscriber_id = s.id').select(db.raw('1'));
      return (
        db('subscriber as s')
          .whereIn('s.id', [...ids])
          .whereNotExists(none('list_member').whereNotIn('m.list_id', [...lists]))
          .whereNotExists(none('invitee'))
          .whereNotExists(none('registration'))
          .whereNotExists(none('delivery'))
          .whereNotExists(none('letter'))
          .whereNotExists(none('person_note'))
          .whereNotExists(none('consent').whereNotIn('m.source', ['file', 'taken-back']))
          // An opt-out outlives the file that brought the address.
          .whereNull('s.opted_out_at')
          .pluck('s.id')
      );
    },
  };
}

const isDetail = (part: PersonChange['part']): boolean => !['list', 'topic', 'field'].includes(part);

function byPerson<T>(rows: readonly (T & { subscriber_id: number })[]): Map<number, T[]> {
  const found = new Map<number, T[]>();
  for (const row of rows) {
    const of = found.get(row.subscriber_id);
    if (of) of.push(row);
    else found.set(row.subscriber_id, [row]);
  }
  return found;
}
