import { of, throwError } from 'rxjs';
import type { PictureRow } from '@convite/contract';
import { PicturesApi } from '../api/pictures';
import { openScreen, refusal } from '../testing/screen';
import { Pictures } from './pictures';

describe('Pictures', () => {
  const picture: PictureRow = {
    ...{ digest: 'a'.repeat(40), url: '', name: 'dome.jpg', words: '', width: 1200, height: 600, octets: 91_000 },
    ...{ isArchived: false, addedAt: '2026-11-20T10:00:00.000Z', addedBy: 'Marta' },
  };
  const open = async (over = {}) => {
    const changed: unknown[] = [];
    const api = {
      page: (before: number | null, archived: boolean) =>
        of({
          rows: archived ? [] : before ? [{ ...picture, digest: 'b', name: 'older.jpg' }] : [picture],
          next: before ? null : 7,
        }),
      change: (digest: string, change: unknown) => {
        changed.push(change);
        return of(null);
      },
      uses: () =>
        of({
          cues: [{ id: 4, name: 'One day to go', eventId: 3 }],
          wordings: [],
          digests: [],
          isMark: true,
          hasMore: true,
        }),
      ...over,
    };
    return { ...(await openScreen(Pictures, {}, [{ provide: PicturesApi, useValue: api }])), changed };
  };

  it('says of each what it shows, how large it is and where it is used; older ones page by page', async () => {
    const { text, press, type, changed } = await open();
    expect(text()).toContain('dome.jpg · 1200 × 600, 91 kB · Marta');
    expect(text()).toContain('Nobody has said what it shows.');
    await type('li input', 'The dome', 'change');
    expect(changed).toEqual([{ words: 'The dome', isArchived: false }]);
    expect(text()).not.toContain('Nobody has said');
    await press('Where it is used');
    expect(text()).toMatch(/The mark of the house, in every mail.*One day to go, a cue.*and in others/);
    await press('Older pictures');
    expect(text()).toContain('older.jpg');
  });

  it('sets one aside, and says in the server’s words what it does not take', async () => {
    const add = () => throwError(() => refusal({ detail: 'This is no picture that can be taken.' }));
    const { text, press, find, settle, tick } = await open({ add });
    const field = find('input[type=file]');
    Object.defineProperty(field, 'files', { value: [new File(['x'], 'x.svg')] });
    field.dispatchEvent(new Event('change'));
    await settle();
    expect(text()).toContain('This is no picture that can be taken.');
    await press('Set aside');
    expect(text()).not.toContain('dome.jpg');
    await tick('those set aside');
    expect(text()).toContain('None is set aside.');
  });
});
