import type { WordingText } from '@convite/contract';

/** The wordings a marketer starts from; each is shown and can be changed before anything goes. */
export const houseWordings = {
  invitation: {
    subject: 'Invitation: {{event.title}}, {{event.date}}',
    body: `Dear {{person.firstName|friend}},

you are invited to {{event.title}}.

When: {{event.when}}
{{event.repeats}}
Where: {{event.place}}

{{event.description}}

Your calendar can answer this invitation. So can you, here: {{link.reply}}

Put the event into your calendar:
{{link.calendar}}
Calendar file: {{link.ics}}
Everything about the event: {{link.event}}`,
  },
  registered: {
    subject: 'You are down for {{event.title}}, {{event.date}}',
    body: `Dear {{person.firstName|friend}},

you are down for {{event.title}}.

When: {{event.when}}
Where: {{event.place}}

The entry for your calendar comes with this message. If you cannot come after all, or this was not you, say so here, and
somebody else has the place: {{link.reply}}

Everything about the event: {{link.event}}`,
  },
  invitationText: {
    subject: '',
    body: 'Invitation: {{event.title}}, {{event.date}} {{event.time}}. Details and calendar: {{link.event}}',
  },
  change: {
    subject: 'Changed: {{event.title}}, now {{event.date}}',
    body: `Dear {{person.firstName|friend}},

the plan for {{event.title}} has changed. This is how it stands now:

When: {{event.when}}
Where: {{event.place}}

The entry in your calendar follows by itself when your calendar accepts this update. If not, take it from here:
{{link.ics}}`,
  },
  dateOff: {
    subject: 'Called off: {{event.title}} on {{event.date}}',
    body: `Dear {{person.firstName|friend}},

we are sorry: {{event.title}} does not take place on {{event.date}}. Your calendar strikes out that one date; all others stand.`,
  },
  refresh: {
    subject: 'Once more: {{event.title}}, {{event.date}}',
    body: `Dear {{person.firstName|friend}},

your calendar asked for the newest entry of {{event.title}}. Here it is.

When: {{event.when}}
Where: {{event.place}}`,
  },
  removed: {
    subject: 'No longer planned with you: {{event.title}}, {{event.date}}',
    body: `Dear {{person.firstName|friend}},

you are no longer on the list for {{event.title}}, {{event.when}}. Your calendar takes the entry out by itself. If that surprises you, answer this message.`,
  },
  remind: {
    subject: 'Will you come? {{event.title}}, {{event.date}}',
    body: `Dear {{person.firstName|friend}},

we would like to know whether you come to {{event.title}}.

When: {{event.when}}
Where: {{event.place}}

Say yes or no here: {{link.reply}}`,
  },
  declined: {
    subject: 'About the time you proposed for {{event.title}}',
    body: `Dear {{person.firstName|friend}},

thank you for proposing another time for {{event.title}}. We cannot move it; it stays as it is:

When: {{event.when}}
Where: {{event.place}}`,
  },
  changeText: {
    subject: '',
    body: 'Changed: {{event.title}} is now {{event.date}} {{event.time}}, {{event.place}}. {{link.event}}',
  },
  callOff: {
    subject: 'Called off: {{event.title}}, {{event.date}}',
    body: `Dear {{person.firstName|friend}},

we are sorry: {{event.title}}, planned for {{event.when}}, does not take place. Your calendar removes or strikes out the entry by itself.`,
  },
  callOffText: {
    subject: '',
    body: 'Called off: {{event.title}}, {{event.date}} {{event.time}}, does not take place. Sorry! {{link.event}}',
  },
} as const satisfies Record<string, WordingText>;
