import type { KeptFields } from '@convite/contract';
import type { Channel, Purpose, WordingDocument } from '@convite/core';
import { houseWordings } from '../sending/house-wordings';
import { moreWordings } from './more-wordings';

/** A wording that comes with Convite. */
export interface Shipped extends KeptFields {
  readonly key: ShippedKey;
  /** When it goes by itself, in words; empty for one that only people use. */
  readonly goes: string;
}

/** Of messages that go by themselves, or that one begins with: a house may say each in its own words. */
export type HouseWording = keyof typeof houseWordings;
export type ShippedKey = HouseWording | keyof typeof moreWordings;

const documents: Readonly<Record<ShippedKey, WordingDocument>> = { ...houseWordings, ...moreWordings };

const table: readonly [key: ShippedKey, purpose: Purpose, name: string, goes?: string][] = [
  ['invitation', 'invitation', 'Invitation', 'what “Invite people” begins with'],
  ['invitationText', 'invitation', 'Invitation by text', 'what “Invite people” by text begins with'],
  ['secondInvitation', 'invitation', 'Second invitation, with the deadline'],
  ['remind', 'invitation', 'Will you come?', 'what “Remind” in Guests begins with'],
  ['fromEvent', 'invitation', 'The event as it stands'],
  ['registered', 'registration', 'Confirmation', 'goes as somebody registers'],
  ['pending', 'registration', 'Request received'],
  ['approved', 'registration', 'Place given'],
  ['refused', 'registration', 'No place this time'],
  ['waitlisted', 'registration', 'On the waitlist', 'goes as somebody begins to wait for a place'],
  ['waitChange', 'registration', 'Changed, for who waits', 'goes with a notice to those on the waitlist'],
  ['placeFree', 'registration', 'A place is free', 'goes to whoever has waited longest as a place is free'],
  ['twoWeeks', 'reminder', 'In two weeks'],
  ['oneWeek', 'reminder', 'In a week'],
  ['threeDays', 'reminder', 'Three days to go'],
  ['tomorrow', 'reminder', 'Tomorrow'],
  ['tomorrowText', 'reminder', 'Tomorrow, by text'],
  ['morning', 'reminder', 'Morning of the day'],
  ['twoHours', 'reminder', 'In two hours, with the join link'],
  ['twoHoursText', 'reminder', 'In two hours, by text'],
  ['joining', 'reminder', 'How to join online'],
  ['change', 'change', 'Changed', 'what a notice of a change begins with'],
  ['changeText', 'change', 'Changed, by text', 'goes with a notice to those who were invited by text'],
  ['callOff', 'change', 'Called off', 'what calling an event off begins with'],
  ['callOffText', 'change', 'Called off, by text', 'goes with it to those who were invited by text'],
  ['dateOff', 'change', 'One date called off', 'goes to those who come to that date'],
  ['removed', 'change', 'No longer on the list', 'goes to whoever is removed from the guests'],
  ['thanks', 'after', 'Thank you for coming'],
  ['missed', 'after', 'We missed you'],
  ['digest', 'digest', 'What is coming up'],
  ['answer', 'answer', 'Thank you for your answer'],
  ['declined', 'answer', 'The time you proposed', 'goes as a proposed time is declined'],
  ['refresh', 'answer', 'The entry once more', 'goes as a calendar asks for the newest entry'],
  ['acceptedText', 'answer', 'A yes by text', 'goes back to whoever texts YES'],
  ['declinedText', 'answer', 'A no by text', 'goes back to whoever texts NO'],
  ['tentativeText', 'answer', 'A perhaps by text', 'goes back to whoever texts MAYBE'],
  ['fullText', 'answer', 'No place left, by text', 'goes back to a YES where there is no place'],
  [
    'waitlistedText',
    'answer',
    'On the waitlist, by text',
    'goes back to a YES where there is no place, and people may wait',
  ],
  [
    'waitChangeText',
    'answer',
    'Changed, for who waits, by text',
    'goes with a notice to those on the waitlist who have no address',
  ],
  ['placeFreeText', 'answer', 'A place is free, by text', 'goes to whoever has waited longest and has no address'],
  ['helpText', 'answer', 'Help, by text', 'goes back to whoever texts HELP'],
  ['stoppedText', 'answer', 'No more texts', 'goes back, once, to whoever texts STOP'],
  ['startedText', 'answer', 'Texts again', 'goes back to whoever texts START'],
  ['test', 'other', 'A test'],
];

/** All of them, in the order in which they are shown. */
export const shipped: readonly Shipped[] = table.map(([key, purpose, name, goes = '']) => ({
  key,
  purpose,
  name,
  goes,
  channel: channelOf(key),
  wording: documents[key],
}));

/** Text messages have no subject, and say so by their name. */
function channelOf(key: ShippedKey): Channel {
  return key.endsWith('Text') ? 'text' : 'email';
}

export const findShipped = (key: string): Shipped | null => shipped.find((one) => one.key === key) ?? null;
