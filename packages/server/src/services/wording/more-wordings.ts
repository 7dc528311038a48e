import { letter, plainDocument, type Block, type WordingDocument } from '@convite/core';

const event = { kind: 'event' } as const;
const calendar = { kind: 'calendar' } as const;
const reply = { kind: 'reply' } as const;
const dear = 'Dear {{person.firstName|friend}},\n\n';
const to = (label: string, field: 'link.event' | 'event.joinLink' | 'link.reply'): Block => ({
  kind: 'button',
  label,
  address: { kind: 'field', field, fallback: '' },
});
const beside = (preheader: string, document: WordingDocument): WordingDocument => ({ ...document, preheader });

/** Proven messages to begin from, in our own words. Nothing sends them by itself. */
export const moreWordings = {
  fromEvent: beside(
    '{{event.when}}',
    letter(
      '{{event.title}}, {{event.date}}',
      { kind: 'heading', line: [{ kind: 'field', field: 'event.title', fallback: '' }] },
      '{{event.description}}',
      event,
      reply,
      calendar,
      to('Everything about the event', 'link.event'),
    ),
  ),
  secondInvitation: beside(
    'A place can be had until {{event.registrationEnds}}.',
    letter(
      'Register by {{event.registrationEnds}}: {{event.title}}',
      `${dear}some weeks ago we invited you to {{event.title}}. We have not heard from you, and places are given until {{event.registrationEnds}}.`,
      event,
      to('Take a place', 'link.event'),
      'If you cannot come, one press says so, and we ask no more:',
      reply,
    ),
  ),
  pending: beside(
    'We look at each request, and write again.',
    letter(
      'We have your request: {{event.title}}, {{event.date}}',
      `${dear}thank you for asking for a place at {{event.title}}. Each request is looked at by a person; you hear from us as soon as that is done. Please do not set out before.`,
      event,
    ),
  ),
  approved: beside(
    'Your place is kept.',
    letter(
      'You have a place: {{event.title}}, {{event.date}}',
      `${dear}good news: your place at {{event.title}} is kept.`,
      event,
      calendar,
      'If something comes between, say so here, and somebody else is glad of the place:',
      reply,
    ),
  ),
  refused: letter(
    'No place this time: {{event.title}}',
    `${dear}thank you for asking for a place at {{event.title}}. This time there are more of you than places, and yours is not among those that we could give. We are sorry, and hope to see you at another evening.`,
  ),
  twoWeeks: beside(
    '{{event.when}}',
    letter(
      'In two weeks: {{event.title}}',
      `${dear}in two weeks it is time for {{event.title}}. Is it in your calendar?`,
      event,
      calendar,
      'Can you still come?',
      reply,
    ),
  ),
  oneWeek: beside(
    '{{event.when}}',
    letter(
      'In a week: {{event.title}}, {{event.date}}',
      `${dear}a week from now we meet for {{event.title}}.`,
      event,
      '{{event.description}}',
      to('Everything about the event', 'link.event'),
    ),
  ),
  threeDays: beside(
    '{{event.time}}, {{event.place}}',
    letter(
      'Three days to go: {{event.title}}',
      `${dear}three days to go until {{event.title}}. If your plans changed, please say so now; somebody may be waiting for a place.`,
      event,
      reply,
    ),
  ),
  tomorrow: beside(
    '{{event.time}}, {{event.place}}',
    letter(
      'Tomorrow: {{event.title}}, {{event.time}}',
      `${dear}tomorrow is the day. Here is all you need:`,
      event,
      to('Everything about the event', 'link.event'),
    ),
  ),
  morning: beside(
    'Today, {{event.time}}',
    letter(
      'Today: {{event.title}}, {{event.time}}',
      `Good morning {{person.firstName|to you}},\n\ntoday is {{event.title}}. We look forward to you.`,
      event,
    ),
  ),
  twoHours: beside(
    'The link to join is inside.',
    letter(
      'In two hours: {{event.title}}',
      `${dear}{{event.title}} begins in two hours. Join a few minutes early, so that sound and picture are right as we begin.`,
      event,
      to('Join online', 'event.joinLink'),
    ),
  ),
  joining: beside(
    'How to get in, and what to have at hand.',
    letter(
      'How to join: {{event.title}}, {{event.date}}',
      `${dear}this is how to join {{event.title}}:`,
      {
        kind: 'list',
        isNumbered: true,
        items: [
          [{ kind: 'text', text: 'A few minutes before it begins, press the button below.' }],
          [{ kind: 'text', text: 'Give the name that you registered with.' }],
          [{ kind: 'text', text: 'Your microphone is off at first; questions are welcome in writing at any time.' }],
        ],
      },
      event,
      to('Join online', 'event.joinLink'),
    ),
  ),
  thanks: beside(
    'It was good to have you with us.',
    letter(
      'Thank you for coming to {{event.title}}',
      `${dear}thank you for being with us at {{event.title}}. We would be glad to hear what you liked and what we should do otherwise: simply answer this message.`,
    ),
  ),
  missed: beside(
    'There will be another evening.',
    letter(
      'We missed you at {{event.title}}',
      `${dear}you had a place at {{event.title}}, and we did not see you. We hope all is well. There will be another evening; this is where to look:`,
      to('What is coming up', 'link.event'),
    ),
  ),
  digest: letter(
    'What is coming up at {{organisation.name}}',
    `${dear}this is what we have planned for the coming days in the topics that you asked for.`,
  ),
  answer: letter(
    'Your answer about {{event.title}}',
    `${dear}thank you for your answer. We have noted it; if your plans change, say so here at any time:`,
    reply,
    event,
  ),
  test: letter(
    'A test from {{organisation.name}}',
    'This is a test. If it reaches you, mail leaves this house as it should. Nobody else got it.',
  ),
  tomorrowText: plainDocument(
    '',
    'Tomorrow: {{event.title}}, {{event.time}}, {{event.place}}. {{link.event}} STOP ends these texts.',
  ),
  twoHoursText: plainDocument(
    '',
    '{{event.title}} begins in two hours, {{event.time}}. {{event.joinLink|See you there!}} STOP ends these texts.',
  ),
} as const satisfies Record<string, WordingDocument>;
