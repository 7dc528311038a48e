import { of } from 'rxjs';
import type { MisusePage } from '@convite/contract';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { Confirm } from '../ui/confirm';
import { openScreen } from '../testing/screen';
import { PersonalLinks } from './personal-links';

describe('personal links', () => {
  const open = async (says: boolean) => {
    const page: MisusePage = {
      rows: [
        { id: 4, kind: 'answer', personId: 9, eventId: 2, at: '2031-06-17T12:00:00.000Z', what: 'Answered declined.' },
      ],
      next: 3,
    };
    const asked: string[] = [];
    const reviewed: number[] = [];
    const api = {
      misuses: () => of(page),
      endLinks: () => (asked.push('ended'), of(null)),
      reviewMisuse: (id: number) => (reviewed.push(id), of(null)),
    };
    const confirm = { ask: () => (says ? of(true) : of()) };
    const screen = await openScreen(PersonalLinks, {}, [
      { provide: SettingsApi, useValue: api },
      { provide: Session, useValue: { zone: () => 'Europe/Lisbon' } },
      { provide: Confirm, useValue: confirm },
    ]);
    return { ...screen, asked, reviewed };
  };

  for (const says of [false, true])
    it(`are ended once it is confirmed, and not without (${says})`, async () => {
      const { press, asked } = await open(says);
      await press('End all links …');
      expect(asked).toEqual(says ? ['ended'] : []);
    });

  it('list what looks like misuse, with the person, until it is reviewed; and say that there is more', async () => {
    const { text, press, find, reviewed } = await open(true);
    expect(text()).toContain('Answered declined.');
    expect(text()).toContain('Older entries are listed when these are reviewed.');
    expect(find<HTMLAnchorElement>('a').getAttribute('href')).toBe('/audience?person=9');
    await press('Mark reviewed');
    expect(reviewed).toEqual([4]);
  });
});
