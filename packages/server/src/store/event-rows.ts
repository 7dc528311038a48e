import type { Knex } from 'knex';
import { eventFacts, type EventReach, type EventStatus } from '@convite/contract';
import type { EventVersion } from '@convite/core';
import { readJson } from './database';

/** An event with its newest version. */
export interface StoredEvent {
  readonly id: number;
  readonly publicKey: string;
  readonly uid: string;
  readonly status: EventStatus;
  /** Who may see it. */
  readonly reach: EventReach;
  /** As whom it is written of; null for the house. */
  readonly senderId: number | null;
  /** Null while it is a draft. */
  readonly publishedAt: Date | null;
  /** Who holds all of its countdown; null where nobody does. */
  readonly heldBy: string | null;
  /** So many minutes late its cues may still go; null for the usual hour. */
  readonly graceMinutes: number | null;
  /** Who is told of what stands by, in place of the house's contact; both empty for that. */
  readonly contact: { readonly email: string; readonly mobile: string };
  readonly version: EventVersion;
  /** When the newest version was made; the DTSTAMP of what is published. */
  readonly at: Date;
}

/** A version with who made it when. */
export interface StoredVersion extends EventVersion {
  readonly at: Date;
  readonly by: string;
}

export interface EventRow {
  id: number;
  public_key: string;
  uid: string;
  status: EventStatus;
  reach: EventReach;
  sender_id: number | null;
  published_at: Date | null;
  held_by: string | null;
  grace_minutes: number | null;
  contact_email: string;
  contact_mobile: string;
  number: number;
  sequence: number;
  facts: unknown;
  called_off: number;
  created_at: Date;
}

/** Events, each with its newest version. */
export const newestOf = (db: Knex) =>
  db('event as e')
    .join('event_version as v', (on) => on.on('v.event_id', 'e.id').andOn('v.number', 'e.version'))
    .select(
      'e.id',
      'e.public_key',
      'e.uid',
      'e.status',
      'e.reach',
      'e.sender_id',
      'e.published_at',
      'e.held_by',
      'e.grace_minutes',
      'e.contact_email',
      'e.contact_mobile',
      'v.number',
      'v.sequence',
      'v.facts',
      'v.called_off',
      'v.created_at',
    );

export const versionOf = (row: Pick<EventRow, 'number' | 'sequence' | 'facts' | 'called_off'>): EventVersion => ({
  number: row.number,
  sequence: row.sequence,
  facts: eventFacts.parse(readJson(row.facts)),
  calledOff: Boolean(row.called_off),
});

export const eventOf = (row: EventRow): StoredEvent => ({
  id: row.id,
  publicKey: row.public_key,
  uid: row.uid,
  status: row.status,
  reach: row.reach,
  senderId: row.sender_id,
  publishedAt: row.published_at,
  heldBy: row.held_by,
  graceMinutes: row.grace_minutes,
  contact: { email: row.contact_email, mobile: row.contact_mobile },
  version: versionOf(row),
  at: row.created_at,
});
