import type { Knex } from 'knex';
import type { FieldValue, GuestFacts, MessageKind, PersonFacts, PlaceState, ReplyState } from '@convite/core';

/** How far back it is looked which messages somebody got. */
const gotWithinMs = 366 * 86_400_000;

/** So many who share a number are asked. */
const mostShared = 20;

interface GuestRow {
  event_id: number;
  reply: ReplyState;
  replied_at: Date | null;
  is_by_date: number;
  invited_at: Date | null;
  holds_version: number | null;
  version: number;
}

interface PlaceRow {
  event_id: number;
  occurrence: string;
  state: PlaceState;
  presence: string;
  registered_at: Date;
  confirmed_at: Date | null;
}

/** What core's `judge` asks about one person: everything that an audience may go by. */
export function personFactsStore(db: Knex) {
  return {
    /** @param alsoShared with who came before them with the same number */
    async of(id: number, nowMs: number, alsoShared = true): Promise<PersonFacts | null> {
      const row:
        | {
            email: string | null;
            mobile: string;
            zone: string;
            paused_until: Date | null;
            email_consent: number;
            text_consent: number;
            opted_out_at: Date | null;
            bounced_at: Date | null;
            most_per_week: number | null;
            same_as_id: number | null;
          }
        | undefined = await db('subscriber').where({ id }).first();
      if (!row) return null;
      const [lists, topics, fields, guestOf, got, had, counted] = await Promise.all([
        db('list_member').where({ subscriber_id: id }).pluck<number[]>('list_id'),
        db('subscriber_topic').where({ subscriber_id: id }).pluck<string[]>('topic'),
        fieldsOf(db, id),
        guestFactsOf(db, id),
        gotOf(db, id, new Date(nowMs - gotWithinMs)),
        hadOf(db, id),
        countedOf(db, id),
      ]);
      const before: number[] =
        alsoShared && row.mobile
          ? await db('subscriber')
              .where('mobile', row.mobile)
              .where('id', '<', id)
              .whereNull('same_as_id')
              .orderBy('id')
              .limit(mostShared)
              .pluck('id')
          : [];
      const shared = await Promise.all(before.map((other) => this.of(other, nowMs, false)));
      return {
        id,
        isSameAsOther: row.same_as_id !== null,
        sharesNumberWith: shared.flatMap((one) => one ?? []),
        hasEmail: row.email !== null,
        hasMobile: row.mobile !== '',
        isPaused: row.paused_until !== null,
        emailConsent: Boolean(row.email_consent),
        textConsent: Boolean(row.text_consent),
        optedOut: row.opted_out_at !== null,
        bounced: row.bounced_at !== null,
        zone: row.zone,
        lists,
        topics,
        fields,
        guestOf,
        got,
        had,
        mostPerWeek: row.most_per_week,
        counted,
      };
    },
  };
}

async function fieldsOf(db: Knex, id: number): Promise<Map<number, FieldValue>> {
  const rows: { field_id: number; typed: string; number: number | null }[] = await db('subscriber_field')
    .where({ subscriber_id: id })
    .select('field_id', 'typed', 'number');
  return new Map(rows.map((row) => [row.field_id, row.number ?? row.typed]));
}

