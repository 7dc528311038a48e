import type { WordingDocument } from './document';
import type { FieldValues } from './fields';
import { prepareDocument } from './render';

/** What stands for what differs from person to person. */
const ofPerson: FieldValues = {
  'person.name': '[name]',
  'person.firstName': '[first name]',
  'person.lastName': '[last name]',
};

/**
 * A message as the team reads it where no reader is chosen, such as on the call board and in standby mails: the event's facts in place,
 * a word in brackets for what differs from person to person, and no links.
 * @param values fields of the event and the organisation; empty for a message about none
 * @example forTeam(plainDocument('{{event.title}}', 'Dear {{person.firstName}}'), { 'event.title': 'Dome night' })
 * //=> { subject: 'Dome night', text: 'Dear [first name]' }
 */
export function forTeam(document: WordingDocument, values: FieldValues): { subject: string; text: string } {
  const { subject, text } = prepareDocument(document).fill({ ...values, ...ofPerson });
  return { subject, text };
}
