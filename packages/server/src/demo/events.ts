import type { CueFields } from '@convite/contract';
import { addDays, wallTimeAt, weekdayOf, type Day, type EventFacts } from '@convite/core';

/** An invented event, its guests by list and share, and its cues. */
export interface DemoEvent {
  readonly facts: EventFacts;
  readonly status: 'draft' | 'published';
  /** Lists whose people are invited, and what share of them. */
  readonly invited: { readonly lists: readonly number[]; readonly share: number } | null;
  /** Earlier facts, when the plan changed yesterday and only some were told. */
  readonly before?: EventFacts;
  readonly cues: readonly CueFields[];
}

const zone = 'Europe/Lisbon';
const venue = 'Serra da Bruma Observatory, Estrada da Serra 214, 4900-999 Bruma';

const relative = (
  amount: number,
  unit: 'minutes' | 'hours' | 'days' | 'weeks',
  direction: 'before' | 'after',
  anchor: 'start' | 'end',
  at: string | null,
) => ({ kind: 'relative', amount, unit, direction, anchor, at }) as const;
const coming = { invitees: ['accepted', 'tentative'], lists: [], exceptLists: [], topics: null } as const;
const notDeclined = {
  invitees: ['accepted', 'tentative', 'needs-action'],
  lists: [],
  exceptLists: [],
  topics: null,
} as const;

const weekBefore: CueFields = {
  name: 'One week to go',
  channel: 'email',
  moment: relative(1, 'weeks', 'before', 'start', '10:00'),
  audience: notDeclined,
  isDraft: false,
  subject: 'One week to go: {{event.title}}',
  body: 'Dear {{person.firstName|friend}},\n\n{{event.title}} is a week away.\n\nWhen: {{event.when}}\nWhere: {{event.place}}\n\nAll about it: {{link.event}}',
};
const dayBefore: CueFields = {
  name: 'Tomorrow',
  channel: 'email',
  moment: relative(24, 'hours', 'before', 'start', null),
  audience: coming,
  isDraft: false,
  subject: 'Tomorrow: {{event.title}}',
  body: 'Dear {{person.firstName|friend}},\n\nsee you tomorrow at {{event.time}}. Bring something warm: the dome is open to the sky.\n\n{{event.when}}\n{{event.place}}\n\n{{link.event}}',
};
const twoHours: CueFields = {
  name: 'Two hours',
  channel: 'text',
  moment: relative(120, 'minutes', 'before', 'start', null),
  audience: coming,
  isDraft: false,
  subject: '',
  body: 'Clear skies? {{event.title}} starts {{event.time}}. Map and news: {{link.event}}',
};
const joinLink: CueFields = {
  name: 'Join link',
  channel: 'email',
  moment: relative(3, 'hours', 'before', 'start', null),
  audience: notDeclined,
  isDraft: false,
  subject: 'Your link for {{event.title}}',
  body: 'Hello {{person.firstName|there}},\n\nwe start at {{event.when}}.\n\nJoin here: {{event.joinLink}}\n\nSend your questions ahead by answering this message.',
};
const thanks: CueFields = {
  name: 'Thank you',
  channel: 'email',
  moment: relative(1, 'days', 'after', 'end', '11:00'),
  audience: { ...coming, invitees: ['accepted'] },
  isDraft: true,
  subject: 'Thank you for coming to {{event.title}}',
  body: 'Dear {{person.firstName|friend}},\n\nthank you for being there.',
};

