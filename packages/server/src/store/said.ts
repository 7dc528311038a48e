import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import * as z from 'zod';
import { eventReach, settings, zoneName } from '@convite/contract';
import { replyStates } from '@convite/core';
import { content } from './content';
import { readJson } from './database';
import type { Recipient } from './subscribers';

/** Of Settings, what messages say. */
export const house = settings
  .pick({
    organisation: true,
    postalAddress: true,
    sender: true,
    textSender: true,
    webCalendars: true,
    page: true,
    look: true,
    countsLinks: true,
    countsOpens: true,
    dayOrder: true,
    clock: true,
    language: true,
  })
  .extend({
    zone: zoneName.default('UTC'),
    /** Of the sender that it writes as: nobody reads answers; who gets the first message of a sending. */
    takesNoAnswers: z.boolean().optional(),
    copyTo: z.string().optional(),
  });
export type House = z.infer<typeof house>;

/** What everybody's message of a firing was made from, as it stood when they were written. */
export const partForAll = z.object({
  house,
  content,
  /** Of the event, the version it says and whom its page is for; null for what is about no event. */
  version: z.number().nullable(),
  reach: eventReach.nullable(),
  /** Guests that the entry shows. */
  guests: z.array(z.object({ name: z.string(), email: z.string(), state: z.string() })),
});
export type PartForAll = z.infer<typeof partForAll>;

/** What one person's was made from beside that; what is empty is left out. */
const personPart = z.object({
  name: z.string().default(''),
  email: z.string().default(''),
  mobile: z.string().default(''),
  zone: z.string().default(''),
  language: z.string().default(''),
  feedNonce: z.number().default(0),
  own: z
    .object({
      start: z.string(),
      end: z.string(),
      place: z.string(),
      notes: z.string(),
      revision: z.number(),
    })
    .nullable()
    .default(null),
  dates: z.array(z.string()).nullable().default(null),
  isGuest: z.boolean().default(false),
  reply: z.enum(replyStates).default('needs-action'),
  places: z.array(z.object({ occurrence: z.string(), places: z.number() })).optional(),
  mindsNoting: z.boolean().optional(),
  topics: z.array(z.string()).default([]),
});

export interface PersonPart {
  readonly person: Recipient;
  /** That they asked for. */
  readonly topics: readonly string[];
}

/** One message as it was said. */
export interface Said extends PersonPart {
  readonly deliveryId: number;
  readonly firingId: number;
  readonly channel: 'email' | 'text';
  readonly sentAt: Date | null;
  readonly forAll: PartForAll;
}

/** Nobody changes more often what goes out just now; links of more lead nowhere. */
const mostParts = 200;

interface Row {
  id: number;
  firing_id: number;
  subscriber_id: number;
  channel: 'email' | 'text';
  sent_at: Date | null;
  part: unknown;
  person: string;
}

/** What messages were made from. Kept with the delivery, hot and past; shown again, never sent again. */
export function saidStore(db: Knex) {
  return {
    /** Keeps what all share, once however often it is asked for. @returns its number */
    async keepForAll(firingId: number, part: PartForAll): Promise<number> {
      const text = JSON.stringify(part);
      const digest = createHash('sha256').update(text).digest();
      await db('said_to_all').insert({ firing_id: firingId, digest, part: text }).onConflict().ignore();
      const row: { id: number } | undefined = await db('said_to_all')
        .where({ firing_id: firingId, digest })
        .first('id');
      if (!row) throw new Error(`firing ${firingId} is gone`);
      return row.id;
    },
    /** What all messages of a firing share, as it was said first and each time that it had changed, up to a bound. */
    async allForAll(firingId: number): Promise<PartForAll[]> {
      const rows: unknown[] = await db('said_to_all')
        .where({ firing_id: firingId })
        .orderBy('id')
        .limit(mostParts)
        .pluck('part');
      return rows.map((part) => partForAll.parse(readJson(part)));
    },
    /** Keeps what some messages were made from; of one said twice, what was said last. */
    async keep(
      said: readonly (PersonPart & { readonly deliveryId: number; readonly toAllId: number })[],
    ): Promise<void> {
      if (said.length === 0) return;
      await db('said')
        .insert(said.map((one) => ({ delivery_id: one.deliveryId, to_all_id: one.toAllId, person: writePerson(one) })))
        .onConflict('delivery_id')
        .merge();
    },
    /** What a message was made from; null for one that did not leave, or left before that was kept, or whose person is gone. */
    async find(deliveryId: number): Promise<Said | null> {
      const hot: Row | undefined = await db('delivery as d')
        .join('said as s', 's.delivery_id', 'd.id')
        .join('said_to_all as a', 'a.id', 's.to_all_id')
        .where('d.id', deliveryId)
        .first(...columns, 's.person');
      const row: Row | undefined =
        hot ??
        (await db('delivery_past as d')
          .join('said_to_all as a', 'a.id', 'd.to_all_id')
          .where('d.id', deliveryId)
          .whereNotNull('d.person')
          .first(...columns, 'd.person'));
      return row ? saidOf(row) : null;
    },
    /** Of people who are to be forgotten, nothing stays of what was written to them. */
    async forget(ids: readonly number[]): Promise<void> {
      await db('said')
        .whereIn(
          'delivery_id',
          db('delivery')
            .whereIn('subscriber_id', [...ids])
            .select('id'),
        )
        .delete();
      await db('delivery_past')
        .whereIn('subscriber_id', [...ids])
        .update({ person: null, to_all_id: null });
    },
  };
}

const columns = ['d.id', 'd.firing_id', 'd.subscriber_id', 'd.channel', 'd.sent_at', 'a.part'] as const;

function writePerson({ person, topics }: PersonPart): string {
  const { name, email, mobile, zone, language, feedNonce, own, dates, isGuest, reply, places, mindsNoting } = person;
  return JSON.stringify({
    name: name || undefined,
    email: email || undefined,
    mobile: mobile || undefined,
    zone: zone || undefined,
    language: language || undefined,
    feedNonce: feedNonce || undefined,
    own: own ?? undefined,
    dates: dates ?? undefined,
    isGuest: isGuest || undefined,
    reply: reply === 'needs-action' ? undefined : reply,
    places,
    mindsNoting: mindsNoting || undefined,
    topics: topics.length ? topics : undefined,
  });
}

/** @throws ZodError for what cannot be read */
function saidOf(row: Row): Said {
  const { topics, places, mindsNoting, ...person } = personPart.parse(JSON.parse(row.person));
  return {
    deliveryId: row.id,
    firingId: row.firing_id,
    channel: row.channel,
    sentAt: row.sent_at,
    forAll: partForAll.parse(readJson(row.part)),
    person: { id: row.subscriber_id, ...person, ...(places && { places }), ...(mindsNoting && { mindsNoting }) },
    topics,
  };
}
