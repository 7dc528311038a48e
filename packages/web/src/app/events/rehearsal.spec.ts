import { signal } from '@angular/core';
import { of } from 'rxjs';
import type { Rehearsal, RehearsalQuery, RehearsalScene } from '@convite/contract';
import { archetypes } from '@convite/contract';
import { EventsApi } from '../api/events';
import { openScreen, shown, someEvent } from '../testing/screen';
import { CurrentEvent } from './current-event';
import { RehearsalScreen } from './rehearsal';

const scene = (over: Partial<RehearsalScene>): RehearsalScene => ({
  cueId: 1,
  name: 'Tomorrow',
  channel: 'email',
  state: 'set',
  occurrenceAt: null,
  dueAt: '2031-06-17T18:30:00.000Z',
  isPast: false,
  waitsUntil: null,
  whyNot: null,
  message: shown(),
  ...over,
});

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
});
