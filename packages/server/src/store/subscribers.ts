import type { Knex } from 'knex';
import * as z from 'zod';
import type { Own, PersonFacts, ReplyState } from '@convite/core';
import type { Subscriber, SubscriberPage } from '@convite/contract';
import type { Target } from './audience-sql';
import { affectedRows, likePrefix, readJson } from './database';

/** A subscriber as messages are written to them. */
export interface Recipient {
  readonly id: number;
  readonly name: string;
  /** Empty when unknown. */
  readonly email: string;
  readonly mobile: string;
  readonly zone: string;
  /** Part of the address of their own feed. */
  readonly feedNonce: number;
  /** Their own time, place or note at the event in question; null where there is none. */
  readonly own: Own | null;
  /** Keys of the dates that they put themselves down for; null when they have a part in the whole event. */
  readonly dates: readonly string[] | null;
  /** Said yes before they are written to, by putting themselves down. */
  readonly isComing?: boolean;
}

/** What an import knows of one person. Empty fields leave what is stored. */
export interface NewSubscriber {
  readonly email: string | null;
  readonly name: string;
  readonly mobile: string;
  readonly zone: string;
  readonly textConsent: boolean | null;
  /** Further columns of the file, by their names. */
  readonly fields?: Readonly<Record<string, string>>;
}

export interface SubscriberQuery {
  readonly search: string;
  readonly list?: number | undefined;
  readonly after: number;
  readonly limit: number;
}

interface Row {
  id: number;
  email: string | null;
  name: string;
  zone: string;
  mobile: string;
  text_consent: number;
  opted_out_at: Date | null;
  bounced_at: Date | null;
  bounce_text: string;
  feed_nonce: number;
  fields: unknown;
}

