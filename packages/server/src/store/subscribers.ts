import type { Knex } from 'knex';
import { isLanguage, zoneSources, type Own, type Presence, type ReplyState } from '@convite/core';
import type { PersonDetail, Subscriber, SubscriberPage } from '@convite/contract';
import { isHere } from './is-here';
import { listStore } from './lists';
import { searchSql } from './people-search';

/** A subscriber as messages are written to them. */
export interface Recipient {
  readonly id: number;
  readonly name: string;
  /** Empty when unknown. */
  readonly email: string;
  readonly mobile: string;
  readonly zone: string;
  /** That they read; empty where it is not known. */
  readonly language: string;
  /** Part of the address of their own feed. */
  readonly feedNonce: number;
  /** Their own time, place or note at the event in question; null where there is none. */
  readonly own: Own | null;
  /** Keys of the dates that they put themselves down for; null when they have a part in the whole event. */
  readonly dates: readonly string[] | null;
  /** Invited to the event in question, or registered for it. */
  readonly isGuest: boolean;
  /** What they answered of the event in question, or of the date of it that is written of. */
  readonly reply: ReplyState;
  /** Nothing that they do is to be noted. */
  readonly mindsNoting?: boolean;
  /** That they asked for; left out where nobody looked. */
  readonly topics?: readonly string[];
  /** What they put themselves down for at the event in question; left out where nobody asked. */
  readonly places?: readonly HeldPlace[];
  /** The delivery that invited them to it by email; left out where nobody asked, or none did. */
  readonly invitedBy?: number;
  /** Said yes before they are written to, by putting themselves down. */
  readonly isComing?: boolean;
}

/** Places at a date; the empty key is a one-off, or every date. */
export interface HeldPlace {
  /** How they come; empty where they were not asked. */
  readonly presence?: Presence | '';
  readonly occurrence: string;
  readonly places: number;
}

export interface SubscriberQuery {
  readonly search: string;
  readonly list?: number | undefined;
  readonly after: number;
  readonly limit: number;
}

/** What stands in a person's own row. */
export type PersonOwnFacts = Omit<
  PersonDetail,
  'lists' | 'consents' | 'topics' | 'fields' | 'feedUrl' | 'preferencesUrl'
>;

interface Row {
  id: number;
  email: string | null;
  name: string;
  zone: string;
  language: string;
  mobile: string;
  phone: string;
  zone_from: string;
  email_consent: number;
  paused_until: Date | null;
  most_per_week: number | null;
  minds_noting: number;
  text_consent: number;
  opted_out_at: Date | null;
  bounced_at: Date | null;
  bounce_text: string;
  feed_nonce: number;
}

