import type { CueFields } from '@convite/contract';
import {
  addDays,
  blankFacts,
  plainEntry,
  wallTimeAt,
  weekdayOf,
  type Anchor,
  type Day,
  type EventFacts,
  type OccurrenceChange,
  type Series,
  letter,
  plainDocument,
  type Block,
} from '@convite/core';

/** An invented event, its guests by list and share, and its cues. */
export interface DemoEvent {
  readonly facts: EventFacts;
  readonly status: 'draft' | 'published';
  /** Lists whose people are invited, and what share of them. */
  readonly invited: { readonly lists: readonly number[]; readonly share: number } | null;
  /** Earlier facts, when the plan changed yesterday and only some were told. */
  readonly before?: EventFacts;
  readonly cues: readonly CueFields[];
  /** Share of the guests who answered for the next date alone. */
  readonly answersByDate?: number;
  /** So many more said yes than there are places, and wait for one. */
  readonly waiting?: number;
  /** Share of those who come, online. */
  readonly online?: number;
  /** Somebody proposed a start so many hours later. */
  readonly proposesHours?: number;
  /** Everybody has a slot of so many minutes, one after the other. */
  readonly slotMinutes?: number;
}

const zone = 'Europe/Lisbon';
const venue = 'Serra da Bruma Observatory, Estrada da Serra 214, 4900-999 Bruma';

const relative = (
  amount: number,
  unit: 'minutes' | 'hours' | 'days' | 'weeks',
  direction: 'before' | 'after',
  anchor: Anchor,
  at: string | null,
) => ({ kind: 'relative', amount, unit, direction, anchor, at }) as const;
const coming = {
  invitees: ['accepted', 'tentative'],
  lists: [],
  exceptLists: [],
  exceptReplies: [],
  topics: null,
} as const;
const notDeclined = {
  invitees: ['accepted', 'tentative', 'needs-action'],
  lists: [],
  exceptLists: [],
  exceptReplies: [],
  topics: null,
} as const;

const allAboutIt = {
  kind: 'button',
  label: 'All about it',
  address: { kind: 'field', field: 'link.event', fallback: '' },
} as const;
const weekBefore: CueFields = {
  name: 'One week to go',
  channel: 'email',
  moment: relative(1, 'weeks', 'before', 'start', '10:00'),
  audience: notDeclined,
  isDraft: false,
  wording: {
    ...letter(
      'One week to go: {{event.title}}',
      'Dear {{person.firstName|friend}},\n\n{{event.title}} is a week away.',
      { kind: 'event' },
      allAboutIt,
    ),
    preheader: '{{event.when}}',
    from: 'oneWeek',
  },
};
const dayBefore: CueFields = {
  name: 'Tomorrow',
  channel: 'email',
  moment: relative(24, 'hours', 'before', 'start', null),
  audience: coming,
  isDraft: false,
  wording: {
    ...letter(
      'Tomorrow: {{event.title}}',
      'Dear {{person.firstName|friend}},\n\nsee you tomorrow at {{event.time}}. Bring something warm: the dome is open to the sky.',
      { kind: 'event' },
      allAboutIt,
    ),
    preheader: 'Bring something warm',
    from: 'tomorrow',
  },
};
const twoHours: CueFields = {
  name: 'Two hours',
  channel: 'text',
  moment: relative(120, 'minutes', 'before', 'start', null),
  audience: coming,
  isDraft: false,
  wording: plainDocument(
    '',
    'Clear skies? {{event.title}} starts {{event.time}}. Map and news: {{link.event}} STOP ends these texts.',
  ),
};
const onTheirClock: CueFields = {
  name: 'A day to go, at nine your time',
  channel: 'email',
  moment: { ...relative(1, 'days', 'before', 'start', '09:00'), clock: 'person' },
  audience: notDeclined,
  isDraft: false,
  wording: letter(
    'A day to go: {{event.title}}',
    'Good morning {{person.firstName|friend}},\n\nwherever you are, we are live tomorrow: {{event.when}}.\n\nSend your question ahead by answering this message.',
    allAboutIt,
  ),
};
const joinLink: CueFields = {
  name: 'Join link',
  channel: 'email',
  moment: relative(3, 'hours', 'before', 'start', null),
  audience: notDeclined,
  isDraft: false,
  wording: letter(
    'Your link for {{event.title}}',
    'Hello {{person.firstName|there}},\n\npress the button to join us: {{event.when}}.',
    { kind: 'button', label: 'Join online', address: { kind: 'field', field: 'event.joinLink', fallback: '' } },
    'Send your questions ahead by answering this message.',
  ),
};
const registerInTime: CueFields = {
  name: 'Register in time',
  channel: 'email',
  moment: relative(3, 'days', 'before', 'deadline', '10:00'),
  audience: { invitees: [], lists: [3], exceptLists: [], exceptReplies: ['accepted', 'declined'], topics: null },
  isDraft: false,
  wording: letter(
    'Until {{event.registrationEnds}}: register for {{event.title}}',
    'Dear {{person.firstName|friend}},\n\nthere is still room at {{event.title}}, and registration closes {{event.registrationEnds}}.',
    { kind: 'event' },
    { ...allAboutIt, label: 'Register' },
  ),
};
const thanks: CueFields = {
  name: 'Thank you',
  channel: 'email',
  moment: relative(1, 'days', 'after', 'end', '11:00'),
  audience: { ...coming, invitees: ['accepted'] },
  isDraft: true,
  wording: letter(
    'Thank you for coming to {{event.title}}',
    'Dear {{person.firstName|friend}},\n\nthank you for being there.',
  ),
};

