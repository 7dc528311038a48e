import { logQuery } from '@convite/contract';
import { pressureWindowMs, treeOfSegment, wholeEvent, whoOf, type Audience, type Segment } from '@convite/core';
import { readBoard, readStrip } from '../../services/countdown/board';
import { countLive } from '../../services/audience/count-live';
import { heldAbout } from '../../services/audience/held-about';
import { describeList } from '../../services/audience/lists';
import { findCues } from '../../services/countdown/find-cues';
import { findPeople } from '../../services/audience/find-people';
import { lookBack, readPressure } from '../../services/audience/pressure';
import { readComing, readTimeline } from '../../services/audience/timeline';
import { readVocabulary } from '../../services/audience/vocabulary';
import { samePeople } from '../../services/audience/merge-people';
import { peopleOfSegment } from '../../services/audience/segments';
import { listConsents } from '../../services/programs/consents';
import { listSubscribers } from '../../services/programs/subscribers';
import { listMessages } from '../../services/sending/show-message';
import { listReleases } from '../../services/release/releases';
import { listSenders } from '../../services/senders/senders';
import { linksOfFiring } from '../../services/sending/follow-link';
import { listWordings } from '../../services/wording/kept-wordings';
import type { Context } from '../../services/context';
import { previewCue } from '../../services/countdown/preview-cue';
import { listDigests } from '../../services/digests/digests';
import { listGuests } from '../../services/sending/invite';
import { readLog } from '../../services/log/read-log';
import { readSchedule } from '../../services/countdown/schedule';
import { railAround } from '../../services/countdown/rail-around';
import { listCues } from '../../services/countdown/list-cues';
import { readYear } from '../../services/events/event-year';
import { listEvents } from '../../services/events/list-events';
import type { Scale } from './fill';

/** Something that a screen asks for. */
export interface Ask {
  readonly what: string;
  /** Median, warm, on one machine with a million people. */
  readonly wantedMs: number;
  /** Rows that the database may read for it at twenty thousand people; a screen reads what it shows, a count its own list. */
  readonly mostRows: number;
  run(context: Context, scale: Scale): Promise<unknown>;
}

const bench = { name: 'bench' };
const toList = (list: number): Audience => ({
  invitees: [],
  lists: [list],
  exceptLists: [],
  exceptReplies: [],
  topics: null,
});
const count = (context: Context, list: number): Promise<number> =>
  context.store.audiences.countGets(whoOf(toList(list), wholeEvent(null)), 'email');
const fiveConditions = (lists: Scale['lists']): Segment => ({
  kind: 'all',
  of: [
    { kind: 'list', lists: [lists.all] },
    { kind: 'consent', channel: 'email' },
    { kind: 'answered', event: 1, replies: ['declined', 'accepted', 'needs-action'], withinDays: null },
    { kind: 'none', of: [{ kind: 'list', lists: [lists.few] }] },
    { kind: 'none', of: [{ kind: 'got', message: 'digest', event: null, withinDays: 30 }] },
  ],
});
const search = (context: Context, text: string): Promise<unknown> =>
  context.store.subscribers.page({ search: text, after: 0, limit: 50 });

