import type { HeldCode, Problem, ProblemCode } from '@convite/core';

type Facts = Readonly<Record<string, string | number>>;

const fieldWords: Readonly<Record<string, string>> = {
  number: 'number',
  date: 'date as 2026-11-27',
  'date-time': 'date and time as 2026-11-27 20:30',
  'yes-no': 'yes or no',
};

/** The one place where a problem becomes a sentence: what is wrong, and what to do, in the user's words. */
const sentences: Readonly<Record<ProblemCode, (facts: Facts) => string>> = {
  required: () => 'This must be filled in.',
  unreadable: ({ text }) => `This cannot be used: ${text}.`,
  'too-long': ({ most }) => `This is too long; ${most} characters at the most.`,
  'unknown-zone': ({ zone }) => `“${zone}” is not a time zone. Choose one such as Europe/Lisbon.`,
  'bad-date': () => 'This date or time does not exist.',
  'end-before-start': () => 'The end must come after the start.',
  'bad-link': () => 'This must be a whole web address, beginning with https:// and without spaces.',
  'placeholder-address': ({ text }) => `“${text}” is only an example. Type an address of your own domain.`,
  'bad-address': ({ text }) => `“${text}” is not an email address.`,
  'duplicate-address': ({ text }) => `${text} stands here twice; taken once.`,
  'bad-value': ({ text, type }) => `“${text}” is no ${fieldWords[String(type)] ?? 'value'}.`,
  'field-of-event': ({ name }) => `“${name}” is of an event, and this is about none.`,
  'unknown-list': ({ text }) => `There is no list with the number ${text}.`,
  'unknown-topic': ({ text }) => `“${text}” is no topic of the house.`,
  'unknown-person': () => 'Nobody of ours is meant by this.',
  'no-such-field': ({ text }) => `People have no field “${text}”.`,
  'bad-press': ({ text }) =>
    `“${text}” leads nowhere: a link or a button needs https://…, mailto:…, tel:… or a field that is an address.`,
  'no-press-words': () => 'A button says nothing: select it, and type what stands on it.',
  'no-words': () => 'Say how and when they agreed.',
  'in-the-future': () => 'This has not been yet.',
  'said-no': () => 'They said no themselves. Only they, or a member in their name, take that back.',
  'was-erased': ({ text }) => `${text} asked to be forgotten; only they themselves can come back.`,
  'bad-mobile': ({ text }) => `“${text}” is not a telephone number.`,
  'number-not-taken': ({ text, reason }) =>
    reason === 'length'
      ? `“${text}” has too few or too many digits for a telephone number.`
      : `“${text}” may be a telephone number. Write it with its country code, or with a word such as “phone” before it.`,
  'no-way': () => 'Neither an email address nor a number that texts reach stands in this row.',
  'bad-number': ({ least, most }) => `This must be a whole number from ${least} to ${most}.`,
  'bad-time': () => 'This clock time does not exist.',
  'unknown-field': ({ name }) => `There is no merge field “${name}”.`,
  'field-not-closed': ({ text }) => `The merge field beginning “${text}” is not closed with }}.`,
  'bad-pattern': ({ at, text }) => `The pattern cannot be read at character ${at}: “${text}”.`,
  'unknown-variable': ({ name }) => `There is no variable “${name}”.`,
  'no-start-in-pattern': () =>
    'The pattern says no start with its zone: use {start}, {startIso}, or {startLocal} with {zone}.',
  'bad-rule': ({ text }) => `This part of the rule cannot be used: “${text}”.`,
  'start-not-in-rule': () => 'The first date is not one that the rule names. Move the start, or change the rule.',
  'start-skipped': () =>
    'A series cannot begin at a time that clocks are put forward over. Choose another time, or a later first date.',
  'rule-too-often': ({ most }) => `This repeats too often for an event: ${most} times a day at the most.`,
  'not-an-occurrence': () => 'The series has no such date.',
  'bad-colour': ({ text }) => `“${text}” is not a colour that calendars know by name.`,
  'bad-position': () => 'Latitude goes from −90 to 90, longitude from −180 to 180.',
  'password-short': ({ least }) => `A password has ${least} characters or more, and not spaces alone.`,
  'password-common': () => 'Many people have this password, or one so like it that it is guessed first. Take another.',
  'password-own': () => 'This is your own address or name, which is guessed first. Take another.',
  'too-soon': ({ count = 10 }) =>
    `An automatic message is set at least ${count} minutes ahead. Choose a later moment, or send it by hand.`,
  'no-date-field': () => 'Choose which of people’s dates it counts from: a field that holds a date.',
  'no-registration': () => 'Nobody registers for this event: open registration in Details, or count from its start.',
  'no-audience': () => 'Choose who gets this.',
  'act-gone': () => 'What it names is not there any more. Choose something else.',
  'audience-gone': ({ count }) =>
    `${count === 1 ? 'A list or segment' : `${count} lists and segments`} that it names ${count === 1 ? 'is' : 'are'} gone: it goes without.`,
  'no-place-in-pattern': () => 'The pattern says no place: it needs {place}, such as {?place}.',
  'needs-two': () =>
    'Only one person here writes to people: nobody could release what they write. Invite another first.',
  'hard-to-read': ({ colour }) => `This colour is hard to read on paper; ${colour ?? 'a darker one'} can be read.`,
  'calendar-too-big': () => 'The calendar text is too big to read.',
  'calendar-too-deep': () => 'The calendar text is nested too deeply.',
  'calendar-too-many': ({ count, most }) =>
    `There are ${count} events in it; ${most} at the most are taken from one file. Part it into several.`,
  'calendar-too-hard': () => 'The calendar takes too long to read. Part it into several files.',
  'calendar-not-utf8': () =>
    'The calendar is not in UTF-8, as calendar files are; its letters would be broken. Save it as UTF-8.',
  'calendar-bad-line': ({ text }) => `This line cannot be read: “${text}”.`,
  'calendar-not-closed': ({ name }) => `${name} is not closed.`,
  'calendar-missing': ({ name }) => `${name} is missing.`,
  'calendar-bad-value': ({ value }) => `The value “${value}” cannot be read.`,
  'event-left-out': ({ title }) => `“${title}” is left out, because:`,
  'event-older': ({ title }) => `“${title}” stands in the file in a newer version, which is taken instead.`,
  'calendar-not-taken': ({ name }) => `${name} is not taken over.`,
  'calendar-more-problems': ({ count }) => `And ${count} more of the kind.`,
  'calendar-cut': ({ name, most }) => `${name} is longer than ${most} characters; the rest was cut off.`,
};

/** The sentence for a problem; a code from a newer server is at least shown. */
export function sayProblem({ code, facts }: Pick<Problem, 'facts'> & { code: string }): string {
  const sentence = sentences[code as ProblemCode] as ((facts: Facts) => string) | undefined;
  return sentence ? sentence(facts ?? {}) : `Something is wrong here (${code}).`;
}

const heldSentences: Readonly<Record<HeldCode, (by: string) => string>> = {
  'by-person': (by) => (by ? `Stopped by ${by}.` : 'Stopped.'),
  'event-held': () => 'All of this event is held.',
  'event-off': () => 'The event was called off.',
  'date-off': () => 'This date was called off.',
  passed: () => 'Its moment had passed, or was less than 10 minutes away, when it was planned.',
  'no-worker': () => 'No worker was up at its moment, and it is later than it may be.',
  'still-draft': () => 'It was still a draft at its moment.',
};

/** Why a firing does not go, as the marketer reads it. */
export const sayHeld = (code: HeldCode, by: string): string => heldSentences[code](by);
