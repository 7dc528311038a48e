import { of } from 'rxjs';
import type { DigestFields, DigestRow } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { DigestsApi } from '../api/digests';
import { openScreen } from '../testing/screen';
import { DigestForm } from './digest-form';

const fields: DigestFields = {
  name: 'The next ten days',
  weekday: 5,
  at: '13:00',
  zone: 'Europe/Lisbon',
  windowDays: 10,
  listId: 3,
  segmentId: null,
  subject: 'Coming up',
  intro: 'This is coming up.',
  isOn: true,
};
const issue: DigestRow['issues'][number] = {
  firingId: 1,
  dueAt: '2031-06-20T12:00:00.000Z',
  state: 'set',
  eventCount: 2,
  gets: 40,
  countedAt: null,
};
const row = (over: Partial<DigestRow> = {}): DigestRow => ({ ...fields, id: 9, listName: 'All', issues: [], ...over });

describe('DigestForm', () => {
  const open = async () => {
    const saved: unknown[] = [];
    const save = (_id: number | null, value: unknown) => {
      saved.push(value);
      return of(null);
    };
    const screen = await openScreen(DigestForm, { digest: row() }, [
      { provide: DigestsApi, useValue: { save } },
      { provide: AudienceApi, useValue: { lists: () => of([{ id: 3, name: 'All', count: 40 }]) } },
    ]);
    const stored = async (digest: DigestRow): Promise<void> => {
      screen.fixture.componentRef.setInput('digest', digest);
      await screen.settle();
    };
    return { ...screen, saved, stored };
  };

  it('keeps what is typed while its issues are counted anew', async () => {
    const { type, stored, find, text } = await open();
    await type('textarea', 'Mine.');
    await stored(row({ issues: [issue] }));
    expect(find<HTMLTextAreaElement>('textarea').value).toBe('Mine.');
    expect(text()).not.toContain('meanwhile');
  });

  it('puts what is typed on top of what somebody saved meanwhile, a reading of a clock never without its zone', async () => {
    const { type, stored, press, text, saved } = await open();
    await type('textarea', 'Mine.');
    await stored(row({ zone: 'America/New_York', at: '09:00' }));
    expect(text()).toContain('Fridays at 09:00 New York');
    await press('Put mine on top of it');
    await press('Save the digest');
    const theirs = { ...fields, zone: 'America/New_York', at: '09:00' };
    expect(saved).toEqual([{ ...theirs, intro: 'Mine.', was: theirs }]);
  });
});
