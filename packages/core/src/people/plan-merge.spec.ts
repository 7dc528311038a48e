import { planMerge, type MergedPerson, type MergePlan } from './plan-merge';

const nobody: MergedPerson = {
  email: 'a@x.example',
  name: 'Ana',
  mobile: '',
  phone: '',
  zone: 'Europe/Lisbon',
  zoneFrom: '',
  language: '',
  lists: [1],
  topics: ['moon'],
  fields: [3],
  emailConsent: true,
  textConsent: false,
  optedOut: false,
  pausedUntil: null,
  mostPerWeek: null,
};

describe('two people put together', () => {
  const rows: [string, Partial<MergedPerson>, Partial<MergedPerson>, Partial<MergePlan>][] = [
    ['what is there stays, what is empty is filled', {}, { name: 'A.', language: 'pt' }, { facts: { language: 'pt' } }],
    [
      'a guessed zone goes along with how it is known',
      { zone: '' },
      { zone: 'Asia/Tokyo', zoneFrom: 'phone' },
      { facts: { zone: 'Asia/Tokyo', zoneFrom: 'phone' } },
    ],
    ['how a zone of their own is known stays', { zoneFrom: '' }, { zoneFrom: 'phone' }, { facts: {} }],
    ['an address where there is none', { email: '' }, { email: 'b@x.example' }, { email: 'b@x.example' }],
    ['lists and fields that they lack', {}, { lists: [1, 2], fields: [3, 4] }, { joins: [2], fields: [4] }],
    ['topics that they lack', {}, { topics: ['moon', 'stars'] }, { topics: ['stars'] }],
    ['who hears of everything goes on doing so', { topics: [] }, { topics: ['stars'] }, { topics: [] }],
    ['a no of the other', {}, { optedOut: true, emailConsent: false }, { optsOut: true, agreesToEmail: false }],
    ['no yes over their own no', { optedOut: true, emailConsent: false }, {}, { optsOut: false, agreesToEmail: false }],
    ['a yes where nobody knew', { emailConsent: false }, {}, { agreesToEmail: true }],
    ['a number with its consent', {}, { mobile: '+447700900001', textConsent: true }, { textConsent: true }],
    [
      'a number that nobody agreed for',
      { textConsent: true },
      { mobile: '+447700900001', textConsent: false },
      { textConsent: false },
    ],
    [
      'a number for which both agreed',
      { textConsent: true },
      { mobile: '+447700900001', textConsent: true },
      { textConsent: null },
    ],
    [
      'no consent to texts without the number it was given for',
      { mobile: '+447700900002' },
      { mobile: '+447700900001', textConsent: true },
      { textConsent: null },
    ],
    [
      'the longer pause and the stricter wish',
      { pausedUntil: '2031-06-18T00:00:00.000Z', mostPerWeek: 3 },
      { pausedUntil: '2031-06-20T00:00:00.000Z', mostPerWeek: 1 },
      { pausedUntil: '2031-06-20T00:00:00.000Z', mostPerWeek: 1 },
    ],
  ];
  for (const [what, kept, other, expected] of rows)
    it(what, () => {
      const plan = planMerge({ ...nobody, ...kept }, { ...nobody, ...other });
      expect(plan).toEqual(jasmine.objectContaining<MergePlan>(expected as MergePlan));
    });
});
