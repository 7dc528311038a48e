import { signal } from '@angular/core';
import { of } from 'rxjs';
import type { Rehearsal, RehearsalForAll, RehearsalQuery, RehearsalScene } from '@convite/contract';
import { archetypes } from '@convite/contract';
import { EventsApi } from '../api/events';
import { openScreen, shown, someEvent } from '../testing/screen';
import { CurrentEvent } from './current-event';
import { RehearsalScreen } from './rehearsal';

const scene = (over: Partial<RehearsalScene>): RehearsalScene => ({
  cueId: 1,
  name: 'Tomorrow',
  channel: 'email',
  does: '',
  state: 'set',
  occurrenceAt: null,
  dueAt: '2031-06-17T18:30:00.000Z',
  isPast: false,
  waitsUntil: null,
  whyNot: null,
  message: shown(),
  ...over,
});

const nobody: Rehearsal = {
  zone: 'Europe/Lisbon',
  person: { id: 0, name: 'Ana', zone: 'Asia/Tokyo', isReal: false },
  archetypes: [...archetypes],
  scenes: [],
};

describe('Rehearsal', () => {
  it('tells on their clock what comes, in which words, why another does not, and what rests; of somebody like them too', async () => {
    const asked: RehearsalQuery[] = [];
    const scenes = [
      scene({}),
      scene({ cueId: 2, name: 'Two hours', channel: 'text', message: null, whyNot: 'no-mobile' }),
      scene({ cueId: 3, name: 'Later', state: 'draft', waitsUntil: '2031-06-18T00:00:00.000Z' }),
    ];
    const answer: Rehearsal = {
      zone: 'Europe/Lisbon',
      person: { id: 4, name: 'Ana', zone: 'Asia/Tokyo', isReal: true },
      archetypes: [...archetypes],
      scenes,
    };
    const rehearsal = (_: number, query: RehearsalQuery) => {
      asked.push(query);
      return of(answer);
    };
    const { text, type } = await openScreen(RehearsalScreen, {}, [
      { provide: EventsApi, useValue: { rehearsal } },
      { provide: CurrentEvent, useValue: { detail: signal(someEvent()), id: () => 1, topics: () => ['event:1'] } },
    ]);
    expect(text()).toContain('on the clock of Tokyo: 1 of 3 cues comes.');
    expect(text()).toContain('Wed 18 Jun 2031 03:30 Tokyo');
    expect(text()).toContain('Tomorrow: Dome night');
    expect(text()).toContain('Does not come: they have no mobile number.');
    expect(text()).toContain('A draft: it does not go');
    expect(text()).toContain('They are in quiet hours');
    await type('select', 'waitlisted', 'change');
    expect(asked).toEqual([
      { person: 0, as: '' },
      { person: 0, as: 'waitlisted' },
    ]);
    expect(text()).toContain('if that were somebody who is on the waiting list');
  });

  it('for everybody says how many get what, who would get too much, and what would be if a cue were moved and more came', async () => {
    const cue = (id: number, name: string, at: string, people: number[]): RehearsalForAll['cues'][number] => ({
      ...{ id, name, people, channel: 'email', hasMore: false, reachesNew: id === 1 },
      dueAt: [at],
    });
    const all: RehearsalForAll = {
      zone: 'Europe/Lisbon',
      perWeek: 1,
      cues: [
        cue(1, 'Tomorrow', '2031-06-17T10:00:00.000Z', [1, 2, 3]),
        cue(2, 'A week', '2031-06-11T10:00:00.000Z', [1]),
      ],
      apart: 1,
    };
    const { text, press, type, settle } = await openScreen(RehearsalScreen, {}, [
      { provide: EventsApi, useValue: { rehearsal: () => of(nobody), rehearsalForAll: () => of(all) } },
      { provide: CurrentEvent, useValue: { detail: signal(someEvent()), id: () => 1, topics: () => ['event:1'] } },
    ]);
    /** A real worker counts, after a pause in typing. */
    const until = async (words: string): Promise<void> => {
      for (let tries = 0; tries < 20 && !text().includes(words); tries += 1) {
        await new Promise((next) => setTimeout(next, 100));
        await settle();
      }
      expect(text()).toContain(words);
    };
    await press('everybody');
    await until('3 people get 4 messages in all; one of them gets as many as 2 within a week.');
    expect(text()).toContain('1 person would get more than 1 in a week');
    expect(text()).toContain('1 cue goes by something of each person’s own');
    await type('[aria-label="Days by which A week is moved"]', '-3');
    await until('Nobody gets more than 1 a week.');
    await type('[aria-label="So many more register"]', '200');
    await until('203 people get 204 messages in all');
    await press('As it stands');
    await until('3 people get 4 messages in all');
  });
});
