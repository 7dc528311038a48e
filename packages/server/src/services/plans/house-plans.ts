import type { CueFields, PlanCue } from '@convite/contract';
import {
  letter,
  plainDocument,
  type Audience,
  type Block,
  type Moment,
  type RelativeMoment,
  type ReplyState,
} from '@convite/core';

/** A plan that comes with Convite. */
export interface HousePlan {
  readonly key: string;
  readonly name: string;
  readonly says: string;
  readonly cues: readonly PlanCue[];
}

const invited = (...replies: ReplyState[]): Audience => ({
  invitees: replies,
  lists: [],
  exceptLists: [],
  exceptReplies: [],
  topics: null,
});
const coming = invited('accepted');
const likely = invited('accepted', 'tentative');
const unanswered = invited('needs-action');
const notNo = invited('accepted', 'tentative', 'needs-action');

type Count = readonly [amount: number, unit: RelativeMoment['unit'], at?: string];
const counted = (
  [amount, unit, at = null]: readonly [number, RelativeMoment['unit'], (string | null)?],
  direction: 'before' | 'after',
  anchor: RelativeMoment['anchor'],
): Moment => ({ kind: 'relative', amount, unit, direction, anchor, at });
const before = (...count: Count): Moment => counted(count, 'before', 'start');
const beforeClose = (...count: Count): Moment => counted(count, 'before', 'deadline');
const afterEnd = (...count: Count): Moment => counted(count, 'after', 'end');

const event: Block = { kind: 'event' };
const reply: Block = { kind: 'reply' };
const button = (label: string, field: 'link.event' | 'event.joinLink'): Block => ({
  kind: 'button',
  label,
  address: { kind: 'field', field, fallback: '' },
});
const about = button('All about it', 'link.event');
const dear = (words: string): string => `Dear {{person.firstName|friend}},\n\n${words}`;

const mail = (name: string, moment: Moment, audience: Audience, wording: CueFields['wording']): CueFields => ({
  name,
  channel: 'email',
  moment,
  audience,
  wording,
  isDraft: false,
});
const text = (name: string, moment: Moment, audience: Audience, words: string): CueFields => ({
  name,
  channel: 'text',
  moment,
  audience,
  wording: plainDocument('', words),
  isDraft: false,
});
const plan = (key: string, name: string, says: string, ...cues: readonly CueFields[]): HousePlan => ({
  key,
  name,
  says,
  cues: cues.map((cue, index) => ({ ...cue, key: index + 1 })),
});

const tomorrow = mail(
  'Tomorrow',
  before(24, 'hours'),
  likely,
  letter('Tomorrow: {{event.title}}', dear('we see each other tomorrow.'), event, about),
);
const twoHours = text(
  'Two hours',
  before(2, 'hours'),
  coming,
  '{{event.title}} begins at {{event.clock}}. {{event.place}}',
);
const answer = (moment: Moment): CueFields =>
  mail(
    'Are you coming?',
    moment,
    unanswered,
    letter('Are you coming? {{event.title}}, {{event.date}}', dear('may we count on you?'), event, reply),
  );
const thanks = (moment: Moment): CueFields =>
  mail('Thank you', moment, coming, letter('Thank you for {{event.title}}', dear('it was good to have you with us.')));

