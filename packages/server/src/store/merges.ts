import type { Knex } from 'knex';
import * as z from 'zod';
import { consentStore } from './consents';
import { readJson } from './database';
import { listStore } from './lists';
import { eventsOf, guestsMoved, moveGuest, moveGuestBack } from './move-guest';

/** Facts of a person that are filled from the other where they are empty. */
const filledFacts = ['name', 'mobile', 'phone', 'zone', 'zone_from', 'language'] as const;
type Fact = (typeof filledFacts)[number];

/** What went over as two people were put together. */
const moved = guestsMoved.extend({
  /** The absorbed one's, where the other had none. */
  email: z.string().nullable(),
  filled: z.partialRecord(z.enum(filledFacts), z.string()),
  /** Lists that the absorbed one was on, and those of them that the other went on by it. */
  lists: z.array(z.number()),
  joined: z.array(z.number()),
  topics: z.array(z.string()),
  fields: z.array(z.number()),
  notes: z.array(z.number()),
  letters: z.array(z.number()),
  optedOut: z.boolean(),
  agreed: z.boolean(),
});
export type Moved = z.infer<typeof moved>;
export interface StoredMerge {
  readonly id: number;
  readonly keptId: number;
  readonly absorbedId: number;
  readonly at: Date;
  readonly by: string;
}

interface Person {
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
  paused_until: Date | null;
  most_per_week: number | null;
  same_as_id: number | null;
}

