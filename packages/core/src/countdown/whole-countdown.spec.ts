import { Temporal } from 'temporal-polyfill';
import { noAudience, type Audience } from '../audience/audience';
import { judge, noGuest, type PersonFacts } from '../audience/judge';
import { blankFacts, type EventFacts } from '../event/event';
import { occurrencesBetween } from '../event/occurrences';
import { seeded, type Random } from '../testing/invent-events';
import { quietEndsMs } from '../time/quiet-hours';
import { withEarly } from './early';
import type { Moment } from './moment';
import { cueMoments } from './plan';
import { quietOf, type HouseQuiet } from './quiet';
import { whoOfFiring } from './slot';

const home = 'Europe/Lisbon';
const zones = [home, 'Asia/Tokyo', 'America/New_York', 'Australia/Lord_Howe'];
const replies = ['needs-action', 'accepted', 'tentative', 'declined'] as const;

interface Countdown {
  readonly facts: EventFacts;
  readonly moment: Moment;
  readonly audience: Audience;
  readonly channel: 'email' | 'text';
  readonly quiet: HouseQuiet | null;
}

function invent(random: Random): Countdown {
  const clock = `${String(random.below(24)).padStart(2, '0')}:${random.pick(['00', '30'])}`;
  const start = `2027-03-2${random.below(10)}T${clock}`;
  const at = random.pick([null, '02:30', '10:00', '23:15']);
  const shift = random.pick([
    { unit: 'hours', amount: 1 + random.below(30), at: null },
    { unit: 'minutes', amount: 15 * random.below(9), at: null },
    { unit: 'days', amount: random.below(9), at },
    { unit: 'weeks', amount: 1, at },
  ] as const);
  const from = random.pick(['20:00', '22:00', '01:00']);
  return {
    facts: {
      ...{ ...blankFacts, title: 'Night', zone: home },
      span: { kind: 'timed', start, end: `${start.slice(0, 8)}30T23:59` },
      series: random.pick([null, { rule: 'FREQ=DAILY;COUNT=3', added: [], exceptions: [] }]),
    },
    moment: random.pick<Moment>([
      {
        ...{ kind: 'relative', anchor: 'start', clock: random.pick(['event', 'person'] as const) },
        ...{ direction: random.pick(['before', 'before', 'after'] as const), ...shift },
      },
      { kind: 'fixed', wall: `2027-03-2${random.below(9)}T${clock}`, clock: random.pick(['event', 'person'] as const) },
    ]),
    audience: {
      ...noAudience,
      lists: random.pick([[], [1], [1, 2]]),
      invitees: random.pick([[], ['accepted'], ['accepted', 'needs-action']]),
      exceptLists: random.pick([[], [3]]),
      exceptReplies: random.pick([[], ['declined']]),
    },
    channel: random.pick(['email', 'text'] as const),
    quiet: random.pick([
      null,
      ...(['wait', 'out', 'before'] as const).map((manner) => ({
        ...{ from, until: '08:00', channels: ['text'] as const, manner },
      })),
    ]),
  };
}

/** @param zone of which no firing of its own is planned, for some */
const somebody = (random: Random, id: number, zone: string): PersonFacts => {
  const often = (): boolean => random.below(6) > 0;
  const isGuest = random.below(2) === 0;
  return {
    ...{ id, hasEmail: often(), hasMobile: often(), isPaused: !often(), emailConsent: often(), textConsent: often() },
    ...{ optedOut: !often(), bounced: !often(), isSameAsOther: !often(), sharesNumberWith: [], topics: [] },
    ...{ mostPerWeek: null, counted: [], had: [], got: [], fields: new Map() },
    zone: random.pick([...zones, '', zone]),
    lists: [1, 2, 3].filter(() => random.below(2) === 0),
    guestOf: isGuest
      ? new Map([[5, { ...noGuest, isGuest: true, isInvited: true, reply: random.pick(replies) }]])
      : new Map(),
  };
};

/** What somebody gets, and when: by the firings there are, each asked for whom it is. */
function planned({ facts, moment, audience, channel, quiet }: Countdown, person: PersonFacts): string[] {
  const cue = { moment, channel };
  const moments = withEarly(cueMoments(moment, facts, 0, Infinity, zones, undefined), quiet, cue, zones, () => true);
  const isOwn = moment.kind === 'relative' && moment.direction === 'before';
  return moments
    .flatMap(({ slot, zone, dueMs, occurrence }) => {
      const groups = moments.filter((one) => one.slot === slot && one.zone !== '').map((one) => one.zone);
      const around = { moment, isPersonal: false, homeZone: home, zones: groups, zonesAhead: groups };
      const who = whoOfFiring(audience, { eventId: 5, cueId: 7, slot, zone }, around);
      const startsMs = isOwn ? (occurrence?.startMs ?? startOf(facts)) : null;
      const timed = { kind: 'cue', channel, event: 5, startsMs, homeZone: home, dueIn: () => dueMs } as const;
      const held = quietOf(quiet, timed, [...zones, '', 'Asia/Kolkata']);
      const reason = judge(person, { ...who, quiet: held }, channel);
      // Whoever is of another group is no news of this one.
      if (reason === 'not-chosen') return [];
      const goesMs = held?.waits.find((one) => one.zone === person.zone)?.untilMs ?? dueMs;
      return [`${slot} ${reason ?? goesMs}`];
    })
    .sort();
}

