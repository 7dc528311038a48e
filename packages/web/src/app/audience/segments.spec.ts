import { EMPTY, of, throwError } from 'rxjs';
import type { SegmentRow } from '@convite/contract';
import type { Segment } from '@convite/core';
import { EventsApi } from '../api/events';
import { SegmentsApi } from '../api/segments';
import { choose, openScreen, refusal, rest } from '../testing/screen';
import { PeopleSearch } from '../ui/people-search';
import type { SegmentAround } from './segment-around';
import { SegmentEditor } from './segment-editor';
import { SegmentOverlap } from './segment-overlap';

const lists = [
  { id: 1, name: 'Night sky news', count: 900, isArchived: false },
  { id: 2, name: 'Members', count: 40, isArchived: false },
];
const stored: SegmentRow = {
  id: 5,
  name: 'Not yet members',
  description: '',
  conditions: {
    kind: 'all',
    of: [
      { kind: 'list', lists: [1] },
      { kind: 'none', of: [{ kind: 'list', lists: [2] }] },
    ],
  },
  people: 860,
  countedAt: '2031-06-17T12:00:00.000Z',
  events: [],
};
const around: SegmentAround = {
  lists,
  topics: ['moon', 'camps'],
  fields: [{ id: 4, name: 'Age', type: 'number' }],
  segments: [],
  events: new Map([[7, 'Open Dome Fridays']]),
  noteEvent: () => undefined,
};
const ana = { id: 8, name: 'Ana', email: 'ana@x.example' };