/** Two people put together, and parted again. All of it is to be called in a transaction. */
export function mergeStore(db: Knex) {
  const hold = async (ids: readonly number[]): Promise<Map<number, Person>> => {
    const rows: Person[] = await db('subscriber')
      .whereIn('id', [...ids])
      .whereNull('erased_at')
      .orderBy('id')
      .forUpdate();
    return new Map(rows.map((one) => [one.id, one]));
  };
  const origin = (how: string, by: string) => ({ source: 'by-hand', how, by }) as const;

  return {
    /**
     * Lets one take over the other: what they lacked, lists, topics, fields, answers, places, notes. A no of either is a no of both.
     * @returns the events whose guests changed; null where one of them is not there, or is somebody else already
     */
    async absorb(keptId: number, absorbedId: number, by: string, now: Date): Promise<number[] | null> {
      const people = await hold([keptId, absorbedId]);
      const [kept, other] = [people.get(keptId), people.get(absorbedId)];
      if (!kept || !other || kept.same_as_id !== null || other.same_as_id !== null) return null;
      const lists = await listStore(db).ofPerson(absorbedId);
      await listStore(db).setOf(absorbedId, [], now);
      const joined: number[] = [];
      for (const list of lists) joined.push(...(await listStore(db).join(list, [keptId], now)).map(() => list));
      const guests = await moveGuest(db, absorbedId, keptId);
      const done: Moved = {
        email: kept.email === null ? other.email : null,
        filled: filledFrom(kept, other),
        lists,
        joined,
        topics: await giveTopics(keptId, absorbedId),
        fields: await giveFields(keptId, absorbedId),
        ...guests,
        notes: await moveRows('person_note', absorbedId, keptId),
        letters: await moveRows('letter', absorbedId, keptId),
        optedOut: other.opted_out_at !== null && kept.opted_out_at === null,
        agreed:
          kept.opted_out_at === null &&
          other.opted_out_at === null &&
          !kept.email_consent &&
          Boolean(other.email_consent),
      };
      if (done.email !== null) await db('subscriber').where({ id: absorbedId }).update({ email: null });
      await db('subscriber')
        .where({ id: keptId })
        .update({
          ...done.filled,
          ...(done.email !== null && { email: done.email }),
          paused_until: latest(kept.paused_until, other.paused_until),
          most_per_week: least(kept.most_per_week, other.most_per_week),
        });
      const consents = consentStore(db);
      const said = (what: string) => origin(`${what} as person ${absorbedId}, with whom they were put together`, by);
      if (done.optedOut) await consents.note(keptId, 'email', false, said('opted out'), now);
      if (done.agreed) await consents.note(keptId, 'email', true, said('agreed'), now);
      // Consent to texts is of the number: it goes along with it.
      if (done.filled.mobile && other.text_consent) await consents.note(keptId, 'text', true, said('agreed'), now);
      await db('subscriber').where({ id: absorbedId }).update({ same_as_id: keptId });
      // Whoever was the same as that one is the same as this one.
      await db('subscriber').where({ same_as_id: absorbedId }).update({ same_as_id: keptId });
      // What waits goes to the one who is left, unless they have their own.
      await db.raw(
        `update ignore delivery set subscriber_id = ? where subscriber_id = ? and state = 'queued' and attempts = 0`,
        [keptId, absorbedId],
      );
      await db('person_merge').insert({
        kept_id: keptId,
        absorbed_id: absorbedId,
        at: now,
        by_name: by,
        moved: JSON.stringify(done),
      });
      return eventsOf(guests);
    },

    /** Who was found to be somebody. */
    async absorbedBy(keptId: number): Promise<number[]> {
      return db('subscriber').where({ same_as_id: keptId }).orderBy('id').pluck('id');
    },
    /** What went over is known no more. */
    async forget(keptId: number): Promise<void> {
      await db('person_merge').where({ kept_id: keptId }).orWhere({ absorbed_id: keptId }).delete();
    },
    /** Those whom somebody took over, the latest first. */
    async ofPerson(keptId: number): Promise<StoredMerge[]> {
      const rows: { id: number; kept_id: number; absorbed_id: number; at: Date; by_name: string }[] = await db(
        'person_merge as m',
      )
        .join('subscriber as s', 's.id', 'm.absorbed_id')
        .where({ 'm.kept_id': keptId, 's.same_as_id': keptId })
        .whereNull('m.parted_at')
        .orderBy('m.id', 'desc')
        .limit(50)
        .select('m.*');
      return rows.map((one) => ({
        id: one.id,
        keptId: one.kept_id,
        absorbedId: one.absorbed_id,
        at: one.at,
        by: one.by_name,
      }));
    },

    /**
     * Parts them again: what went over goes back, where it still is what it was then. What was said since stays with the one who is left.
     * @returns the events whose guests changed; null where there is nothing to part
     */
    async part(mergeId: number, by: string, now: Date): Promise<number[] | null> {
      const found: { kept_id: number; absorbed_id: number; moved: unknown } | undefined = await db('person_merge')
        .where({ id: mergeId })
        .whereNull('parted_at')
        .forUpdate()
        .first();
      if (!found) return null;
      const { kept_id: keptId, absorbed_id: absorbedId } = found;
      const people = await hold([keptId, absorbedId]);
      const [kept, other] = [people.get(keptId), people.get(absorbedId)];
      if (!kept || other?.same_as_id !== keptId) return null;
      const done = moved.parse(readJson(found.moved));
      await takeBackFacts(kept, done);
      if (done.email !== null && kept.email === done.email) {
        await db('subscriber').where({ id: keptId }).update({ email: null });
        await db('subscriber').where({ id: absorbedId }).update({ email: done.email });
      }
      for (const list of done.joined) await listStore(db).leave(list, [keptId], now);
      for (const list of done.lists)
        if (await listStore(db).has(list)) await listStore(db).join(list, [absorbedId], now);
      if (done.topics.length)
        await db('subscriber_topic').where({ subscriber_id: keptId }).whereIn('topic', done.topics).delete();
      await takeBackFields(keptId, absorbedId, done.fields);
      await moveGuestBack(db, keptId, absorbedId, done);
      for (const [table, ids] of [
        ['person_note', done.notes],
        ['letter', done.letters],
      ] as const)
        if (ids.length) await db(table).whereIn('id', ids).update({ subscriber_id: absorbedId });
      await consentStore(db).takeBackLast(keptId, `as person ${absorbedId}, with whom they were put together`, by, now);
      await db('subscriber').where({ id: absorbedId }).update({ same_as_id: null });
      await db('person_merge').where({ id: mergeId }).update({ parted_at: now });
      return eventsOf(done);
    },

    /** Who may be the same as somebody: by their number, or by another spelling of their mailbox. */
    async likely(id: number, most: number): Promise<number[]> {
      const person: { mobile: string; email_key: string | null } | undefined = await db('subscriber')
        .where({ id })
        .first('mobile', 'email_key');
      if (!person) return [];
      const others = (column: string, value: string | null): Promise<number[]> =>
        value
          ? db('subscriber')
              .where(column, value)
              .whereNot({ id })
              .whereNull('erased_at')
              .whereNull('same_as_id')
              .orderBy('id')
              .limit(most)
              .pluck('id')
          : Promise.resolve([]);
      const found = [...(await others('mobile', person.mobile)), ...(await others('email_key', person.email_key))];
      return [...new Set(found)].slice(0, most);
    },
  };

  /** Somebody who named no topic hears of everything, and goes on doing so. */
  async function giveTopics(keptId: number, absorbedId: number): Promise<string[]> {
    const of = (id: number): Promise<string[]> => db('subscriber_topic').where({ subscriber_id: id }).pluck('topic');
    const [kept, others] = [await of(keptId), await of(absorbedId)];
    if (kept.length === 0) return [];
    const given = others.filter((topic) => !kept.includes(topic));
    if (given.length) await db('subscriber_topic').insert(given.map((topic) => ({ subscriber_id: keptId, topic })));
    return given;
  }

  async function giveFields(keptId: number, absorbedId: number): Promise<number[]> {
    const kept: number[] = await db('subscriber_field').where({ subscriber_id: keptId }).pluck('field_id');
    const given: number[] = await db('subscriber_field')
      .where({ subscriber_id: absorbedId })
      .whereNotIn('field_id', kept)
      .pluck('field_id');
    if (given.length)
      await db.raw(
        `insert into subscriber_field (subscriber_id, field_id, typed, word, number, day, month_day)
         select ?, field_id, typed, word, number, day, month_day from subscriber_field
         where subscriber_id = ? and field_id in (${given.map(() => '?').join()})`,
        [keptId, absorbedId, ...given],
      );
    return given;
  }

  /** What somebody typed since stays. */
  async function takeBackFields(keptId: number, absorbedId: number, fields: readonly number[]): Promise<void> {
    if (fields.length)
      await db.raw(
        `delete k from subscriber_field k join subscriber_field a on a.field_id = k.field_id and a.subscriber_id = ? and a.typed = k.typed
         where k.subscriber_id = ? and k.field_id in (${fields.map(() => '?').join()})`,
        [absorbedId, keptId, ...fields],
      );
  }

  async function takeBackFacts(kept: Person, { filled }: Moved): Promise<void> {
    const same = filledFacts.filter((fact) => filled[fact] !== undefined && kept[fact] === filled[fact]);
    if (same.length)
      await db('subscriber')
        .where({ id: kept.id })
        .update({
          ...Object.fromEntries(same.map((fact) => [fact, ''])),
          ...(same.includes('mobile') && { text_consent: false }),
        });
  }

  async function moveRows(table: 'person_note' | 'letter', from: number, to: number): Promise<number[]> {
    const ids: number[] = await db(table).where({ subscriber_id: from }).pluck('id');
    if (ids.length) await db(table).whereIn('id', ids).update({ subscriber_id: to });
    return ids;
  }
}

function filledFrom(kept: Person, other: Person): Partial<Record<Fact, string>> {
  const given = filledFacts.filter((fact) => kept[fact] === '' && other[fact] !== '' && fact !== 'zone_from');
  return {
    ...Object.fromEntries(given.map((fact) => [fact, other[fact]])),
    // How a zone is known goes along with it.
    ...(given.includes('zone') && other.zone_from !== '' && { zone_from: other.zone_from }),
  };
}

const latest = (a: Date | null, b: Date | null): Date | null => (a && b ? (a > b ? a : b) : (a ?? b));
const least = (a: number | null, b: number | null): number | null => (a === null ? b : b === null ? a : Math.min(a, b));
