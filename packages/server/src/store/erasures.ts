import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import * as z from 'zod';
import { askedKeysOf } from './asked';
import { listStore } from './lists';
import { peopleImportRowStore } from './people-import-rows';
import { saidStore } from './said';
import { signupStore } from './signups';

/** Where something stood that named them. */
const gone = '(erased)';
const sweptAtOnce = 500;
/** Of which nothing is to be counted later. */
const goneWithThem = [
  'subscriber_field',
  'subscriber_topic',
  'person_note',
  'consent',
  'letter',
  'news',
  'refusal',
  'page_opened',
  'link_pressed',
];

/** What is erased of somebody: nothing is left by which they could be known, and every count stays as it was. */
export function erasureStore(db: Knex) {
  const ofPerson = (table: string, id: number): Knex.QueryBuilder => db(table).where({ subscriber_id: id });

  /** Rewrites JSON of some rows, where the person stands in it. */
  const rewrite = async (rows: Knex.QueryBuilder, table: string, column: string, who: Erased): Promise<void> => {
    const found: { id: number; kept: unknown }[] = await rows.select('id', { kept: column });
    for (const { id, kept } of found) {
      const text = typeof kept === 'string' ? kept : JSON.stringify(kept);
      const without = JSON.stringify(withoutPerson(JSON.parse(text), who));
      if (without !== text)
        await db(table)
          .where({ id })
          .update({ [column]: without });
    }
  };

  /** What guests were shown of each other, and what was quoted to the person of their own words. */
  const takeOutOfFrozen = async (who: Erased): Promise<void> => {
    const ofEvents = db('firing').whereIn('event_id', ofPerson('invitee', who.id).select('event_id')).select('id');
    if (who.email)
      await rewrite(
        db('said_to_all').whereIn('firing_id', ofEvents).whereRaw('instr(part, ?) > 0', [who.email]),
        'said_to_all',
        'part',
        who,
      );
    const answered: number[] = [
      ...(await ofPerson('delivery', who.id).pluck('firing_id')),
      ...(await ofPerson('delivery_past', who.id).pluck('firing_id')),
    ];
    const answers: number[] = await db('firing').where('kind', 'answer').whereIn('id', answered).pluck('id');
    await rewrite(db('firing').whereIn('id', answers), 'firing', 'content', who);
    await rewrite(db('said_to_all').whereIn('firing_id', answers), 'said_to_all', 'part', who);
  };

  /** What is known by their address alone. */
  const takeOutByAddress = async (email: string): Promise<void> => {
    const shown = (column: string) => ({ [column]: email });
    for (const column of ['attendee', 'from_address'])
      await db('reply').where(shown(column)).update({ attendee: gone, from_address: gone, raw: '' });
    await db('letter').where({ from_address: email }).delete();
    await db('asked_mail').whereIn('address', askedKeysOf(email)).delete();
    await db('registration_request').where({ email }).delete();
    await db('invitee').where({ delegated_to: email }).update({ delegated_to: gone });
  };

  return {
    /**
     * Erases a person. Who they were is held for nobody: a second erasure finds nothing. To be called in a transaction.
     * @returns whether there was somebody
     */
    async erase(id: number, now: Date): Promise<boolean> {
      const row: { email: string | null; mobile: string } | undefined = await db('subscriber')
        .where({ id })
        .whereNull('erased_at')
        .forUpdate()
        .first('email', 'mobile');
      if (!row) return false;
      const { email, mobile } = row;
      await this.remember([email ?? '', mobile].filter(Boolean), now);
      await takeOutOfFrozen({ id, email: email ?? '' });
      if (email) await takeOutByAddress(email);
      await peopleImportRowStore(db).forgetPerson(id, [email ?? '', mobile].filter(Boolean));
      await signupStore(db).forgetPerson(id, email);
      await saidStore(db).forget([id]);
      await takeOutAnswers([id]);
      for (const table of goneWithThem) await ofPerson(table, id).delete();
      for (const table of ['invitee', 'invitee_occurrence', 'proposal'])
        await ofPerson(table, id).update({ comment: '' });
      await ofPerson('personal', id).update({ place: '', notes: '' });
      await ofPerson('registration', id).update({ answers: '{}' });
      await ofPerson('registration', id)
        .where({ state: 'waitlisted' })
        .update({ state: 'cancelled', kept_until: null });
      // Who is told of them is told a number.
      await ofPerson('webhook_call', id).update({ detail: '' });
      // Of guests who were just taken off, all is kept for a moment, to be put back.
      await db('removal')
        .whereRaw('`rows` regexp ?', [`"subscriber_id":${id}[,}]`])
        .delete();
      await listStore(db).setOf(id, [], now);
      await db('subscriber').where({ id }).update({
        email: null,
        name: '',
        mobile: '',
        phone: '',
        zone: '',
        zone_from: '',
        paused_until: null,
        most_per_week: null,
        minds_noting: false,
        language: '',
        text_consent: false,
        opted_out_at: now,
        bounced_at: null,
        bounce_text: '',
        erased_at: now,
      });
      return true;
    },

    /**
     * What was on its way as somebody was erased may have been taken down after it: of who was erased since then, it goes too.
     * @returns how many people were looked at
     */
    async sweep(since: Date): Promise<number> {
      const ids: number[] = await db('subscriber').where('erased_at', '>=', since).orderBy('erased_at').pluck('id');
      for (let from = 0; from < ids.length; from += sweptAtOnce) {
        const some = ids.slice(from, from + sweptAtOnce);
        await saidStore(db).forget(some);
        await takeOutAnswers(some);
      }
      return ids.length;
    },
    /** They do not come in again by what others hand in. */
    async remember(keys: readonly string[], now: Date): Promise<void> {
      if (keys.length)
        await db('forgotten')
          .insert(keys.map((key) => ({ digest: digestOf(key), at: now })))
          .onConflict()
          .ignore();
    },
    /** Who of these addresses and numbers asked to be forgotten. */
    async forgottenAmong(keys: readonly string[]): Promise<ReadonlySet<string>> {
      if (keys.length > 1 && (await db('forgotten').first('digest')) === undefined) return new Set();
      const byDigest = new Map(keys.filter(Boolean).map((key) => [digestOf(key), key]));
      const found: string[] = await db('forgotten')
        .whereIn('digest', [...byDigest.keys()])
        .pluck('digest');
      return new Set(found.flatMap((digest) => byDigest.get(digest) ?? []));
    },
    /** The same of those who asked since then, who are few. */
    async forgottenSince(keys: readonly string[], since: Date): Promise<ReadonlySet<string>> {
      const digests = new Set<string>(await db('forgotten').where('at', '>=', since).pluck('digest'));
      return new Set(digests.size ? keys.filter((key) => digests.has(digestOf(key))) : []);
    },
    /** They came back by themselves. */
    async welcomeBack(keys: readonly string[]): Promise<void> {
      await db('forgotten').whereIn('digest', keys.filter(Boolean).map(digestOf)).delete();
    },
  };

  /** Servers quote addresses in what they answer. */
  async function takeOutAnswers(ids: readonly number[]): Promise<void> {
    const theirs = (table: string) => db(table).whereIn('subscriber_id', [...ids]);
    await db('attempt').whereIn('delivery_id', theirs('delivery').select('id')).update({ answer: '' });
    for (const table of ['delivery', 'delivery_past'])
      await theirs(table).whereNot('answer', '').update({ answer: '' });
  }
}

interface Erased {
  readonly id: number;
  /** Empty where they had none. */
  readonly email: string;
}

const shownGuest = z.looseObject({ email: z.string() });
const quotation = z.looseObject({ kind: z.literal('quoted') });

/** What was frozen, without the person: as a guest whom others were shown, and as whom their own words were quoted to. */
function withoutPerson(kept: unknown, who: Erased): unknown {
  if (Array.isArray(kept))
    return kept
      .filter((one) => !quotation.safeParse(one).success)
      .map((one) =>
        who.email && shownGuest.safeParse(one).data?.email === who.email
          ? { ...one, name: gone, email: gone }
          : withoutPerson(one, who),
      );
  if (typeof kept !== 'object' || kept === null) return kept;
  return Object.fromEntries(Object.entries(kept).map(([part, value]) => [part, withoutPerson(value, who)]));
}

const digestOf = (key: string): string => createHash('sha256').update(key.toLowerCase()).digest('hex');
