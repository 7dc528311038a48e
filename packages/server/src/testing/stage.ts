import type { Knex } from 'knex';
import { pino, type Logger } from 'pino';
import type { Settings } from '@convite/contract';
import { blankFacts, type EventFacts } from '@convite/core';
import { shiftableClock, type ShiftableClock } from '../clock';
import { loadFrames } from '../mail/frame';
import type { EmailMessage, End, Refusal, TextMessage } from '../mail/message';
import { smtpSender } from '../mail/smtp-sender';
import { openCalendarReader, type CalendarReader } from '../net/calendar-reader';
import { makeSeal } from '../services/accounts/seal';
import type { Context } from '../services/context';
import { createEvent, publishEvent } from '../services/events/events';
import { openCounter } from '../services/audience/keep-counts';
import { newHouse } from '../services/new-house';
import { makeLinks, type Links } from '../services/sending/links';
import { openDatabase } from '../store/database';
import { demoBulk, type DemoBulk } from '../store/demo-bulk';
import { openStore } from '../store/store';
import { startWorker } from '../worker/worker';
import { giveBack, takeBlankDatabase } from './blank-database';

export const secret = 'a secret for specs only, of 32 characters';
export const mailDomain = 'in.convite.example';
export const actor = { name: 'Spec' };
/** Where a consent comes from that a spec takes down. */
export const byHand = { source: 'by-hand', how: 'said so', by: 'Spec' } as const;

/** An empty Convite over a real MariaDB, in a database of its own. */
export interface Stage {
  readonly db: Knex;
  readonly databaseUrl: string;
  readonly context: Context;
  readonly clock: ShiftableClock;
  readonly bulk: DemoBulk;
  readonly list: number;
  readonly log: Logger;
  /** What was mailed at once, beside the queue. */
  readonly sentAtOnce: EmailMessage[];
  readonly textedAtOnce: TextMessage[];
  close(): Promise<void>;
}

export async function openStage(
  links: Links = makeLinks({ publicUrl: 'http://convite.example', secret, mailDomain }),
): Promise<Stage> {
  const base = process.env['SPEC_DATABASE_URL'];
  if (!base) throw new Error('SPEC_DATABASE_URL is not set; run the specs through npm test');
  const blank = await takeBlankDatabase(base);
  const { url: databaseUrl } = blank;
  const db = openDatabase(databaseUrl);
  const store = openStore(db);
  const atOnce = scriptedEnd<EmailMessage>();
  const texted = scriptedEnd<TextMessage>();
  const clock = shiftableClock();
  await store.house.saveSettings(specSettings);
  const list = await store.lists.create('Everybody');
  return {
    db,
    databaseUrl,
    clock,
    bulk: demoBulk(db),
    list,
    log: pino({ level: 'silent' }),
    sentAtOnce: atOnce.taken,
    textedAtOnce: texted.taken,
    context: {
      store,
      clock,
      links,
      frames: await loadFrames(),
      calendars: calendarReader(),
      seal: makeSeal(secret),
      mail: atOnce,
      text: texted,
    },
    async close() {
      await db.destroy();
      await giveBack(blank);
    },
  };
}

export const specSettings: Settings = {
  ...newHouse('Spec House', 'house@spec.example'),
  postalAddress: 'Spec Street 1',
  zone: 'Europe/Lisbon',
  region: 'GB',
  textSender: 'Spec',
  webCalendars: [{ name: 'Web calendar', pattern: 'https://calendar.example/add{?title,start,end}' }],
};

/** One for all stages: its thread is begun once. */
let reader: CalendarReader | undefined;
const calendarReader = (): CalendarReader => (reader ??= openCalendarReader(pino({ level: 'silent' })));

/** So many people on the stage's list, p1@people.example and on, all with mobiles and consent. */
export async function addPeople({ bulk, list }: Stage, count: number, from = 1): Promise<void> {
  const people = Array.from({ length: count }, (_, index) => index + from).map((id) => ({
    id,
    email: `p${id}@people.example`,
    name: `Person ${id}`,
    zone: 'Europe/Lisbon',
    mobile: `+4477009${String(id).padStart(5, '0')}`,
    textConsent: true,
    optedOutAt: null,
    bouncedAt: null,
    createdAt: new Date(),
    topics: [],
    lists: [list],
  }));
  await bulk.subscribers(people);
}

export const eventFacts: EventFacts = {
  ...blankFacts,
  title: 'Dome night',
  description: 'Bring a coat.',
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T22:00' },
  venue: 'Dome 1',
};

export async function publishedEvent({ context }: Stage, facts: Partial<EventFacts> = {}): Promise<number> {
  const id = await createEvent(context, { ...eventFacts, ...facts }, actor, facts.isPersonal ? 'invited' : 'public');
  await publishEvent(context, id, actor, true);
  return id;
}

/** An end that answers as it is told and keeps what it was given. */
export function scriptedEnd<M extends EmailMessage | TextMessage>(
  answer: (message: M) => Refusal | null = () => null,
): End<M> & { readonly taken: M[] } {
  const taken: M[] = [];
  return {
    taken,
    send: (message) => {
      const refusal = answer(message);
      if (!refusal) taken.push(message);
      return Promise.resolve(refusal);
    },
    close: () => undefined,
  };
}

/** A worker inside the spec's own process. */
export function workOn(stage: Stage, ends: { smtpPort?: number; mail?: End<EmailMessage>; text?: End<TextMessage> }) {
  return startWorker({
    context: stage.context,
    clock: stage.clock,
    mail: ends.mail ?? smtpSender({ url: `smtp://127.0.0.1:${ends.smtpPort ?? 0}`, connections: 3 }),
    text: ends.text ?? scriptedEnd<TextMessage>(),
    leaseSeconds: 2,
    emailConcurrency: 6,
    log: stage.log,
  });
}

/** Waits until the condition holds, looking often. */
export async function until(what: string, condition: () => Promise<boolean> | boolean, seconds = 20): Promise<void> {
  for (const end = Date.now() + seconds * 1000; ;) {
    if (await condition()) return;
    if (Date.now() > end) throw new Error(`waited ${seconds} s in vain until ${what}`);
    await new Promise((resolve) => setTimeout(resolve, 25));
  }
}

/** Waits until the worker has fired and sent everything that is due. */
export function untilSettled({ context: { store }, clock }: Stage): Promise<void> {
  return until('nothing is due any more', async () => {
    const due = await store.firings.nextDueMs();
    // What was put off for a moment comes as well.
    return (due === null || due > clock.now()) && !(await store.deliveries.hasDue(clock.now() + 1000));
  });
}

/** What the counter beside the worker does: everything that is to be counted now is. */
export async function countAll({ context }: Stage): Promise<void> {
  const counter = openCounter(context, 3600);
  while (await counter.look(() => false));
}

/** Moves the shared clock so that it shows this instant. */
export async function clockTo({ clock, context }: Stage, atMs: number): Promise<void> {
  clock.shiftTo(atMs - Date.now());
  await context.store.live.setClockOffsetMs(clock.offsetMs);
}