export function subscriberStore(db: Knex) {
  const recipientOf = (row: Row): Recipient => ({
    id: row.id,
    name: row.name,
    email: row.email ?? '',
    mobile: row.mobile,
    zone: row.zone,
    language: row.language,
    feedNonce: row.feed_nonce,
    own: null,
    dates: null,
    isGuest: false,
    reply: 'needs-action',
  });

  return {
    /** One page in the order of entry, by key. `total` is the list's size, which is kept; nothing is counted here. */
    async page({ search, list, after, limit }: SubscriberQuery): Promise<SubscriberPage> {
      const found = search.trim() ? searchSql(search, list, after, limit + 1) : null;
      // Of a list its own index is read, in order.
      const members = list === undefined || found ? null : await listStore(db).membersAfter(list, after, limit + 1);
      const rows: Row[] = await (
        found
          ? db('subscriber as s').join(db.raw(`(${found.text}) as f`, [...found.bindings]), 'f.id', 's.id')
          : members
            ? db('subscriber as s').whereIn('s.id', members)
            : db('subscriber as s').where('s.id', '>', after)
      )
        .whereRaw(isHere)
        .orderBy('s.id')
        .limit(limit + 1)
        .select('s.*');
      const page = rows.slice(0, limit);
      const names = await listStore(db).namesOf(page.map((row) => row.id));
      return {
        rows: page.map((row) => describe(row, names.get(row.id) ?? [])),
        next: rows.length > limit ? (page.at(-1)?.id ?? null) : null,
        total: list === undefined || search ? null : await listStore(db).sizeOf(list),
      };
    },

    /** Numbers of people, from behind one of them; of one address where that is asked. */
    async idsAfter(after: number, limit: number, email?: string): Promise<number[]> {
      return db('subscriber as s')
        .where('id', '>', after)
        .whereRaw(isHere)
        .modify((query) => void (email !== undefined && query.where({ email })))
        .orderBy('id')
        .limit(limit)
        .pluck('id');
    },
    /** Of some numbers those that are somebody's. */
    async alive(ids: readonly number[]): Promise<number[]> {
      return db('subscriber as s')
        .whereIn('id', [...ids])
        .whereRaw(isHere)
        .pluck('id');
    },
    /** Who somebody is: of two people found to be one, the one who is left. */
    async whoIs(id: number): Promise<number> {
      const row: { same_as_id: number | null } | undefined = await db('subscriber').where({ id }).first('same_as_id');
      return row?.same_as_id ?? id;
    },
    /** The number of whoever came last; 0 for nobody. */
    async lastId(): Promise<number> {
      const [row] = await db('subscriber').max({ last: 'id' });
      return Number(row?.['last'] ?? 0);
    },
    /** The zones that people are in, each once: from name to name by the index, however many people there are. */
    async zones(): Promise<string[]> {
      return db('subscriber').whereNot('zone', '').distinct('zone').orderBy('zone').pluck('zone');
    },
    async find(id: number): Promise<Recipient | null> {
      const row: Row | undefined = await db('subscriber').where({ id }).whereNull('erased_at').first();
      return row ? recipientOf(row) : null;
    },

    async findMany(ids: readonly number[]): Promise<Map<number, Recipient>> {
      const rows: Row[] = await db('subscriber').whereIn('id', [...ids]);
      return new Map(rows.map((row) => [row.id, recipientOf(row)]));
    },

    /** Whose address it is: of two people found to be one, the one who is left. */
    async idByEmail(email: string): Promise<number | null> {
      const row: { id: number; same_as_id: number | null } | undefined = await db('subscriber')
        .where({ email: email.toLowerCase() })
        .first('id', 'same_as_id');
      return row?.same_as_id ?? row?.id ?? null;
    },

    /** Has an address that works, and did not opt out. */
    async mayBeMailed(id: number): Promise<boolean> {
      const row: unknown = await db('subscriber')
        .where({ id })
        .whereNotNull('email')
        .whereNull('opted_out_at')
        .whereNull('bounced_at')
        .first('id');
      return row !== undefined;
    },

    async mayBeTexted(id: number): Promise<boolean> {
      const row: unknown = await db('subscriber')
        .where({ id, text_consent: true })
        .whereNot('mobile', '')
        .whereNull('opted_out_at')
        .first('id');
      return row !== undefined;
    },

    async detail(id: number): Promise<PersonOwnFacts | null> {
      const row: Row | undefined = await db('subscriber').where({ id }).whereNull('erased_at').first();
      return row
        ? {
            id: row.id,
            name: row.name,
            email: row.email ?? '',
            mobile: row.mobile,
            zone: row.zone,
            language: isLanguage(row.language) ? row.language : '',
            textConsent: Boolean(row.text_consent),
            phone: row.phone,
            zoneFrom: zoneSources.find((one) => one === row.zone_from) ?? '',
            emailConsent: row.opted_out_at === null && Boolean(row.email_consent),
            optedOut: row.opted_out_at !== null,
            pausedUntil: row.paused_until?.toISOString() ?? null,
            mostPerWeek: row.most_per_week,
            mindsNoting: Boolean(row.minds_noting),
            bounced: row.bounced_at !== null,
            bounceText: row.bounce_text,
          }
        : null;
    },
    /** @throws a duplicate-key error (see isDuplicate) for an address that is somebody else's */
    async change(
      id: number,
      person: {
        readonly name: string;
        readonly email: string | null;
        readonly mobile: string;
        readonly zone: string;
        readonly language: string;
        readonly liftsBounce: boolean;
      },
    ): Promise<void> {
      await db('subscriber')
        .where({ id })
        .update({
          name: person.name,
          email: person.email,
          mobile: person.mobile,
          // Before the zone, as it stands: whoever sets another knows, and one that is left stays as sure as it was.
          zone_from: db.raw("if(zone = ?, zone_from, '')", [person.zone]),
          zone: person.zone,
          language: person.language,
          ...(person.liftsBounce && { bounced_at: null, bounce_text: '' }),
        });
      if (person.liftsBounce) await db('refusal').where({ subscriber_id: id }).delete();
    },
    /** What somebody says for themselves. */
    async saySelf(
      id: number,
      said: {
        readonly name: string;
        readonly language: string;
        readonly zone: string;
        readonly quietUntil: Date | null;
        readonly mostPerWeek: number | null;
      },
    ): Promise<void> {
      await db('subscriber').where({ id }).update({
        name: said.name,
        language: said.language,
        zone: said.zone,
        // They have seen it, and left it.
        zone_from: '',
        paused_until: said.quietUntil,
        most_per_week: said.mostPerWeek,
      });
    },
    /** @throws a duplicate-key error (see isDuplicate) for an address that is somebody else's */
    async setAddress(id: number, email: string): Promise<void> {
      await db('subscriber').where({ id }).update({ email, bounced_at: null, bounce_text: '' });
      await db('refusal').where({ subscriber_id: id }).delete();
    },
    /** Whose quiet is over hears of everything again. */
    async endPauses(now: Date): Promise<void> {
      await db('subscriber').where('paused_until', '<=', now).update({ paused_until: null });
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

    /** Of some numbers, those that are somebody's who is not erased. */
    async present(ids: readonly number[]): Promise<number[]> {
      return db('subscriber')
        .whereIn('id', [...ids])
        .whereNull('erased_at')
        .orderBy('id')
        .pluck('id');
    },
    /** Asks for a topic on behalf of people. @returns who had not asked for it */
    async giveTopic(ids: readonly number[], topic: string): Promise<number[]> {
      const had: number[] = await db('subscriber_topic')
        .where({ topic })
        .whereIn('subscriber_id', [...ids])
        .pluck('subscriber_id');
      const without = ids.filter((id) => !had.includes(id));
      if (without.length)
        await db('subscriber_topic')
          .insert(without.map((id) => ({ subscriber_id: id, topic })))
          .onConflict()
          .ignore();
      return without;
    },
    /** Asks for topics on behalf of people; who had asked for one asks once. */
    async giveTopics(asked: readonly { readonly id: number; readonly topic: string }[]): Promise<void> {
      if (asked.length)
        await db('subscriber_topic')
          .insert(asked.map(({ id, topic }) => ({ subscriber_id: id, topic })))
          .onConflict()
          .ignore();
    },
    /** @returns who had asked for it */
    async takeTopic(ids: readonly number[], topic: string): Promise<number[]> {
      const those = () =>
        db('subscriber_topic')
          .where({ topic })
          .whereIn('subscriber_id', [...ids]);
      const had: number[] = await those().forUpdate().pluck('subscriber_id');
      await those().delete();
      return had;
    },
    /** Some people as a table shows them, in the order of their numbers. */
    async rowsOf(ids: readonly number[]): Promise<Subscriber[]> {
      const rows: Row[] = await db('subscriber')
        .whereIn('id', [...ids])
        .whereNull('erased_at')
        .orderBy('id');
      const names = await listStore(db).namesOf(rows.map((row) => row.id));
      return rows.map((row) => describe(row, names.get(row.id) ?? []));
    },

    /** Gives the person's own feed another address; the old one is dead. */
    async resetFeed(id: number): Promise<void> {
      await db('subscriber').where({ id }).increment('feed_nonce', 1);
    },
  };
}

const describe = (row: Row, lists: string[]): Subscriber => ({
  id: row.id,
  name: row.name,
  email: row.email ?? '',
  mobile: row.mobile,
  zone: row.zone,
  textConsent: Boolean(row.text_consent),
  state: row.bounced_at ? 'bounced' : row.opted_out_at ? 'opted-out' : row.email_consent ? 'subscribed' : 'no-consent',
  bounceText: row.bounce_text,
  lists,
});