async function guestFactsOf(db: Knex, id: number): Promise<Map<number, GuestFacts>> {
  const [guests, dates, places, own, onTheWay]: [
    GuestRow[],
    {
      event_id: number;
      occurrence: string;
      reply: ReplyState | null;
      replied_at: Date | null;
      attended: number | null;
    }[],
    PlaceRow[],
    { event_id: number; start: string }[],
    number[],
  ] = await Promise.all([
    db('invitee as i')
      .join('event as e', 'e.id', 'i.event_id')
      .where('i.subscriber_id', id)
      .select('i.event_id', 'i.reply', 'i.replied_at', 'i.is_by_date', 'i.invited_at', 'i.holds_version', 'e.version'),
    db('invitee_occurrence')
      .where({ subscriber_id: id })
      .select('event_id', 'occurrence', 'reply', 'replied_at', 'attended'),
    db('registration')
      .where({ subscriber_id: id })
      .select('event_id', 'occurrence', 'state', 'presence', 'registered_at', 'confirmed_at'),
    db('personal').where({ subscriber_id: id }).select('event_id', 'start'),
    db('delivery as d')
      .join('firing as f', 'f.id', 'd.firing_id')
      .where({ 'd.subscriber_id': id, 'f.kind': 'invitation' })
      .whereIn('d.state', ['queued', 'sending'])
      .pluck('f.event_id'),
  ]);
  const events = new Set([...guests, ...dates, ...places, ...own].map((row) => row.event_id).concat(onTheWay));
  return new Map(
    [...events].map((event) => {
      const guest = guests.find((row) => row.event_id === event);
      const holds = guest?.holds_version ?? null;
      return [
        event,
        {
          isGuest: guest !== undefined,
          isInvited: Boolean(guest?.invited_at),
          isByDate: Boolean(guest?.is_by_date),
          reply: guest?.reply ?? 'needs-action',
          repliedAtMs: guest?.replied_at?.getTime() ?? null,
          dates: new Map(
            dates
              .filter((row) => row.event_id === event)
              .map(({ occurrence, reply, replied_at, attended }) => [
                occurrence,
                {
                  reply,
                  repliedAtMs: replied_at?.getTime() ?? null,
                  attended: attended === null ? null : Boolean(attended),
                },
              ]),
          ),
          places: new Map(
            places.filter((row) => row.event_id === event).map(({ occurrence, state }) => [occurrence, state]),
          ),
          online: places
            .filter((row) => row.event_id === event && row.presence === 'online')
            .map(({ occurrence }) => occurrence),
          steps: [
            ...(guest?.invited_at ? [{ step: 'invitation' as const, date: '', atMs: guest.invited_at.getTime() }] : []),
            ...places.filter((row) => row.event_id === event).flatMap(stepsOf),
          ],
          holds: holds === null ? null : holds < (guest?.version ?? 0) ? 'older' : 'newest',
          isBeingInvited: onTheWay.includes(event),
          ownStart: own.find((row) => row.event_id === event)?.start ?? '',
        },
      ];
    }),
  );
}

function stepsOf({ occurrence: date, state, registered_at, confirmed_at }: PlaceRow): GuestFacts['steps'] {
  if (state === 'cancelled') return [];
  const isGiven = state === 'confirmed' && confirmed_at !== null;
  return [
    { step: 'registration', date, atMs: registered_at.getTime() },
    ...(isGiven ? [{ step: 'approval' as const, date, atMs: confirmed_at.getTime() }] : []),
  ];
}

async function gotOf(db: Knex, id: number, since: Date): Promise<PersonFacts['got']> {
  const sentIn = (table: string): Promise<{ kind: MessageKind; event_id: number | null; sent_at: Date }[]> =>
    db(`${table} as d`)
      .join('firing as f', 'f.id', 'd.firing_id')
      .where('d.subscriber_id', id)
      .whereIn('d.state', ['sent', 'delivered'])
      .whereNot('d.channel', 'act')
      .where('d.sent_at', '>=', since)
      .select('f.kind', 'f.event_id', 'd.sent_at');
  const rows = [...(await sentIn('delivery')), ...(await sentIn('delivery_past'))];
  return rows.map((row) => ({ kind: row.kind, event: row.event_id, atMs: row.sent_at.getTime() }));
}

const hadOf = (db: Knex, id: number): Promise<PersonFacts['had']> =>
  db('delivery as d')
    .join('firing as f', 'f.id', 'd.firing_id')
    .where('d.subscriber_id', id)
    .whereIn('d.state', ['queued', 'sending', 'sent', 'delivered'])
    .whereNotNull('f.cue_id')
    .whereNot('f.zone', '')
    .select<{ cue: number; slot: string; zone: string }[]>('f.cue_id as cue', 'f.slot', 'f.zone');

async function countedOf(db: Knex, id: number): Promise<PersonFacts['counted']> {
  const rows: { firing_id: number; state: string; sent_at: Date | null }[] = await db('delivery')
    .where({ subscriber_id: id, counts: true })
    .whereIn('state', ['sending', 'sent', 'delivered'])
    .select('firing_id', 'state', 'sent_at');
  return rows.map((row) => ({
    firing: row.firing_id,
    atMs: row.state === 'sending' ? null : (row.sent_at?.getTime() ?? 0),
  }));
}