/** The observatory's programme, relative to today: a past, a future, and something that went wrong. */
export function inventEvents(nowMs: number, picture: Block | null): DemoEvent[] {
  const today = wallTimeAt(nowMs, zone).slice(0, 10);
  const friday = nextWeekday(today, 5);
  const timed = (day: Day, from: string, to: string, endDay = day): EventFacts['span'] => ({
    kind: 'timed',
    start: `${day}T${from}`,
    end: `${endDay}T${to}`,
  });
  const facts = (
    title: string,
    span: EventFacts['span'],
    topics: string[],
    description: string,
    more: Partial<EventFacts> = {},
  ): EventFacts => ({
    ...blankFacts,
    title,
    description,
    zone,
    span,
    venue,
    topics,
    ...more,
  });
  const camp = nextWeekday(addDays(today, 20), 6);
  const eclipse = addDays(today, 17);
  const clouded = facts(
    'Winter Constellations Walk',
    timed(addDays(today, -1), '21:00', '23:30'),
    ['stars', 'families'],
    'A walk along the ridge with a guide and a green laser.',
  );
  const series = (rule: string, exceptions: readonly OccurrenceChange[] = []): Series => ({
    rule,
    added: [],
    exceptions,
  });
  const at = (day: Day): string => `${day}T20:30`;
  const asPlanned = { calledOff: false, span: null, title: null, description: null, venue: null, joinLink: null };
  return [
    {
      facts: facts(
        'Open Dome Fridays',
        timed(addDays(friday, -21), '20:30', '23:00'),
        ['stars'],
        'The dome is open and the 60 cm telescope is yours.\nDress warmly; hot chocolate at the door.',
        {
          series: series('FREQ=WEEKLY;BYDAY=FR', [
            {
              ...asPlanned,
              at: at(addDays(friday, 14)),
              span: timed(addDays(friday, 15), '21:00', '23:30'),
              description: 'This once on a Saturday: the choir sings in the dome on Friday.',
            },
            { ...asPlanned, at: at(addDays(friday, 28)), calledOff: true },
          ]),
          entry: { ...plainEntry, colour: 'indigo', isStyled: true, position: { latitude: 41.73, longitude: -8.16 } },
          registration: { places: 180, closesMinutes: 120, confirms: true },
        },
      ),
      status: 'published',
      invited: { lists: [1], share: 0.32 },
      cues: [weekBefore, dayBefore, twoHours, thanks],
      answersByDate: 0.2,
    },
    {
      facts: facts(
        'Ask an Astronomer, Live',
        timed(addDays(today, 8), '18:00', '19:00'),
        ['online', 'talks'],
        'An hour of your questions, answered by whoever is on duty.',
        {
          venue: '',
          joinLink: 'https://live.serradabruma.example/room/ask?lang=en&key=b7',
          series: series(`FREQ=MONTHLY;BYDAY=${nthWeekday(addDays(today, 8))};COUNT=12`),
          entry: { ...plainEntry, alarmsMinutes: [1440, 10], isBusy: false },
        },
      ),
      status: 'published',
      invited: { lists: [4], share: 0.9 },
      cues: [weekBefore, onTheirClock, joinLink],
    },
    {
      facts: facts(
        'Little Planetarium Mornings',
        timed(firstSunday(today), '10:30', '11:30'),
        ['families'],
        'For children from four, with the small planetarium and a story.',
        { series: series('FREQ=MONTHLY;BYDAY=1SU') },
      ),
      status: 'published',
      invited: { lists: [3], share: 0.5 },
      cues: [weekBefore, dayBefore],
    },
    {
      facts: facts(
        'Meteor Camp Weekend',
        { kind: 'all-day', firstDay: camp, lastDay: addDays(camp, 1) },
        ['camps', 'families'],
        'Two days and one very long night. Tents, soup, and shooting stars.',
        {
          entry: { ...plainEntry, alarmsMinutes: [2880] },
          registration: { places: null, closesMinutes: 2880, confirms: true },
        },
      ),
      status: 'published',
      invited: { lists: [3], share: 0.8 },
      cues: [
        weekBefore,
        {
          ...dayBefore,
          moment: relative(2, 'days', 'before', 'start', '09:00'),
          name: 'Packing list',
          wording: { ...weekBefore.wording, subject: 'What to pack for {{event.title}}' },
        },
        registerInTime,
      ],
    },
    {
      facts: facts(
        'Lunar Eclipse Watch',
        timed(eclipse, '19:00', '00:30', addDays(eclipse, 1)),
        ['moon and planets', 'stars'],
        'Totality from the terrace, with four telescopes and a choir.\n120 places.',
        { registration: { places: 120, closesMinutes: 1440, confirms: true, waitlist: true } },
      ),
      status: 'published',
      invited: { lists: [1, 2], share: 0.45 },
      waiting: 11,
      cues: [
        {
          ...weekBefore,
          moment: relative(2, 'weeks', 'before', 'start', '10:00'),
          name: 'Two weeks to go',
          wording: {
            ...weekBefore.wording,
            subject: 'Two weeks to go: {{event.title}}',
            blocks: [...(picture ? [picture] : []), ...weekBefore.wording.blocks],
          },
        },
        { ...weekBefore, isDraft: true, name: 'Bring a blanket' },
        dayBefore,
        twoHours,
      ],
    },
    {
      facts: facts(
        'Listening to Pulsars: what a dying star’s heartbeat tells us about time & gravity',
        timed(addDays(today, 5), '19:30', '21:00'),
        ['talks', 'stars'],
        'A lecture with sound. In the auditorium and online.\nDr. Zuzana Kovářová & the radio group.',
        {
          joinLink: 'https://live.serradabruma.example/room/pulsars',
          registration: { places: null, closesMinutes: 60, confirms: true },
        },
      ),
      status: 'published',
      invited: { lists: [2, 4], share: 0.7 },
      online: 0.4,
      cues: [
        {
          ...weekBefore,
          isDraft: true,
          name: 'What is a pulsar?',
          moment: relative(6, 'days', 'before', 'start', '10:00'),
        },
        dayBefore,
        joinLink,
        twoHours,
      ],
      proposesHours: 1,
    },
    {
      facts: facts(
        'Your Half Hour at the Telescope',
        timed(addDays(today, 11), '21:00', '23:30'),
        ['stars'],
        'The 60 cm telescope, yours for half an hour. Come ten minutes early.',
        { isPersonal: true },
      ),
      status: 'published',
      invited: { lists: [2], share: 0.12 },
      cues: [dayBefore, twoHours],
      slotMinutes: 30,
    },
    {
      facts: { ...clouded, span: timed(addDays(today, 6), '21:00', '23:30') },
      before: clouded,
      status: 'published',
      invited: { lists: [2], share: 0.6 },
      cues: [dayBefore, twoHours],
    },
    {
      facts: facts(
        'ليلة تحت النجوم · Evening under the stars, with music for oud and telescope, stories from three continents, and tea',
        timed(addDays(today, 33), '20:00', '22:30'),
        ['stars', 'talks'],
        'To be planned.',
      ),
      status: 'draft',
      invited: null,
      cues: [{ ...weekBefore, isDraft: true }],
    },
    {
      facts: facts(
        'Harvest Moon Supper',
        timed(addDays(today, -18), '19:00', '23:00'),
        ['moon and planets'],
        'Soup, bread and the full moon.',
      ),
      status: 'published',
      invited: { lists: [1], share: 0.2 },
      cues: [weekBefore, dayBefore, twoHours],
    },
  ];
}

/** Which weekday of its month a day is, as a rule says it: `2TH`. */
function nthWeekday(day: Day): string {
  const nth = Math.min(4, Math.ceil(Number(day.slice(8)) / 7));
  return `${nth}${['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'][weekdayOf(day) - 1]}`;
}

const nextWeekday = (from: Day, weekday: number): Day => addDays(from, ((weekday - weekdayOf(from) + 6) % 7) + 1);

/** The first Sunday of the next month. */
function firstSunday(today: Day): Day {
  const [year = 0, month = 0] = today.split('-').map(Number);
  const first = month === 12 ? `${year + 1}-01-01` : `${year}-${String(month + 1).padStart(2, '0')}-01`;
  return nextWeekday(addDays(first, -1), 7);
}
