import type { Knex } from 'knex';
import * as z from 'zod';
import { isSame, mergedFacts, type MergedFact, type MergePlan } from '@convite/core';
import { consentStore } from './consents';
import { readJson } from './database';
import { isHere } from './is-here';
import { listStore } from './lists';
import { eventsOf, guestsMoved, moveGuest, moveGuestBack } from './move-guest';

const asks = z.object({ pausedUntil: z.string().nullable(), mostPerWeek: z.number().nullable() });
/** What went over as two people were put together. */
const moved = guestsMoved.extend({
  facts: z.partialRecord(z.enum(mergedFacts), z.string()),
  email: z.string(),
  /** Lists that the absorbed one was on, and those of them that the other went on by it. */
  lists: z.array(z.number()),
  joined: z.array(z.number()),
  topics: z.array(z.string()),
  fields: z.array(z.number()),
  notes: z.array(z.number()),
  letters: z.array(z.number()),
  /** What the one asked for before, and as it is since. */
  asked: z.object({ before: asks, since: asks }),
});
export interface StoredMerge {
  readonly id: number;
  readonly keptId: number;
  readonly absorbedId: number;
  readonly at: Date;
  readonly by: string;
}

/** Whether two people can be put together. */
export type MayMerge = 'yes' | 'not-there' | 'has-others';

const columnOf: Readonly<Record<MergedFact, string>> = {
  name: 'name',
  mobile: 'mobile',
  phone: 'phone',
  zone: 'zone',
  zoneFrom: 'zone_from',
  language: 'language',
};