export const asks: readonly Ask[] = [
  { what: 'strip', wantedMs: 30, mostRows: 60, run: (context) => readStrip(context) },
  { what: 'call board', wantedMs: 200, mostRows: 8000, run: (context) => readBoard(context) },
  { what: 'digests', wantedMs: 200, mostRows: 100, run: (context) => listDigests(context) },
  {
    what: 'events',
    wantedMs: 200,
    mostRows: 7000,
    run: (context) => listEvents(context, { when: 'coming', search: '', after: 0 }),
  },
  // Beside its own, those of other events that are due at about the same time.
  { what: 'cues of one event', wantedMs: 200, mostRows: 800, run: (context) => listCues(context, 1) },
  { what: 'what lies about a rail', wantedMs: 200, mostRows: 3000, run: (context) => railAround(context, 1) },
  {
    what: 'schedule of four weeks',
    wantedMs: 400,
    mostRows: 12_000,
    run: (context) => readSchedule(context, 28, { name: 'Spec' }),
  },
  { what: 'delivery log', wantedMs: 200, mostRows: 900, run: (context) => readLog(context, logQuery.parse({})) },
  {
    what: 'delivery log, not reached',
    wantedMs: 200,
    mostRows: 3000,
    run: (context) => readLog(context, logQuery.parse({ state: 'not-reached' })),
  },
  {
    what: 'delivery log of somebody',
    wantedMs: 200,
    mostRows: 2000,
    run: (context) => readLog(context, logQuery.parse({ search: 'person 77' })),
  },
  { what: 'cue preview', wantedMs: 300, mostRows: 1200, run: previewOf },
  {
    what: 'guests of one event',
    wantedMs: 200,
    mostRows: 1000,
    run: (context) => listGuests(context, 1, { occurrence: '', search: '', after: '', limit: 50 }),
  },
  {
    what: 'guests, the latest answer first',
    wantedMs: 200,
    mostRows: 1000,
    run: (context) => listGuests(context, 1, { occurrence: '', search: '', sort: 'answered', after: '', limit: 50 }),
  },
  {
    what: 'guests who said yes, the latest first',
    wantedMs: 200,
    mostRows: 12_000,
    run: (context) =>
      listGuests(context, 1, {
        occurrence: '',
        search: '',
        filter: 'accepted',
        sort: 'answered',
        after: '',
        limit: 50,
      }),
  },
  { what: 'a year of events', wantedMs: 200, mostRows: 7000, run: (context) => readYear(context) },
  {
    what: 'the board, texts alone',
    wantedMs: 200,
    mostRows: 12_000,
    run: (context) => readBoard(context, { channel: 'text' }),
  },
  {
    what: 'count of a list of fifty',
    wantedMs: 20,
    mostRows: 300,
    run: (context, { lists }) => count(context, lists.few),
  },
  {
    what: 'count of a list of a tenth',
    wantedMs: 300,
    mostRows: 8500,
    run: (context, { lists }) => count(context, lists.some),
  },
  {
    what: 'count of a list of all',
    wantedMs: 3000,
    mostRows: 85_000,
    run: (context, { lists }) => count(context, lists.all),
  },
  {
    what: 'count of a list of all under a limit',
    wantedMs: 8000,
    // Of each what they were sent this week, by the index of what counts.
    mostRows: 160_000,
    run: (context, { lists }) =>
      context.store.audiences.countGets(
        {
          ...whoOf(toList(lists.all), wholeEvent(null)),
          limit: { perWeek: 3, sinceMs: context.clock.now() - pressureWindowMs, firing: null, spares: null },
        },
        'email',
      ),
  },
  {
    what: 'count of a list of all in quiet hours',
    wantedMs: 4000,
    mostRows: 85_000,
    run: async (context, { lists }) => {
      const zones = await context.store.subscribers.zones();
      const waits = zones.map((zone) => ({ zone, untilMs: context.clock.now() }));
      const quiet = { waits, leftOut: zones.slice(1), spares: null };
      return context.store.audiences.countGets({ ...whoOf(toList(lists.all), wholeEvent(null)), quiet }, 'email');
    },
  },
  {
    what: 'what is planned for four weeks',
    wantedMs: 100,
    mostRows: 3000,
    run: (context) => readPressure(context),
  },
  {
    what: 'first answer of what limits would have held back',
    wantedMs: 1000,
    mostRows: 200_000,
    run: (context) => lookBack(context).next(),
  },
  {
    what: 'search by a word of the name',
    wantedMs: 200, // All who match, to show the first of them.
    mostRows: 3000,
    run: (context) => search(context, 'bosque1'),
  },
  { what: 'search by address', wantedMs: 200, mostRows: 600, run: (context) => search(context, 'p1999') },
  { what: 'search for nobody', wantedMs: 200, mostRows: 50, run: (context) => search(context, 'nobody of that name') },
  { what: 'what one person got', wantedMs: 50, mostRows: 300, run: (context) => listMessages(context, 12, 0) },
  {
    what: 'first answer of a live count of all',
    wantedMs: 500,
    mostRows: 170_000,
    run: (context, { lists }) => countLive(context, whoOf(toList(lists.all), wholeEvent(null)), 'email', 1).next(),
  },
  {
    what: 'count of a tenth by zone',
    wantedMs: 500,
    mostRows: 13_000,
    run: (context, { lists }) =>
      context.store.audiences.countGetsByZone(whoOf(toList(lists.some), wholeEvent(null)), 'email'),
  },
  { what: 'zones that people are in', wantedMs: 50, mostRows: 20, run: (context) => context.store.subscribers.zones() },
  {
    what: 'events to plan on',
    wantedMs: 50,
    mostRows: 1500,
    run: (context) => context.store.events.idsToPlan(context.clock.now() + 86_400_000),
  },
  { what: 'lists with their sizes', wantedMs: 50, mostRows: 20, run: (context) => context.store.lists.all() },
  {
    what: 'about a list of everybody',
    wantedMs: 200,
    mostRows: 1000,
    run: (context, { lists }) => describeList(context, lists.all),
  },
  {
    what: 'a segment of five conditions counted',
    wantedMs: 3000,
    // Everybody who is on the list is asked the others.
    mostRows: 220_000,
    run: (context, { lists }) =>
      context.store.segments.count(treeOfSegment(fiveConditions(lists), new Map(), context.clock.now())),
  },
  {
    what: 'first page of a segment of five conditions',
    wantedMs: 200,
    mostRows: 3000,
    run: (context, { lists }) => peopleOfSegment(context, fiveConditions(lists), 0, 50),
  },
  {
    what: 'first page of a segment that nobody is in',
    wantedMs: 1000,
    // It ends after so many people, whoever is found.
    mostRows: 130_000,
    run: (context, { lists }) =>
      peopleOfSegment(
        context,
        {
          kind: 'all',
          of: [
            { kind: 'list', lists: [lists.all] },
            { kind: 'none', of: [{ kind: 'list', lists: [lists.all] }] },
          ],
        },
        0,
        50,
      ),
  },
  { what: 'cues by a word', wantedMs: 100, mostRows: 1000, run: (context) => findCues(context, 'go') },
  { what: 'all that is held about one person', wantedMs: 300, mostRows: 1500, run: (context) => heldAbout(context, 7) },
  { what: 'fields and topics', wantedMs: 200, mostRows: 7000, run: (context) => readVocabulary(context) },
  { what: 'one person’s timeline', wantedMs: 100, mostRows: 600, run: (context) => readTimeline(context, 12, '') },
  { what: 'what is planned for somebody', wantedMs: 300, mostRows: 4000, run: (context) => readComing(context, 12) },
  {
    what: 'people whom a file spells otherwise',
    wantedMs: 100,
    mostRows: 5000,
    run: ({ store }) =>
      store.knownPeople.bySpelling(Array.from({ length: 500 }, (_, index) => `p${index + 1}@people.example`)),
  },
  {
    what: 'a page in the middle of a list of all',
    wantedMs: 200,
    mostRows: 1500,
    run: ({ store }, { lists, people }) =>
      store.subscribers.page({ search: '', list: lists.all, after: Math.round(people / 2), limit: 50 }),
  },
  {
    what: 'a page of people for a program',
    wantedMs: 200,
    mostRows: 6000,
    run: (context) => listSubscribers(context, { after: 10_000, limit: 200 }),
  },
  {
    what: 'a page of a list’s people for a program',
    wantedMs: 200,
    mostRows: 6000,
    run: (context, { lists }) => listSubscribers(context, { after: 10_000, limit: 200, list: lists.all }),
  },
  {
    what: 'a page of the ledger for a program',
    wantedMs: 100,
    mostRows: 600,
    run: (context) => listConsents(context, { after: 100, limit: 200 }),
  },
  { what: 'wordings, with what came of them', wantedMs: 100, mostRows: 200, run: (context) => listWordings(context) },
  { what: 'senders and their thirty days', wantedMs: 100, mostRows: 200, run: (context) => listSenders(context) },
  { what: 'what waits to be released', wantedMs: 100, mostRows: 100, run: (context) => listReleases(context, bench) },
  { what: 'pressed links of a sending', wantedMs: 50, mostRows: 50, run: (context) => linksOfFiring(context, 1) },
  {
    what: 'next that stands by',
    wantedMs: 20,
    mostRows: 100,
    run: (context) => context.store.firings.takeStandby(context.clock.now(), 600_000),
  },
  {
    what: 'wording that an opt-out came of',
    wantedMs: 20,
    mostRows: 100,
    run: (context) => context.store.cameOf.noteOfPerson(12, 'opt_outs', new Date(context.clock.now())),
  },
  {
    what: 'paces of the senders of some firings',
    wantedMs: 20,
    mostRows: 200,
    run: (context) => context.store.senders.pacesOf(Array.from({ length: 24 }, (_, index) => index + 1)),
  },
  {
    what: 'sums of a firing that closes',
    wantedMs: 20,
    mostRows: 50,
    run: (context) => context.store.cameOf.countClosed(1, new Date(context.clock.now())),
  },
  {
    what: 'the next cue that is counted from what people do',
    wantedMs: 20,
    mostRows: 20,
    run: (context) => context.store.transact((tx) => tx.steps.takeDue(context.clock.now())),
  },
  {
    what: 'what people did about an event within a minute',
    wantedMs: 20,
    mostRows: 50,
    run: ({ store, clock }) =>
      store.steps.since({ eventId: 1, step: 'invitation' }, { fromMs: clock.now() + 60_000, after: null }, true, 2000),
  },
  {
    what: 'who was invited to an event within a minute',
    wantedMs: 20,
    mostRows: 50,
    run: ({ store, clock }) => {
      // Everybody was invited as the house was filled: of nobody since, nothing is read.
      const span = { fromMs: clock.now() + 60_000, toMs: clock.now() + 120_000 };
      const about = { event: 1, date: null };
      return store.audiences.countGets(
        { in: { kind: 'step', step: 'invitation', about, ...span }, out: [], about: 1 },
        'email',
      );
    },
  },
  {
    what: 'the mail that invited somebody',
    wantedMs: 20,
    mostRows: 300,
    run: (context) => context.store.deliveries.invitationTo(1, 12),
  },
  {
    what: 'the next member who is told something',
    wantedMs: 20,
    mostRows: 50,
    run: (context) => context.store.transact((tx) => tx.news.takeListener(context.clock.now(), 300_000)),
  },
  { what: 'who may be the same person', wantedMs: 50, mostRows: 100, run: (context) => samePeople(context, 12) },
  {
    what: 'the people of a segment, beside each their lists',
    wantedMs: 200,
    mostRows: 12_000,
    run: async (context, { lists }) => {
      const [kept] = await context.store.segments.all();
      const fields = { name: 'Five conditions', description: '', conditions: fiveConditions(lists) };
      const segment = kept?.id ?? (await context.store.segments.create(fields, 'bench', new Date()));
      return findPeople(context, { search: '', segment, after: 0, limit: 50 });
    },
  },
  {
    what: 'some people off a list and back',
    wantedMs: 300,
    mostRows: 6000,
    run: async (context, { lists }) => {
      const ids = Array.from({ length: 500 }, (_, index) => index + 1);
      const now = new Date(context.clock.now());
      await context.store.transact(async (tx) =>
        tx.lists.join(lists.all, await tx.lists.leave(lists.all, ids, now), now),
      );
    },
  },
];

async function previewOf(context: Context): Promise<unknown> {
  const cue = await context.store.cues.find(1);
  return cue && previewCue(context, cue.eventId, cue, null);
}