/** The plans that come with Convite. Moments are those of the trade (common practice); words are there to be changed. */
export const housePlans: readonly HousePlan[] = [
  plan(
    'gathering',
    'Gathering',
    'An evening that people come to: who has not answered is asked, who comes is reminded, who came is thanked.',
    mail(
      'Two weeks to go',
      before(2, 'weeks', '10:00'),
      notNo,
      letter('Two weeks to go: {{event.title}}', dear('{{event.title}} comes closer.'), event, about),
    ),
    answer(before(10, 'days', '10:00')),
    mail(
      'Three days to go',
      before(3, 'days', '10:00'),
      likely,
      letter('In three days: {{event.title}}', dear('here is all you need.'), event, about),
    ),
    tomorrow,
    twoHours,
    thanks(afterEnd(1, 'days', '11:00')),
  ),
  plan(
    'webinar',
    'Webinar',
    'An hour online: the link comes two hours before, and once more as it begins.',
    mail(
      'One week to go',
      before(1, 'weeks', '10:00'),
      notNo,
      letter('Next week: {{event.title}}', dear('a week from now we meet online.'), event, reply),
    ),
    tomorrow,
    mail(
      'Here is your link',
      before(2, 'hours'),
      likely,
      letter(
        'Today {{event.clock}}: your link',
        dear('this is where we meet.'),
        event,
        button('Join', 'event.joinLink'),
      ),
    ),
    mail(
      'We begin',
      before(15, 'minutes'),
      likely,
      letter('We begin in 15 minutes', dear('come in.'), button('Join', 'event.joinLink')),
    ),
    thanks(afterEnd(1, 'days', '10:00')),
  ),
  plan(
    'course',
    'Course',
    'Meetings that follow each other: what to bring before each, and a word after it.',
    mail(
      'What to bring',
      before(3, 'days', '10:00'),
      likely,
      letter('What to bring on {{event.weekday}}', dear('for our next meeting please bring what we agreed.'), event),
    ),
    tomorrow,
    text('One hour', before(1, 'hours'), coming, '{{event.title}} at {{event.clock}}. {{event.place}}'),
    mail(
      'After the meeting',
      afterEnd(1, 'days', '10:00'),
      coming,
      letter('After {{event.title}}', dear('this is what we did, and what comes next.'), {
        kind: 'coming',
        days: 14,
      }),
    ),
  ),
  plan(
    'festival',
    'Festival weekend',
    'Days that people travel for: announced months ahead, packed for a week ahead.',
    mail(
      'Three months to go',
      before(3, 'months', '10:00'),
      notNo,
      letter('Save the days: {{event.title}}', dear('the days are set.'), event, reply),
    ),
    mail(
      'One month to go',
      before(1, 'months', '10:00'),
      notNo,
      letter('One month to go: {{event.title}}', dear('time to plan the journey.'), event, about),
    ),
    answer(before(3, 'weeks', '10:00')),
    mail(
      'How to get there',
      before(1, 'weeks', '10:00'),
      likely,
      letter('How to get there: {{event.title}}', dear('what to pack, and how to get there.'), event, about),
    ),
    mail(
      'Tomorrow',
      before(1, 'days', '10:00'),
      likely,
      letter('Tomorrow it begins: {{event.title}}', dear('tomorrow it begins.'), event),
    ),
    thanks(afterEnd(2, 'days', '11:00')),
  ),
  plan(
    'appointment',
    'Appointment',
    'A time of one’s own: three days before, the day before, and a text two hours before.',
    mail(
      'Three days to go',
      before(3, 'days', '10:00'),
      notNo,
      letter('Your time on {{event.date}}', dear('we expect you.'), event, { kind: 'places' }, reply),
    ),
    tomorrow,
    twoHours,
    mail(
      'How was it?',
      afterEnd(1, 'days', '10:00'),
      coming,
      letter('How was it?', dear('tell us how it was: an answer to this mail reaches us.')),
    ),
  ),
  plan(
    'meeting',
    'Members’ meeting',
    'With an agenda, a close of registration that is named in the subject, and the minutes afterwards.',
    mail(
      'The agenda',
      before(4, 'weeks', '10:00'),
      notNo,
      letter('Agenda of {{event.title}}', dear('this is what we are to decide.'), event, reply),
    ),
    mail(
      'Before registration closes',
      beforeClose(2, 'days', '10:00'),
      { ...unanswered, exceptReplies: ['accepted'] },
      letter('Until {{event.registrationEnds}}: register for {{event.title}}', dear('are you coming?'), event, reply),
    ),
    mail(
      'One week to go',
      before(1, 'weeks', '10:00'),
      likely,
      letter('Next week: {{event.title}}', dear('we meet in a week.'), event, about),
    ),
    tomorrow,
    mail(
      'The minutes',
      afterEnd(3, 'days', '10:00'),
      invited('accepted', 'tentative', 'needs-action', 'declined'),
      letter('Minutes of {{event.title}}', dear('this is what we decided.')),
    ),
  ),
  plan('bare', 'Bare', 'One reminder, a day before: the least that people expect.', tomorrow),
];
