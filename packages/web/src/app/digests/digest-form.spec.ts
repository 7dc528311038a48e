import { letter } from '@convite/core';
import { of } from 'rxjs';
import { nobodyChosen, type DigestFields, type DigestRow } from '@convite/contract';
import { DigestsApi } from '../api/digests';
import { noAudienceSource, openScreen } from '../testing/screen';
import { AudienceSource } from '../ui/audience/audience-source';
import { DigestForm } from './digest-form';

const fields: DigestFields = {
  name: 'The next ten days',
  weekday: 5,
  at: '13:00',
  zone: 'Europe/Lisbon',
  windowDays: 10,
  whom: { ...nobodyChosen, lists: [3] },
  wording: letter('Coming up', 'This is coming up.'),
  isOn: true,
  senderId: null,
};
const issue: DigestRow['issues'][number] = {
  firingId: 1,
  dueAt: '2031-06-20T12:00:00.000Z',
  state: 'set',
  eventCount: 2,
  gets: 40,
  countedAt: null,
};
const row = (over: Partial<DigestRow> = {}): DigestRow => ({ ...fields, id: 9, whomSaid: 'All', issues: [], ...over });

const all = { id: 3, name: 'All', count: 40, isArchived: false };

describe('DigestForm', () => {
  const open = async () => {
    const saved: unknown[] = [];
    const save = (_id: number | null, value: unknown) => {
      saved.push(value);
      return of(null);
    };
    const screen = await openScreen(DigestForm, { digest: row() }, [
      { provide: DigestsApi, useValue: { save } },
      { provide: AudienceSource, useValue: { ...noAudienceSource, lists: () => of([all]) } },
    ]);
    const stored = async (digest: DigestRow): Promise<void> => {
      screen.fixture.componentRef.setInput('digest', digest);
      await screen.settle();
    };
    return { ...screen, saved, stored };
  };

  it('keeps what is typed while its issues are counted anew', async () => {
    const { write, words, stored, text } = await open();
    await write('Mine.');
    await stored(row({ issues: [issue] }));
    expect(words()).toBe('Mine.');
    expect(text()).not.toContain('meanwhile');
  });

  it('puts what is typed on top of what somebody saved meanwhile, a reading of a clock never without its zone', async () => {
    const { write, stored, press, text, saved } = await open();
    await write('Mine.');
    await stored(row({ zone: 'America/New_York', at: '09:00' }));
    expect(text()).toContain('Fridays at 09:00 New York');
    await press('Put mine on top of it');
    await press('Save the digest');
    const theirs = { ...fields, zone: 'America/New_York', at: '09:00' };
    expect(saved).toEqual([{ ...theirs, wording: letter('Coming up', 'Mine.'), was: theirs }]);
  });
});