export function subscriberStore(db: Knex) {
  const recipientOf = (row: Row): Recipient => ({
    id: row.id,
    name: row.name,
    email: row.email ?? '',
    mobile: row.mobile,
    zone: row.zone,
    feedNonce: row.feed_nonce,
    own: null,
    dates: null,
  });

  /** New people go in; of known ones what the file adds is filled in. */
  const writePeople = async (people: readonly NewSubscriber[], now: Date): Promise<void> => {
    await db('subscriber')
      .insert(
        people.map(({ email, name, mobile, zone, textConsent, fields }) => ({
          email,
          name,
          mobile,
          zone,
          text_consent: textConsent ?? false,
          fields: fields && Object.keys(fields).length ? JSON.stringify(fields) : null,
          created_at: now,
        })),
      )
      .onConflict('email')
      .merge({
        name: db.raw("if(values(name) = '', name, values(name))"),
        mobile: db.raw("if(values(mobile) = '', mobile, values(mobile))"),
        zone: db.raw("if(values(zone) = '', zone, values(zone))"),
        // Consent is only ever added by an import; taking it away is the person's own doing.
        text_consent: db.raw('text_consent or values(text_consent)'),
        fields: db.raw("if(values(fields) is null, fields, json_merge_patch(coalesce(fields, '{}'), values(fields)))"),
      });
  };

  return {
    /** One page in the order of entry, by key. `total` is of all that match. */
    async page({ search, list, after, limit }: SubscriberQuery): Promise<SubscriberPage> {
      const matching = db('subscriber as s').modify((query) => {
        if (list !== undefined) void query.join('list_member as m', 'm.subscriber_id', 's.id').where('m.list_id', list);
        if (search) {
          const start = likePrefix(search.toLowerCase());
          void query.where((or) =>
            or
              .where('s.email', 'like', start)
              .orWhere('s.name', 'like', start)
              .orWhere('s.name', 'like', `% ${start}`)
              .orWhere('s.mobile', 'like', start),
          );
        }
      });
      const rows: Row[] = await matching
        .clone()
        .where('s.id', '>', after)
        .orderBy('s.id')
        .limit(limit + 1)
        .select('s.*');
      const [counted] = await matching.clone().count({ total: '*' });
      const page = rows.slice(0, limit);
      const names = await this.listNamesOf(page.map((row) => row.id));
      return {
        rows: page.map((row) => describe(row, names.get(row.id) ?? [])),
        next: rows.length > limit ? (page.at(-1)?.id ?? null) : null,
        total: Number(counted?.['total'] ?? 0),
      };
    },

    async listNamesOf(ids: readonly number[]): Promise<Map<number, string[]>> {
      const rows: { subscriber_id: number; name: string }[] = await db('list_member as m')
        .join('list as l', 'l.id', 'm.list_id')
        .whereIn('m.subscriber_id', [...ids])
        .orderBy('l.name')
        .select('m.subscriber_id', 'l.name');
      const names = new Map<number, string[]>();
      for (const row of rows) names.set(row.subscriber_id, [...(names.get(row.subscriber_id) ?? []), row.name]);
      return names;
    },

    async find(id: number): Promise<Recipient | null> {
      const row: Row | undefined = await db('subscriber').where({ id }).first();
      return row ? recipientOf(row) : null;
    },

    async findMany(ids: readonly number[]): Promise<Map<number, Recipient>> {
      const rows: Row[] = await db('subscriber').whereIn('id', [...ids]);
      return new Map(rows.map((row) => [row.id, recipientOf(row)]));
    },

    async idByEmail(email: string): Promise<number | null> {
      const row: { id: number } | undefined = await db('subscriber').where({ email: email.toLowerCase() }).first('id');
      return row?.id ?? null;
    },

    /** Topics each person asked for; people who asked for none are absent. */
    async topicsOf(ids: readonly number[]): Promise<Map<number, string[]>> {
      const rows: { subscriber_id: number; topic: string }[] = await db('subscriber_topic').whereIn('subscriber_id', [
        ...ids,
      ]);
      const topics = new Map<number, string[]>();
      for (const row of rows) topics.set(row.subscriber_id, [...(topics.get(row.subscriber_id) ?? []), row.topic]);
      return topics;
    },

    /** What core's `whyNot` asks about one person and one event. */
    async facts(id: number, { eventId, occurrence }: Target): Promise<PersonFacts | null> {
      const row: Row | undefined = await db('subscriber').where({ id }).first();
      if (!row) return null;
      const invitee: { reply: ReplyState; is_by_date: number } | undefined = await db('invitee')
        .where({ event_id: eventId ?? 0, subscriber_id: id })
        .whereNotNull('invited_at')
        .first('reply', 'is_by_date');
      const ofDate: { reply: ReplyState | null } | undefined = await db('invitee_occurrence')
        .where({ event_id: eventId ?? 0, subscriber_id: id, occurrence })
        .first('reply');
      const lists: number[] = await db('list_member').where({ subscriber_id: id }).pluck('list_id');
      const topics = (await this.topicsOf([id])).get(id) ?? [];
      return {
        hasEmail: row.email !== null,
        hasMobile: row.mobile !== '',
        textConsent: Boolean(row.text_consent),
        optedOut: row.opted_out_at !== null,
        bounced: row.bounced_at !== null,
        reply: invitee ? (ofDate?.reply ?? (invitee.is_by_date ? null : invitee.reply)) : null,
        lists,
        topics,
      };
    },

    /**
     * Adds people to a list, new ones to the subscribers too; one statement each however many they are.
     * @returns how many joined the list, and how many were on it already
     */
    async addToList(
      listId: number,
      people: readonly NewSubscriber[],
      now: Date,
    ): Promise<{ added: number; already: number }> {
      let added = 0;
      for (let from = 0; from < people.length; from += 1000) {
        const some = people.slice(from, from + 1000);
        const emailless = some.flatMap(({ email, mobile }) => (email === null ? [mobile] : []));
        const known = new Set<string>(
          emailless.length
            ? await db('subscriber').whereNull('email').whereIn('mobile', emailless).pluck('mobile')
            : [],
        );
        const writable = some.filter(({ email, mobile }) => email !== null || !known.has(mobile));
        if (writable.length) await writePeople(writable, now);
        const emails = some.flatMap(({ email }) => (email === null ? [] : [email]));
        const result: unknown = await db.raw(
          `insert ignore into list_member (list_id, subscriber_id)
           select ?, id from subscriber where email in (${marks(emails)}) or (email is null and mobile in (${marks(emailless)}))`,
          [listId, ...emails, ...emailless],
        );
        added += affectedRows(result);
      }
      return { added, already: people.length - added };
    },

    /** Gives the person's own feed another address; the old one is dead. */
    async resetFeed(id: number): Promise<void> {
      await db('subscriber').where({ id }).increment('feed_nonce', 1);
    },
    /** Names of the further columns that people's files had, for choosing one. */
    async fieldNames(): Promise<string[]> {
      const rows: { fields: unknown }[] = await db('subscriber')
        .whereNotNull('fields')
        .orderBy('id', 'desc')
        .limit(500)
        .select('fields');
      return [...new Set(rows.flatMap(({ fields }) => Object.keys(readFields(fields))))].sort().slice(0, 50);
    },
    /** Those further columns of the people of some lists, in pages by key. */
    async withFields(
      lists: readonly number[],
      after: number,
      limit: number,
    ): Promise<{ id: number; email: string; fields: Record<string, string> }[]> {
      const rows: { id: number; email: string | null; fields: unknown }[] = await db('subscriber')
        .whereIn(
          'id',
          db('list_member')
            .whereIn('list_id', [...lists])
            .select('subscriber_id'),
        )
        .whereNotNull('fields')
        .where('id', '>', after)
        .orderBy('id')
        .limit(limit)
        .select('id', 'email', 'fields');
      return rows.map((row) => ({ id: row.id, email: row.email ?? '', fields: readFields(row.fields) }));
    },

    /** The subscriber of that address, made when there is none; what is known is filled in, never taken away. */
    async ensure(person: NewSubscriber, now: Date): Promise<number> {
      await writePeople([person], now);
      return (await this.idByEmail(person.email ?? '')) ?? 0;
    },

    /** The same for many: ids by address, or by number for those without one. */
    async ensureMany(people: readonly NewSubscriber[], now: Date): Promise<Map<string, number>> {
      const ids = new Map<string, number>();
      for (let from = 0; from < people.length; from += 1000) {
        const some = people.slice(from, from + 1000);
        const emails = some.flatMap(({ email }) => email ?? []);
        const numbers = some.flatMap(({ email, mobile }) => (email === null && mobile ? [mobile] : []));
        const find = (): Promise<{ id: number; email: string | null; mobile: string }[]> =>
          db('subscriber')
            .whereIn('email', emails)
            .orWhere((or) => or.whereNull('email').whereIn('mobile', numbers))
            .select('id', 'email', 'mobile');
        const known = new Set((await find()).map(({ email, mobile }) => email ?? mobile));
        const fresh = [...new Map(some.map((person) => [person.email ?? person.mobile, person])).values()];
        const writable = fresh.filter(({ email, mobile }) => email !== null || !known.has(mobile));
        if (writable.length) await writePeople(writable, now);
        for (const { id, email, mobile } of await find()) ids.set(email ?? mobile, id);
      }
      return ids;
    },

    async optOut(id: number, now: Date): Promise<void> {
      await db('subscriber').where({ id }).whereNull('opted_out_at').update({ opted_out_at: now });
    },
    /** By number, since that is all a text tells: everybody who shares it. */
    async setTextConsent(mobile: string, consents: boolean): Promise<void> {
      await db('subscriber').where({ mobile }).update({ text_consent: consents });
    },
    async markBounced(id: number, text: string, now: Date): Promise<void> {
      await db('subscriber')
        .where({ id })
        .update({ bounced_at: now, bounce_text: text.slice(0, 500) });
    },
    async countBouncedSince(since: Date): Promise<number> {
      const [row] = await db('subscriber').where('bounced_at', '>=', since).count({ n: '*' });
      return Number(row?.['n'] ?? 0);
    },
    async lists(): Promise<{ id: number; name: string; count: number }[]> {
      const rows: { id: number; name: string; n: number }[] = await db('list as l')
        .leftJoin('list_member as m', 'm.list_id', 'l.id')
        .groupBy('l.id', 'l.name')
        .orderBy('l.name')
        .select('l.id', 'l.name', db.raw('count(m.subscriber_id) as n'));
      return rows.map(({ id, name, n }) => ({ id, name, count: Number(n) }));
    },
    /** @throws a duplicate-key error (see isDuplicate) when a list of that name exists */
    async createList(name: string): Promise<number> {
      const [id] = await db('list').insert({ name });
      return Number(id);
    },
    async hasList(id: number): Promise<boolean> {
      return Boolean(await db('list').where({ id }).first('id'));
    },
  };
}

const fieldsShape = z.record(z.string(), z.string());
const readFields = (value: unknown): Record<string, string> => fieldsShape.safeParse(readJson(value ?? {})).data ?? {};

const marks = (values: readonly unknown[]): string => (values.length ? values.map(() => '?').join(',') : 'null');

const describe = (row: Row, lists: string[]): Subscriber => ({
  id: row.id,
  name: row.name,
  email: row.email ?? '',
  mobile: row.mobile,
  zone: row.zone,
  textConsent: Boolean(row.text_consent),
  state: row.bounced_at ? 'bounced' : row.opted_out_at ? 'opted-out' : 'subscribed',
  bounceText: row.bounce_text,
  lists,
});
