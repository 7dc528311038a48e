import type { Knex } from 'knex';
import { cameOfStore } from './came-of';
import type { Channel, ReplyState } from '@convite/core';

export interface DemoSubscriber {
  readonly id: number;
  readonly email: string | null;
  readonly name: string;
  readonly zone: string;
  readonly mobile: string;
  readonly textConsent: boolean;
  readonly optedOutAt: Date | null;
  readonly bouncedAt: Date | null;
  readonly createdAt: Date;
  readonly topics: readonly string[];
  readonly lists: readonly number[];
}

export interface DemoInvitee {
  readonly subscriberId: number;
  readonly channel: Channel;
  readonly reply: ReplyState;
  readonly repliedAt: Date | null;
  readonly comment: string;
  readonly invitedAt: Date;
  readonly holdsVersion: number;
}

export interface DemoDelivery {
  readonly subscriberId: number;
  readonly state: 'sent' | 'failed' | 'bounced' | 'delivered';
  readonly answer: string;
}

const batchSize = 1000;

/** Writes the demonstration's past: what would have come about by sending, without sending it. */
export function demoBulk(db: Knex) {
  const insert = (table: string, rows: object[]): Promise<unknown> => db.batchInsert(table, rows, batchSize);
  return {
    /** Takes everything out of a database that was filled in part. */
    async clear(): Promise<void> {
      const tables: string[] = await db('information_schema.tables')
        .whereRaw('table_schema = database()')
        .where({ table_type: 'BASE TABLE' })
        .whereNotIn('table_name', ['knex_migrations', 'knex_migrations_lock', 'migration_lock', 'migration_step'])
        .pluck('table_name');
      await db.transaction(async (tx) => {
        await tx.raw('set foreign_key_checks = 0');
        for (const table of tables) await tx(table).delete();
        await tx.raw('set foreign_key_checks = 1');
      });
    },
    async subscribers(people: readonly DemoSubscriber[]): Promise<void> {
      await insert(
        'subscriber',
        people.map((one) => ({
          id: one.id,
          email: one.email,
          name: one.name,
          zone: one.zone,
          mobile: one.mobile,
          text_consent: one.textConsent,
          opted_out_at: one.optedOutAt,
          bounced_at: one.bouncedAt,
          bounce_text: one.bouncedAt ? '550 5.1.1 no such mailbox' : '',
          created_at: one.createdAt,
        })),
      );
      const consent = { how: 'on the paper form at the gate', by_name: '', source: 'form' };
      await insert(
        'consent',
        people.flatMap(({ id, textConsent, optedOutAt, createdAt }) => [
          ...(textConsent ? [{ ...consent, subscriber_id: id, channel: 'text', is_given: true, at: createdAt }] : []),
          ...(optedOutAt
            ? [
                {
                  ...consent,
                  how: 'pressed the link to opt out',
                  subscriber_id: id,
                  channel: 'email',
                  is_given: false,
                  at: optedOutAt,
                },
              ]
            : []),
        ]),
      );
      await insert(
        'subscriber_topic',
        people.flatMap((one) => one.topics.map((topic) => ({ subscriber_id: one.id, topic }))),
      );
      await insert(
        'list_member',
        people.flatMap((one) => one.lists.map((list) => ({ list_id: list, subscriber_id: one.id }))),
      );
      await db.raw('update list l set size = (select count(*) from list_member m where m.list_id = l.id)');
      await db.raw(
        `replace into list_growth (list_id, day, came, went, bounced)
         select m.list_id, date(s.created_at), count(*), 0, 0
         from list_member m join subscriber s on s.id = m.subscriber_id group by m.list_id, date(s.created_at)`,
      );
    },
    async invitees(eventId: number, invitees: readonly DemoInvitee[]): Promise<void> {
      await insert(
        'invitee',
        invitees.map((one) => ({
          event_id: eventId,
          subscriber_id: one.subscriberId,
          channel: one.channel,
          reply: one.reply,
          reply_sequence: one.repliedAt ? 0 : null,
          reply_stamp: one.repliedAt,
          replied_at: one.repliedAt,
          comment: one.comment,
          invited_at: one.invitedAt,
          holds_version: one.holdsVersion,
        })),
      );
    },
    /** Marks a firing as gone out, with its deliveries. */
    async goneOut(firingId: number, channel: Channel, at: Date, deliveries: readonly DemoDelivery[]): Promise<void> {
      await insert(
        'delivery',
        deliveries.map((one) => ({
          firing_id: firingId,
          subscriber_id: one.subscriberId,
          channel,
          state: one.state,
          attempts: 1,
          next_at: at,
          answer: one.answer,
          sent_at: at,
          counts: true,
        })),
      );
      const failed = deliveries.filter(({ state }) => state === 'failed' || state === 'bounced').length;
      await db('firing')
        .where({ id: firingId })
        .update({
          state: 'done',
          held: null,
          is_expanded: true,
          planned: deliveries.length,
          sent: deliveries.length - failed,
          failed,
        });
      await cameOfStore(db).countClosed(firingId, at);
    },
    /** So many answered what was begun from a wording. */
    async answered(key: string, replies: number): Promise<void> {
      await db('wording_came').where({ wording_key: key }).increment('replies', replies);
    },
  };
}
export type DemoBulk = ReturnType<typeof demoBulk>;
