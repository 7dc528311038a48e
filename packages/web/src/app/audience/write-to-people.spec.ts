import { letter } from '@convite/core';
import { of } from 'rxjs';
import type { PeopleSelection } from '@convite/contract';
import { ManualApi } from '../api/manual';
import { noAudienceSource, openScreen, shown } from '../testing/screen';
import { AudienceSource } from '../ui/audience/audience-source';
import { Confirm } from '../ui/confirm';
import { WriteToPeople } from './write-to-people';

describe('WriteToPeople', () => {
  const open = async (selection: PeopleSelection) => {
    const asked: unknown[] = [];
    const questions: { title: string; text: string }[] = [];
    const api = {
      preview: () =>
        of({
          person: { id: 1, name: 'Ana' },
          message: shown({ subject: 'Closed', html: '<p>We are closed</p>', text: 'We are closed' }),
        }),
      send: (...what: unknown[]) => (asked.push(what), of(null)),
    };
    const source: AudienceSource = {
      ...noAudienceSource,
      count: (message) => {
        asked.push(message);
        return of({
          share: 1,
          audience: { gets: 1204, waiting: 0, nameless: 0, without: [{ reason: 'opted-out', count: 3 }] },
        });
      },
    };
    const confirm = {
      ask: (question: { title: string; text: string }) => (questions.push(question), of(true)),
      sendAsking: (send: (sending: object) => unknown, _what: string, count: number) =>
        send({ count, key: 'one-wish', isSure: false }),
    };
    const screen = await openScreen(WriteToPeople, { selection }, [
      { provide: ManualApi, useValue: api },
      { provide: AudienceSource, useValue: source },
      { provide: Confirm, useValue: confirm },
    ]);
    return { ...screen, asked, questions };
  };

  it('says who gets it and why not the others, offers no field of an event, asks, and sends once', async () => {
    const out = { exceptLists: [], exceptSegments: [], exceptPeople: [] };
    const { text, type, write, press, asked, questions, said } = await open({ search: '', list: 7, segment: null });
    const whom = { lists: [7], segments: [], people: [], ...out, channel: 'email' };
    expect(asked).toEqual([{ kind: 'manual', ...whom }]);
    expect(text()).toContain('1,204');
    expect(text()).not.toContain('event.title');
    await type('input[maxlength="500"]', 'Closed');
    await write('We are closed on Friday.');
    await press('See how they read it');
    expect(text()).toContain('As Ana reads it');
    await press('Send to 1,204 people');
    expect(questions[0]?.text).toContain('Not to those who: 3 opted out.');
    expect(asked.at(-1)).toEqual([
      { ...whom, wording: letter('Closed', 'We are closed on Friday.'), senderId: null },
      1204,
      'one-wish',
    ]);
    expect(said).toEqual(['It is going out. The call board says how far it is.']);
  });

  it('writes to those who were picked, and not to a search', async () => {
    expect((await open({ ids: [3, 4] })).asked).toEqual([jasmine.objectContaining({ people: [3, 4], lists: [] })]);
  });
  it('says why a search cannot be written to', async () => {
    const { text, asked } = await open({ search: 'ana', list: 7 });
    expect(asked).toEqual([]);
    expect(text()).toContain('A search cannot be written to');
  });
});