/** The observatory's programme, relative to today: a past, a future, and something that went wrong. */
export function inventEvents(nowMs: number): DemoEvent[] {
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
    title,
    description,
    zone,
    span,
    venue,
    joinLink: '',
    topics,
    ...more,
  });
  const openDome = (day: Day): EventFacts =>
    facts(
      'Open Dome Friday',
      timed(day, '20:30', '23:00'),
      ['stars'],
      'The dome is open and the 60 cm telescope is yours.\nDress warmly; hot chocolate at the door.',
    );
  const camp = nextWeekday(addDays(today, 20), 6);
  const eclipse = addDays(today, 17);
  const clouded = facts(
    'Winter Constellations Walk',
    timed(addDays(today, -1), '21:00', '23:30'),
    ['stars', 'families'],
    'A walk along the ridge with a guide and a green laser.',
  );
  return [
    {
      facts: openDome(addDays(friday, -14)),
      status: 'published',
      invited: { lists: [1], share: 0.28 },
      cues: [weekBefore, dayBefore, twoHours],
    },
    {
      facts: openDome(addDays(friday, -7)),
      status: 'published',
      invited: { lists: [1], share: 0.3 },
      cues: [weekBefore, dayBefore, twoHours],
    },
    {
      facts: openDome(friday),
      status: 'published',
      invited: { lists: [1], share: 0.32 },
      cues: [weekBefore, dayBefore, twoHours, thanks],
    },
    {
      facts: openDome(addDays(friday, 7)),
      status: 'published',
      invited: null,
      cues: [weekBefore, dayBefore, twoHours],
    },
    {
      facts: facts(
        'Lunar Eclipse Watch',
        timed(eclipse, '19:00', '00:30', addDays(eclipse, 1)),
        ['moon and planets', 'stars'],
        'Totality from the terrace, with four telescopes and a choir.\n120 places.',
      ),
      status: 'published',
      invited: { lists: [1, 2], share: 0.45 },
      cues: [
        {
          ...weekBefore,
          moment: relative(2, 'weeks', 'before', 'start', '10:00'),
          name: 'Two weeks to go',
          subject: 'Two weeks to go: {{event.title}}',
        },
        { ...weekBefore, isDraft: true, name: 'Bring a blanket' },
        dayBefore,
        twoHours,
      ],
    },
    {
      facts: facts(
        'Ask an Astronomer, Live',
        timed(addDays(today, 8), '18:00', '19:00'),
        ['online', 'talks'],
        'An hour of your questions, answered by whoever is on duty.',
        { venue: '', joinLink: 'https://live.serradabruma.example/room/ask?lang=en&key=b7' },
      ),
      status: 'published',
      invited: { lists: [4], share: 0.9 },
      cues: [weekBefore, joinLink],
    },
    {
      facts: facts(
        'Meteor Camp Weekend',
        { kind: 'all-day', firstDay: camp, lastDay: addDays(camp, 1) },
        ['camps', 'families'],
        'Two days and one very long night. Tents, soup, and shooting stars.',
      ),
      status: 'published',
      invited: { lists: [3], share: 0.8 },
      cues: [
        weekBefore,
        {
          ...dayBefore,
          moment: relative(2, 'days', 'before', 'start', '09:00'),
          name: 'Packing list',
          subject: 'What to pack for {{event.title}}',
        },
      ],
    },
    {
      facts: facts(
        'Listening to Pulsars: what a dying star’s heartbeat tells us about time & gravity',
        timed(addDays(today, 5), '19:30', '21:00'),
        ['talks', 'stars'],
        'A lecture with sound. In the auditorium and online.\nDr. Zuzana Kovářová & the radio group.',
        { joinLink: 'https://live.serradabruma.example/room/pulsars' },
      ),
      status: 'published',
      invited: { lists: [2, 4], share: 0.7 },
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
    },
    {
      facts: facts(
        'Little Planetarium Morning',
        timed(firstSunday(today), '10:30', '11:30'),
        ['families'],
        'For children from four, with the small planetarium and a story.',
      ),
      status: 'published',
      invited: { lists: [3], share: 0.5 },
      cues: [weekBefore, dayBefore],
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
  ];
}

const nextWeekday = (from: Day, weekday: number): Day => addDays(from, ((weekday - weekdayOf(from) + 6) % 7) + 1);

/** The first Sunday of the next month. */
function firstSunday(today: Day): Day {
  const [year = 0, month = 0] = today.split('-').map(Number);
  const first = month === 12 ? `${year + 1}-01-01` : `${year}-${String(month + 1).padStart(2, '0')}-01`;
  return nextWeekday(addDays(first, -1), 7);
}