/** Two people put together, and parted again. All of it is to be called in a transaction. */
export function mergeStore(db: Knex) {
  const asksOf = async (id: number): Promise<z.infer<typeof asks>> => {
    const row: { paused_until: Date | null; most_per_week: number | null } | undefined = await db('subscriber')
      .where({ id })
      .first('paused_until', 'most_per_week');
    return { pausedUntil: row?.paused_until?.toISOString() ?? null, mostPerWeek: row?.most_per_week ?? null };
  };
  const setAsks = (id: number, { pausedUntil, mostPerWeek }: z.infer<typeof asks>): Promise<number> =>
    db('subscriber')
      .where({ id })
      .update({ paused_until: pausedUntil === null ? null : new Date(pausedUntil), most_per_week: mostPerWeek });

  return {
    /** Nobody else changes them until the transaction is over. */
    async hold(keptId: number, absorbedId: number): Promise<MayMerge> {
      const rows: { id: number; same_as_id: number | null }[] = await db('subscriber')
        .whereIn('id', [keptId, absorbedId])
        .whereNull('erased_at')
        .orderBy('id')
        .forUpdate()
        .select('id', 'same_as_id');
      if (rows.length < 2 || rows.some((row) => row.same_as_id !== null)) return 'not-there';
      // Theirs would be nobody's once the two are parted again.
      return (await this.absorbedBy(absorbedId)).length ? 'has-others' : 'yes';
    },
    /** Further fields in which somebody has something. */
    async fieldsOf(id: number): Promise<number[]> {
      return db('subscriber_field').where({ subscriber_id: id }).pluck('field_id');
    },

    /**
     * Lets one take over the other as it is planned, and their answers, places and notes. Both are held.
     * @returns the events whose guests changed
     */
    async absorb(keptId: number, absorbedId: number, plan: MergePlan, by: string, now: Date): Promise<number[]> {
      const lists = await listStore(db).ofPerson(absorbedId);
      await listStore(db).setOf(absorbedId, [], now);
      const joined: number[] = [];
      for (const list of plan.joins) joined.push(...(await listStore(db).join(list, [keptId], now)).map(() => list));
      if (plan.topics.length)
        await db('subscriber_topic').insert(plan.topics.map((topic) => ({ subscriber_id: keptId, topic })));
      await giveFields(keptId, absorbedId, plan.fields);
      if (plan.email) {
        await db('subscriber').where({ id: absorbedId }).update({ email: null });
        await db('subscriber').where({ id: keptId }).update({ email: plan.email });
      }
      const facts = Object.fromEntries(
        mergedFacts.flatMap((fact) => (plan.facts[fact] === undefined ? [] : [[columnOf[fact], plan.facts[fact]]])),
      );
      if (Object.keys(facts).length) await db('subscriber').where({ id: keptId }).update(facts);
      const before = await asksOf(keptId);
      await setAsks(keptId, plan);
      const consents = consentStore(db);
      const said = (what: string) => ({ source: 'by-hand', how: `${what} ${asOther(absorbedId)}`, by }) as const;
      if (plan.optsOut) await consents.note(keptId, 'email', false, said('opted out'), now);
      if (plan.agreesToEmail) await consents.note(keptId, 'email', true, said('agreed'), now);
      if (plan.textConsent !== null)
        await consents.note(keptId, 'text', plan.textConsent, said(plan.textConsent ? 'agreed' : 'never agreed'), now);
      const guests = await moveGuest(db, absorbedId, keptId);
      const done: z.infer<typeof moved> = {
        ...guests,
        facts: plan.facts,
        email: plan.email,
        lists,
        joined,
        topics: [...plan.topics],
        fields: [...plan.fields],
        notes: await moveRows('person_note', absorbedId, keptId),
        letters: await moveRows('letter', absorbedId, keptId),
        asked: { before, since: await asksOf(keptId) },
      };
      await db('subscriber').where({ id: absorbedId }).update({ same_as_id: keptId });
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
      const [kept, other] = [await rowOf(keptId), await rowOf(absorbedId)];
      if (!kept || other?.same_as_id !== keptId) return null;
      const done = moved.parse(readJson(found.moved));
      const same = mergedFacts.filter(
        (fact) => done.facts[fact] !== undefined && kept[columnOf[fact]] === done.facts[fact],
      );
      if (same.length)
        await db('subscriber')
          .where({ id: keptId })
          .update(Object.fromEntries(same.map((fact) => [columnOf[fact], ''])));
      if (isSame(await asksOf(keptId), done.asked.since)) await setAsks(keptId, done.asked.before);
      if (done.email && kept['email'] === done.email) {
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
      await consentStore(db).takeBackLast(keptId, asOther(absorbedId), by, now);
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
          ? db('subscriber as s')
              .where(column, value)
              .whereNot({ id })
              .whereRaw(isHere)
              .orderBy('id')
              .limit(most)
              .pluck('id')
          : Promise.resolve([]);
      const found = [...(await others('mobile', person.mobile)), ...(await others('email_key', person.email_key))];
      return [...new Set(found)].slice(0, most);
    },
  };

  /** Whoever else changes them waits. */
  async function rowOf(id: number): Promise<Record<string, unknown> | undefined> {
    return db('subscriber').where({ id }).whereNull('erased_at').forUpdate().first();
  }

  async function giveFields(keptId: number, absorbedId: number, fields: readonly number[]): Promise<void> {
    if (fields.length)
      await db.raw(
        `insert into subscriber_field (subscriber_id, field_id, typed, word, number, day, month_day)
         select ?, field_id, typed, word, number, day, month_day from subscriber_field
         where subscriber_id = ? and field_id in (${fields.map(() => '?').join()})`,
        [keptId, absorbedId, ...fields],
      );
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

  async function moveRows(table: 'person_note' | 'letter', from: number, to: number): Promise<number[]> {
    const ids: number[] = await db(table).where({ subscriber_id: from }).pluck('id');
    if (ids.length) await db(table).whereIn('id', ids).update({ subscriber_id: to });
    return ids;
  }
}

/** How a consent ends that one person gave as the other. */
const asOther = (absorbedId: number): string => `as person ${absorbedId}, with whom they were put together`;
