import { of } from 'rxjs';
import type { CueFields, CuePreview, CueRow, LiveCount, RailAround } from '@convite/contract';
import { letter } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { SettingsApi } from '../api/settings';
import { AudienceSource } from '../ui/audience/audience-source';
import { noAudienceSource, shown } from './screen';

/** A reminder by email, a day before. */
export const someFields: CueFields = {
  name: 'Tomorrow',
  channel: 'email',
  moment: { kind: 'relative', amount: 24, unit: 'hours', direction: 'before', anchor: 'start', at: null },
  audience: { invitees: ['accepted', 'tentative'], lists: [], exceptLists: [], exceptReplies: [], topics: null },
  wording: letter('Tomorrow: {{event.title}}', 'See you.'),
  isDraft: false,
};
export const firing: CueRow['firing'] = {
  id: 11,
  state: 'set',
  dueAt: '2031-06-17T18:30:00.000Z',
  note: '',
  tally: { gets: 40, countedAt: '2026-10-01T00:00:00.000Z', finishAt: null, sent: 0, failed: 0, waiting: 0 },
  occurrence: null,
  zone: '',
  ownDay: null,
  step: null,
  otherZones: null,
};
/** The same as a line of the countdown. */
export const cue = (over: Partial<CueRow> = {}, fired: Partial<CueRow['firing']> = {}): CueRow => ({
  ...someFields,
  id: 7,
  textOf: null,
  ahead: [],
  hazards: [],
  does: '',
  ...over,
  firing: { ...firing, ...fired },
});
/** What stands about the cues of an event. */
export const someAround: RailAround = {
  standbyMinutes: 10,
  publishedAt: null,
  workdays: [1, 2, 3, 4, 5],
  holidays: [],
  quiet: { from: '22:00', until: '08:00' },
  language: 'en',
  farZones: [],
  others: [],
  hasMoreOthers: false,
  toTell: { email: 3, text: 0 },
};
export const cuePreview: CuePreview = {
  dueAt: '2031-06-17T18:30:00.000Z',
  person: { id: 4, name: 'Ana', whyNot: 'opted-out', leftOutBy: '', waitsUntil: null, zone: 'Europe/Lisbon' },
  message: shown(),
  problems: [{ code: 'too-soon', path: 'moment', facts: {} }],
};
const cueCounted: LiveCount = {
  share: 1,
  audience: { gets: 40, waiting: 0, nameless: 0, without: [{ reason: 'bounced', count: 2 }] },
};
const audience = {
  provide: AudienceApi,
  useValue: { lists: () => of([{ id: 3, name: 'Members', count: 9 }]), fields: () => of([]) },
};
/** What a cue is chosen from: a list, no fields, one topic. */
export const cueProviders = [
  audience,
  { provide: SettingsApi, useValue: { get: () => of({ topics: ['stars'] }) } },
  { provide: AudienceSource, useValue: { ...noAudienceSource, count: () => of(cueCounted) } },
];