const startOf = ({ span }: EventFacts): number =>
  Temporal.PlainDateTime.from(span.kind === 'timed' ? span.start : '').toZonedDateTime(home).epochMilliseconds;

/** The same, thought out for that one person alone, from the words of the rules. Clock times are Temporal's. */
function expected({ facts, moment, audience, channel, quiet }: Countdown, person: PersonFacts): string[] {
  const reply = person.guestOf.get(5)?.reply;
  const isChosen =
    person.lists.some((list) => audience.lists.includes(list)) ||
    (reply !== undefined && audience.invitees.includes(reply));
  if (!isChosen) return [];
  const isPersonsClock =
    moment.clock === 'person' && (moment.kind === 'fixed' || (moment.kind === 'relative' && moment.at !== null));
  const clockZone = isPersonsClock && zones.includes(person.zone) ? person.zone : home;
  const dates =
    facts.series && moment.kind !== 'fixed'
      ? occurrencesBetween(facts, 0, Infinity, 9)
      : [{ key: '', startMs: startOf(facts) }];
  return dates
    .map(({ key, startMs }) => {
      const ownZone = zones.includes(person.zone) ? person.zone : person.zone === 'Asia/Kolkata' ? person.zone : home;
      let dueMs: number;
      let isBefore = false;
      if (moment.kind === 'fixed')
        dueMs = Temporal.PlainDateTime.from(moment.wall).toZonedDateTime(clockZone).epochMilliseconds;
      else if (moment.kind === 'relative') {
        isBefore = moment.direction === 'before';
        const there = Temporal.Instant.fromEpochMilliseconds(startMs).toZonedDateTimeISO(clockZone);
        const shifted = there.add({ [moment.unit]: isBefore ? -moment.amount : moment.amount });
        dueMs = (
          moment.at ? shifted.toPlainDate().toZonedDateTime({ timeZone: clockZone, plainTime: moment.at }) : shifted
        ).epochMilliseconds;
      } else throw new Error('not asked here');
      const isHeld = quiet?.channels.includes(channel) ?? false;
      let goesMs = dueMs;
      let isQuiet = false;
      const endsMs = quiet && isHeld ? quietEndsMs(quiet, ownZone, dueMs) : null;
      if (quiet && endsMs !== null) {
        if (quiet.manner === 'before' && isBefore) {
          // Back to the last minute that was not quiet, and a quarter of an hour from when it began.
          for (goesMs = dueMs - (dueMs % 60_000); quietEndsMs(quiet, ownZone, goesMs) !== null;) goesMs -= 60_000;
          goesMs += 60_000 - 15 * 60_000;
        } else if (quiet.manner === 'out' || (isBefore && endsMs >= startMs)) isQuiet = !comes(reply);
        else goesMs = endsMs;
      }
      const guest = reply !== undefined;
      const against: [boolean, string][] = [
        [person.lists.some((list) => audience.exceptLists.includes(list)), 'left-out'],
        [guest && audience.exceptReplies.includes(reply), 'answered'],
        [person.optedOut, 'opted-out'],
        [person.isPaused && !guest, 'paused'],
        [channel === 'email' && !person.emailConsent && !guest, 'no-consent'],
        [channel === 'email' && !person.hasEmail, 'no-email'],
        [channel === 'email' && person.bounced, 'bounced'],
        [channel === 'text' && !person.hasMobile, 'no-mobile'],
        [channel === 'text' && !person.textConsent, 'no-text-consent'],
        [person.isSameAsOther, 'same-person'],
        [isQuiet, 'quiet-hours'],
      ];
      return `${key} ${against.find(([is]) => is)?.[1] ?? goesMs}`;
    })
    .sort();
}

/** Who is coming is not left out of what is about it. */
const comes = (reply: (typeof replies)[number] | undefined): boolean => reply === 'accepted';

describe('a whole countdown (oracle: one person at a time, by Temporal)', () => {
  it('reaches whom it should, when it should, and nobody twice, on 400 random ones', () => {
    const random = seeded(20261128);
    const seen = new Set<string>();
    for (let n = 0; n < 400; n += 1) {
      const countdown = invent(random);
      for (let id = 1; id <= 12; id += 1) {
        const person = somebody(random, id, countdown.quiet?.manner === 'before' ? home : 'Asia/Kolkata');
        const found = planned(countdown, person);
        expect(found)
          .withContext(`${n} ${JSON.stringify([countdown, person.zone])}`)
          .toEqual(expected(countdown, person));
        for (const one of found) seen.add(one.split(' ')[1]?.replace(/^\d+$/, 'gets it') ?? '');
      }
    }
    expect([...seen].sort()).toEqual([
      ...['answered', 'bounced', 'gets it', 'left-out', 'no-consent', 'no-email', 'no-mobile', 'no-text-consent'],
      ...['opted-out', 'paused', 'quiet-hours', 'same-person'],
    ]);
  });
});
