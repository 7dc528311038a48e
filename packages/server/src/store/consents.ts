import type { Knex } from 'knex';
import { cut, type Channel } from '@convite/core';
import { cameOfStore } from './came-of';
import { tellOthers } from './webhooks';

/** By what way it reached us. */
export type ConsentSource =
  'form' | 'file' | 'api' | 'by-hand' | 'text' | 'mail' | 'as-it-stood' | 'taken-back' | 'new-number';

/** Where a consent comes from. */
export interface ConsentOrigin {
  readonly source: ConsentSource;
  readonly how: string;
  readonly by: string;
}

/** What somebody said about being written to, and how we know. */
export interface ConsentNote {
  readonly channel: Channel;
  readonly isGiven: boolean;
  readonly how: string;
  readonly by: string;
  readonly at: Date;
}

/** A line of the ledger, as another system reads it. */
export interface LedgerLine {
  readonly id: number;
  readonly subscriberId: number;
  readonly channel: Channel;
  readonly isGiven: boolean;
  readonly how: string;
  readonly source: string;
  readonly at: Date;
}

/** Shown of one person. */
const mostShown = 20;

/**
 * The ledger of consent, which is only ever added to. What counts now (`text_consent` and `opted_out_at` of a person) follows
 * from it, as core's `consentNow` says, and is written here, beside the entry, and nowhere else.
 */
