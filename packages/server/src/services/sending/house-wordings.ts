import { textAnswers } from './text-answers';
import { letter, plainDocument, type WordingDocument } from '@convite/core';

const event = { kind: 'event' } as const;
const calendar = { kind: 'calendar' } as const;
const reply = { kind: 'reply' } as const;
const all = {
  kind: 'button',
  label: 'Everything about the event',
  address: { kind: 'field', field: 'link.event', fallback: '' },
} as const;
const dear = 'Dear {{person.firstName|friend}},\n\n';

/** The wordings a marketer starts from; each is shown and can be changed before anything goes. */
export const houseWordings = {
  ...textAnswers,
  invitation: letter(
    'Invitation: {{event.title}}, {{event.date}}',
    `${dear}you are invited to {{event.title}}.`,
    event,
    '{{event.description}}\n\nYour calendar can answer this invitation. So can you, here:',
    reply,
    'Put the event into your calendar:',
    calendar,
    all,
  ),
  registered: letter(
    'You are registered for {{event.title}}, {{event.date}}',
    `${dear}you are registered for {{event.title}}.`,
    event,
    `The entry for your calendar comes with this message. If you cannot come after all, or this was not you, say so here, and somebody else has the place: {{link.reply}}`,
    all,
  ),
  waitlisted: letter(
    'On the waitlist: {{event.title}}, {{event.date}}',
    `${dear}{{event.title}} is full for now. You are on the waitlist: as soon as a place is free, whoever has waited longest is asked first. Please do not set out before.`,
    event,
    'You need it no more? Say so here: {{link.reply}}',
  ),
  waitChange: letter(
    'Changed: {{event.title}}, now {{event.date}}',
    `${dear}you wait for a place at {{event.title}}, and its plan has changed. This is how it stands now:`,
    event,
    'You keep your turn. If you cannot come then, say so here: {{link.reply}}',
  ),
  placeFree: letter(
    'A place is free: {{event.title}}, {{event.date}}',
    `${dear}a place is free, and you are next. It is kept for you until {{event.placeKeptUntil}}. Say yes, and it is yours; say no, or nothing until then, and the next in line is asked.`,
    event,
    reply,
  ),
  invitationText: plainDocument(
    '',
    'Invitation: {{event.title}}, {{event.date}} {{event.time}}. Details and calendar: {{link.event}}',
  ),
  change: letter(
    'Changed: {{event.title}}, now {{event.date}}',
    `${dear}the plan for {{event.title}} has changed. This is how it stands now:`,
    event,
    `The entry in your calendar follows by itself when your calendar accepts this update. If not, take it from here:
{{link.ics}}`,
  ),
  dateOff: letter(
    'Called off: {{event.title}} on {{event.date}}',
    `${dear}we are sorry: {{event.title}} does not take place on {{event.date}}. Your calendar strikes out that one date; all others stand.`,
  ),
  refresh: letter(
    'Once more: {{event.title}}, {{event.date}}',
    `${dear}your calendar asked for the newest entry of {{event.title}}. Here it is.`,
    event,
  ),
  removed: letter(
    'No longer planned with you: {{event.title}}, {{event.date}}',
    `${dear}you are no longer on the list for {{event.title}}, {{event.when}}. Your calendar takes the entry out by itself. If that surprises you, answer this message.`,
  ),
  remind: letter(
    'Will you come? {{event.title}}, {{event.date}}',
    `${dear}we would like to know whether you come to {{event.title}}.`,
    event,
    reply,
  ),
  declined: letter(
    'About the time you proposed for {{event.title}}',
    `${dear}thank you for proposing another time for {{event.title}}. We cannot move it; it stays as it is:`,
    event,
  ),
  changeText: plainDocument(
    '',
    'Changed: {{event.title}} is now {{event.date}} {{event.time}}, {{event.place}}. {{link.event}}',
  ),
  callOff: letter(
    'Called off: {{event.title}}, {{event.date}}',
    `${dear}we are sorry: {{event.title}}, planned for {{event.when}}, does not take place. Your calendar removes or strikes out the entry by itself.`,
  ),
  callOffText: plainDocument(
    '',
    'Called off: {{event.title}}, {{event.date}} {{event.time}}, does not take place. Sorry! {{link.event}}',
  ),
} as const satisfies Record<string, WordingDocument>;
