import type { Presence } from '@convite/core';
import type { Knex } from 'knex';

/** Somebody asked to register for a date by an address, and its owner has yet to say that it was they. It keeps no place. */
export interface RegistrationRequest {
  readonly id: number;
  /** There was no place left: whoever confirms it waits for one. */
  readonly waits: boolean;
  /** How they come; null where they were not asked. Online they take no place. */
  readonly presence: Presence | null;
  readonly eventId: number;
  readonly occurrence: string;
  readonly name: string;
  readonly email: string;
  readonly askedAt: Date;
  readonly expiresAt: Date;
  readonly isConfirmed: boolean;
}

interface Row {
  id: number;
  waits: number;
  presence: Presence | '';
  event_id: number;
  occurrence: string;
  name: string;
  email: string;
  asked_at: Date;
  expires_at: Date;
  confirmed_at: Date | null;
}

export function registrationRequestStore(db: Knex) {
  const open = (email: string, now: Date) =>
    db('registration_request').where({ email }).whereNull('confirmed_at').where('expires_at', '>', now);
  return {
    /**
     * Keeps a request beside those that are there already. The same again is the same; where an address has `most` at the event,
     * its owner chooses among those.
     * @returns its number, or that of the first one open at the event
     */
    async add(request: Omit<RegistrationRequest, 'id' | 'isConfirmed'>, most: number): Promise<number> {
      const { eventId, occurrence, name, email, presence, waits, askedAt, expiresAt } = request;
      const there: Pick<Row, 'id' | 'occurrence' | 'name' | 'presence'>[] = await open(email, askedAt)
        .where({ event_id: eventId })
        .orderBy('id')
        .forUpdate()
        .select('id', 'occurrence', 'name', 'presence');
      const same = there.find(
        (one) => one.occurrence === occurrence && one.name === name && (one.presence || null) === presence,
      );
      const known = same ?? (there.length >= most ? there[0] : undefined);
      if (known) return known.id;
      const [id] = await db('registration_request').insert({
        event_id: eventId,
        occurrence,
        name,
        email,
        presence: presence ?? '',
        waits,
        asked_at: askedAt,
        expires_at: expiresAt,
      });
      return Number(id);
    },
    async find(id: number): Promise<RegistrationRequest | null> {
      const row: Row | undefined = await db('registration_request').where({ id }).first();
      return row ? requestOf(row) : null;
    },
    /** Whoever else confirms it waits until the transaction is over. */
    async findForUpdate(id: number): Promise<RegistrationRequest | null> {
      const row: Row | undefined = await db('registration_request').where({ id }).forUpdate().first();
      return row ? requestOf(row) : null;
    },
    /** All that was asked by one address and not confirmed, at whichever event, the first first. */
    async openOf(email: string, now: Date, most: number): Promise<RegistrationRequest[]> {
      const rows: Row[] = await open(email, now).orderBy('id').limit(most);
      return rows.map(requestOf);
    },
    /**
     * With it all others of the address for the same date: they chose this one.
     * @param waits it was full by then, and they wait for a place
     */
    async confirm({ eventId, occurrence, email }: RegistrationRequest, now: Date, waits: boolean): Promise<void> {
      await db('registration_request')
        .where({ event_id: eventId, occurrence, email })
        .whereNull('confirmed_at')
        .update({ confirmed_at: now, waits });
    },
    async remove(id: number): Promise<void> {
      await db('registration_request').where({ id }).delete();
    },
    /** What nobody confirmed for two days is no longer anybody's business. */
    async forget(now: Date): Promise<void> {
      await db('registration_request')
        .where('expires_at', '<', new Date(now.getTime() - 2 * 86_400_000))
        .limit(5000)
        .delete();
    },
  };
}

const requestOf = (row: Row): RegistrationRequest => ({
  id: row.id,
  waits: Boolean(row.waits),
  presence: row.presence || null,
  eventId: row.event_id,
  occurrence: row.occurrence,
  name: row.name,
  email: row.email,
  askedAt: row.asked_at,
  expiresAt: row.expires_at,
  isConfirmed: row.confirmed_at !== null,
});