describe('SegmentEditor', () => {
  const open = async (segment: SegmentRow | null = stored, over: object = {}) => {
    const counted: Segment[] = [];
    const saved: unknown[][] = [];
    const api = {
      count: (conditions: Segment) => (
        counted.push(conditions),
        of({ share: 1, people: 860, byEmail: 850, byText: 300 })
      ),
      people: () => of({ rows: [{ ...ana, mobile: '' }], next: null }),
      why: () =>
        of({
          parts: [
            { path: [], isSo: false },
            { path: [0], isSo: true },
            { path: [1], isSo: false },
            { path: [1, 0], isSo: true },
          ],
        }),
      use: () =>
        of({
          cues: [{ id: 3, name: 'Two days to go', eventId: 7 }],
          hasMoreCues: false,
          events: [],
          digests: [{ id: 2, name: 'The next ten days' }],
          segments: [],
        }),
      save: (...what: unknown[]) => (saved.push(what), of(5)),
      ...over,
    };
    const screen = await openScreen(SegmentEditor, { segment, around }, [
      { provide: SegmentsApi, useValue: api },
      {
        provide: EventsApi,
        useValue: {
          list: () =>
            of({
              rows: [{ id: 7, title: 'Open Dome Fridays', startAt: '2031-06-17T12:00:00.000Z', zone: 'Europe/Lisbon' }],
            }),
        },
      },
      { provide: PeopleSearch, useValue: { find: () => of([ana]), named: () => of([]) } },
    ]);
    await rest(screen.settle);
    await new Promise((done) => setTimeout(done, 350));
    await screen.settle();
    return { ...screen, counted, saved };
  };
  const sentence = (element: HTMLElement): string => element.querySelector('.sentence')?.textContent?.trim() ?? '';

  it('reads as a sentence, with how many are in it, some of them, and what uses it', async () => {
    const { element, text } = await open();
    expect(sentence(element)).toBe('on Night sky news, but not on Members');
    expect(text()).toContain('860 people');
    expect(text()).toContain('850 may be written to by email, 300 by text');
    expect(text()).toContain('ana@x.example');
    expect(text()).toContain('Two days to go');
    expect(text()).toContain('The next ten days');
  });

  it('is put together by choosing: conditions, groups, any and none; what is not finished is not counted', async () => {
    const { element, press, type, settle, counted, text, saved, find } = await open(null);
    expect(sentence(element)).toBe('on …');
    expect(text()).toContain('A condition is not finished yet.');
    expect(counted).toEqual([]);
    await type('cv-condition-row select', 'topic', 'change');
    await choose('input[aria-label="Any of the topics"]', 'moon', 'moon', { element, settle });
    await press('Add a group');
    const kinds = [
      ...element.querySelectorAll<HTMLSelectElement>('cv-condition-row select[aria-label="What is asked"]'),
    ];
    const inner = kinds[1];
    if (inner) inner.value = 'answered';
    inner?.dispatchEvent(new Event('change'));
    await settle();
    expect(sentence(element)).toBe('asked for moon and answered yes to …');
    await choose('input[aria-label="Which event"]', 'open', 'Open Dome Fridays', { element, settle });
    await type('input[aria-label="Days"]', '90', 'change');
    expect(sentence(element)).toBe('asked for moon and answered yes to Open Dome Fridays in the last 90 days');
    expect(text()).toContain('agreed to hear about that event');
    await type('input[maxlength="120"]', 'Moon guests');
    find('form').dispatchEvent(new Event('submit', { cancelable: true }));
    expect(saved).toEqual([
      [
        null,
        {
          name: 'Moon guests',
          description: '',
          conditions: {
            kind: 'all',
            of: [
              { kind: 'topic', topics: ['moon'] },
              { kind: 'any', of: [{ kind: 'answered', event: 7, replies: ['accepted'], withinDays: 90 }] },
            ],
          },
        },
      ],
    ]);
  });

  it('says beside each condition what is so of somebody, and what is not', async () => {
    const { element, settle, text } = await open();
    await choose('input[aria-label="Find a person"]', 'an', 'Ana', { element, settle });
    await rest(settle);
    expect(text()).toContain('Ana is not in it');
    expect([...element.querySelectorAll('.mark')].map((mark) => mark.textContent)).toEqual(['so', 'not so', 'so']);
    await settle();
  });

  it('says what may not be meant', async () => {
    const impossible: Segment = {
      kind: 'all',
      of: [
        { kind: 'list', lists: [1] },
        { kind: 'none', of: [{ kind: 'list', lists: [1] }] },
      ],
    };
    const { text } = await open({ ...stored, conditions: impossible });
    expect(text()).toContain('Nobody can be in it');
  });

  it('keeps what was put together when it is refused', async () => {
    const { find, text, settle, type } = await open(stored, {
      save: () => throwError(() => refusal({ detail: 'Another has that name.' })),
    });
    await type('input[maxlength="120"]', 'Other');
    find('form').dispatchEvent(new Event('submit', { cancelable: true }));
    await settle();
    expect(text()).toContain('Another has that name.');
    expect(find<HTMLInputElement>('input[maxlength="120"]').value).toBe('Other');
  });

  it('does not name it without a name', async () => {
    const { find, text, settle, saved, type } = await open();
    await type('input[maxlength="120"]', ' ');
    find('form').dispatchEvent(new Event('submit', { cancelable: true }));
    await settle();
    expect([text().includes('Give the segment a name.'), saved.length]).toEqual([true, 0]);
  });
});

describe('SegmentOverlap', () => {
  it('counts who is in both, and who in one alone', async () => {
    const asked: unknown[][] = [];
    const api = {
      overlap: (...what: unknown[]) => (
        asked.push(what),
        what.length ? of({ share: 1, both: 30, onlyLeft: 830, onlyRight: 10 }) : EMPTY
      ),
    };
    const { type, text, settle } = await openScreen(SegmentOverlap, { segments: [stored], lists }, [
      { provide: SegmentsApi, useValue: api },
    ]);
    await type('select[aria-label="The one"]', 'segment 5', 'change');
    expect(asked).toEqual([]);
    await type('select[aria-label="The other"]', 'list 2', 'change');
    await settle();
    expect(asked).toEqual([
      [
        { kind: 'segment', segments: [5] },
        { kind: 'list', lists: [2] },
      ],
    ]);
    expect(text()).toContain('30 in both · 830 only in Not yet members · 10 only in Members');
  });
});
