import type { List, PersonEdit } from '@convite/contract';
import { sayZone, timeWords } from '@convite/core';
import type { PartWords } from '../ui/form/meanwhile';

type PersonPart = 'name' | 'email' | 'mobile' | 'zone' | 'language' | 'consent' | 'lists' | 'topics' | 'fields';

/** What is said of somebody when two members change them at once. */
export const personWords = (lists: () => readonly List[]): PartWords<PersonEdit, PersonPart> => ({
  parts: {
    name: ['name'],
    email: ['email', 'liftBounce'],
    mobile: ['mobile'],
    zone: ['zone'],
    language: ['language'],
    consent: ['textConsent', 'emailConsent', 'how'],
    lists: ['lists'],
    topics: ['topics'],
    fields: ['fields'],
  },
  names: {
    name: 'Name',
    email: 'Email',
    mobile: 'Mobile number',
    zone: 'Time zone',
    language: 'Reads',
    consent: 'May be written to',
    lists: 'Lists',
    topics: 'Topics',
    fields: 'Fields',
  },
  say: (person, part) => {
    switch (part) {
      case 'name':
        return person.name || 'none';
      case 'email':
        return person.email || 'none';
      case 'mobile':
        return person.mobile || 'none';
      case 'zone':
        return person.zone ? sayZone(person.zone) : 'not known';
      case 'language':
        return person.language ? timeWords[person.language].englishName : 'as the house writes';
      case 'consent':
        return `by email ${yesNo(person.emailConsent)}, by text ${yesNo(person.textConsent)}`;
      case 'topics':
        return person.topics.join(', ') || 'everything';
      case 'fields':
        return Object.values(person.fields).filter(Boolean).join(', ') || 'nothing';
      case 'lists':
        return (
          lists()
            .filter(({ id }) => person.lists.includes(id))
            .map(({ name }) => name)
            .join(', ') || 'none'
        );
    }
  },
});

const yesNo = (isSo: boolean): string => (isSo ? 'yes' : 'no');