export function consentStore(db: Knex) {
  const enter = async (
    people: Knex.QueryBuilder,
    channel: Channel,
    isGiven: boolean,
    { source, how, by }: ConsentOrigin,
    at: Date,
  ): Promise<void> => {
    if (!isGiven)
      await tellOthers(db, await people.clone().pluck('s.id'), { kind: 'opt-out', channel, detail: how }, at);
    const columns = ['subscriber_id', 'channel', 'is_given', 'how', 'by_name', 'source', 'at'];
    const values = [channel, isGiven, cut(how, 300), cut(by, 120), source, at];
    const rows = people.clone().select('s.id', ...values.map((value) => db.raw('?', [value])));
    await db.into(db.raw(`consent (${columns.map(() => '??').join(', ')})`, columns)).insert(rows);
    await people
      .clone()
      .update(
        channel === 'text'
          ? { text_consent: isGiven }
          : isGiven
            ? { email_consent: true, opted_out_at: null }
            : { opted_out_at: db.raw('coalesce(opted_out_at, ?)', [at]) },
      );
  };
  const of = (ids: readonly number[]) => db('subscriber as s').whereIn('s.id', [...ids]);
  /** Of whom the opposite counts. */
  const otherwise = (people: Knex.QueryBuilder, channel: Channel, isGiven: boolean): Knex.QueryBuilder =>
    channel === 'text'
      ? people.where('s.text_consent', !isGiven)
      : isGiven
        ? people.where((or) => void or.whereNotNull('s.opted_out_at').orWhere('s.email_consent', false))
        : people.whereNull('s.opted_out_at');

  const refusals = () =>
    db('consent as c')
      .where({ 'c.channel': 'text', 'c.topic': '', 'c.is_given': false })
      .whereNotIn('c.source', ['taken-back', 'new-number']);
  /** Only those of people `s` who never said no to texts, nor anybody who was found to be them. */
  const neverRefused = (people: Knex.QueryBuilder): Knex.QueryBuilder =>
    people
      .whereNotExists(refusals().whereRaw('c.subscriber_id = s.id'))
      .whereNotExists(refusals().join('subscriber as w', 'w.id', 'c.subscriber_id').whereRaw('w.same_as_id = s.id'));

  return {
    /** Takes down what somebody said, also where it is what counted before. */
    async note(id: number, channel: Channel, isGiven: boolean, origin: ConsentOrigin, at: Date): Promise<void> {
      await enter(of([id]), channel, isGiven, origin, at);
    },
    /** Of some who are about to get a number and had none: consent was not given with this one, so it must confirm (START). */
    async endForNewNumbers(ids: readonly number[], at: Date): Promise<void> {
      if (ids.length === 0) return;
      const origin = { source: 'new-number', how: 'another number was given', by: '' } as const;
      const those: number[] = await otherwise(of(ids).where('s.mobile', ''), 'text', false).pluck('s.id');
      if (those.length) await enter(of(those), 'text', false, origin, at);
    },
    /** Nothing but what answers somebody goes to them any more. Saying so twice says it once. */
    async optOut(id: number, origin: ConsentOrigin, at: Date): Promise<void> {
      if ((await this.optOutMany([id], origin, at)).length) await cameOfStore(db).noteOfPerson(id, 'opt_outs', at);
    },
    /** The same for many. @returns who had not said so before */
    async optOutMany(ids: readonly number[], origin: ConsentOrigin, at: Date): Promise<number[]> {
      const those: number[] = await otherwise(of(ids), 'email', false).forUpdate().pluck('s.id');
      if (those.length) await enter(of(those), 'email', false, origin, at);
      return those;
    },
    /**
     * By number, since that is all a text tells: everybody who shares it. A no is taken down of those too who had never said
     * yes, so that no file says it for them later.
     */
    async noteTexts(mobile: string, isGiven: boolean, origin: ConsentOrigin, at: Date): Promise<void> {
      const ids: number[] = await db('subscriber as s')
        .where('s.mobile', mobile)
        .where((or) => {
          void otherwise(or, 'text', isGiven);
          if (!isGiven) void or.orWhere((silent) => void neverRefused(silent));
        })
        .pluck('s.id');
      if (ids.length) await enter(of(ids), 'text', isGiven, origin, at);
      if (!isGiven) for (const id of ids) await cameOfStore(db).noteOfPerson(id, 'opt_outs', at);
    },
    /**
     * What a file or a form says for others: consent to texts, of those of whom none is known. Who took theirs back said so
     * themselves, and no file takes that back.
     */
    async grantTexts(ids: readonly number[], origin: ConsentOrigin, at: Date): Promise<void> {
      if (ids.length === 0) return;
      const chosen: number[] = await neverRefused(otherwise(of(ids), 'text', true)).pluck('s.id');
      if (chosen.length) await enter(of(chosen), 'text', true, origin, at);
    },
    /** What a file says for people who came by it just now, of whom nothing else is known. */
    async noteFresh(
      ids: readonly number[],
      channel: Channel,
      { source, how, by }: ConsentOrigin,
      at: Date,
    ): Promise<void> {
      if (ids.length === 0) return;
      await db.raw(
        `insert into consent (subscriber_id, channel, is_given, how, by_name, source, at)
         select one.id, ?, true, ?, ?, ?, ? from json_table(?, '$[*]' columns (id bigint path '$')) as one`,
        [channel, cut(how, 300), cut(by, 120), source, at, JSON.stringify(ids)],
      );
    },
    /** The same for email: of those who came without a word of it. Who opted out stays so. */
    async grantEmails(ids: readonly number[], origin: ConsentOrigin, at: Date): Promise<void> {
      if (ids.length === 0) return;
      const chosen: number[] = await of(ids).where('s.email_consent', false).whereNull('s.opted_out_at').pluck('s.id');
      if (chosen.length) await enter(of(chosen), 'email', true, origin, at);
    },
    /**
     * What a file said for others is taken back with it, where they have said nothing themselves since. They stand again as who
     * never said anything: another file may say it for them.
     */
    async takeBack(ids: readonly number[], channel: Channel, importId: number, at: Date): Promise<void> {
      if (ids.length === 0) return;
      const last: { subscriber_id: number; source: string; is_given: number; how: string }[] = await db('consent as c')
        .whereIn(
          'c.id',
          db('consent')
            .where({ channel, topic: '' })
            .whereIn('subscriber_id', [...ids])
            .groupBy('subscriber_id')
            .max('id'),
        )
        .select('c.subscriber_id', 'c.source', 'c.is_given', 'c.how');
      const those = last
        .filter((one) => one.source === 'file' && one.is_given && one.how.endsWith(`(import ${importId})`))
        .map((one) => one.subscriber_id);
      if (those.length === 0) return;
      const how = `import ${importId} was taken back`;
      const entry = { channel, is_given: false, how, by_name: '', source: 'taken-back', at };
      await db('consent').insert(those.map((id) => ({ subscriber_id: id, ...entry })));
      await of(those).update(channel === 'text' ? { text_consent: false } : { email_consent: false });
    },
    /**
     * What was said of somebody in another's name is taken back, where it is what was said last: by its words.
     * @param how how those entries end
     */
    async takeBackLast(id: number, how: string, by: string, at: Date): Promise<void> {
      for (const channel of ['email', 'text'] as const) {
        const last: { is_given: number; how: string } | undefined = await db('consent')
          .where({ subscriber_id: id, channel, topic: '' })
          .orderBy('id', 'desc')
          .first('is_given', 'how');
        if (!last?.how.endsWith(how)) continue;
        const isGiven = !last.is_given;
        const entry = { channel, is_given: isGiven, how: cut(`no more ${how}`, 300), by_name: cut(by, 120) };
        await db('consent').insert({ subscriber_id: id, ...entry, source: 'taken-back', at });
        await of([id]).update(
          channel === 'text' ? { text_consent: isGiven } : isGiven ? { opted_out_at: null } : { email_consent: false },
        );
      }
    },
    /** Line after line, from behind one of them; of one person where that is asked. */
    async ledger(after: number, limit: number, subscriberId?: number): Promise<LedgerLine[]> {
      const rows: {
        id: number;
        subscriber_id: number;
        channel: Channel;
        is_given: number;
        how: string;
        source: string;
        at: Date;
      }[] = await db('consent')
        .where('id', '>', after)
        .modify((query) => void (subscriberId !== undefined && query.where({ subscriber_id: subscriberId })))
        .orderBy('id')
        .limit(limit);
      return rows.map(({ subscriber_id, is_given, id, channel, how, source, at }) => ({
        id,
        subscriberId: subscriber_id,
        isGiven: Boolean(is_given),
        channel,
        how,
        source,
        at,
      }));
    },
    /** Whether somebody ever took back that they are sent texts. */
    async hasRefusedTexts(id: number): Promise<boolean> {
      return !(await neverRefused(of([id])).first('s.id'));
    },
    /** The last things that were taken down of somebody. */
    async latestOf(id: number): Promise<ConsentNote[]> {
      const rows: { channel: Channel; is_given: number; how: string; by_name: string; at: Date }[] = await db('consent')
        .where({ subscriber_id: id })
        .orderBy('id', 'desc')
        .limit(mostShown);
      return rows.map((row) => ({
        channel: row.channel,
        isGiven: Boolean(row.is_given),
        how: row.how,
        by: row.by_name,
        at: row.at,
      }));
    },
  };
}
