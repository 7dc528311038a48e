import { of } from 'rxjs';
import type { ReleaseRow } from '@convite/contract';
import { ReleasesApi } from '../api/releases';
import { openScreen, shown } from '../testing/screen';
import { Confirm } from '../ui/confirm';
import { Releases } from './releases';

const row: ReleaseRow = {
  ...{
    what: 'cue',
    ref: 7,
    title: 'Two days to go',
    eventId: 3,
    eventTitle: 'Dome night',
    channel: 'email',
    gets: 412,
  },
  ...{ dueAt: '2031-06-16T18:30:00.000Z', by: 'Ana', at: '2031-06-01T10:00:00.000Z', isOwn: false },
};

describe('Releases', () => {
  const open = (rows: ReleaseRow[], done: string[] = []) =>
    openScreen(Releases, {}, [
      {
        provide: ReleasesApi,
        useValue: {
          list: () => of({ rows, hasMore: rows.length > 1 }),
          show: () => of({ messages: [shown({ subject: 'Two days to go: Dome night' })] }),
          release: () => of(done.push('released')),
          holdBack: () => of(done.push('held back')),
        },
      },
      { provide: Confirm, useValue: { ask: ({ text }: { text: string }) => (done.push(text), of(true)) } },
    ]);

  it('are read before they are released, with how many they go to and when', async () => {
    const done: string[] = [];
    const { text, find, press } = await open([row], done);
    expect(text()).toContain('Two days to go');
    expect(text()).toContain('written by Ana');
    expect(text()).toContain('to 412 people');
    const release = () => find<HTMLButtonElement>('button[matButton="filled"]');
    expect(release().disabled).toBeTrue();
    await press('Read it');
    expect(text()).toContain('Two days to go: Dome night');
    expect(release().disabled).toBeFalse();
    await press('Release');
    expect(done).toEqual(['It is set, and goes to 412 people when its moment comes.', 'released']);
  });

  it('of one’s own are for somebody else; any can be held back', async () => {
    const done: string[] = [];
    const { text, press, element } = await open([{ ...row, isOwn: true, dueAt: null, gets: null }], done);
    expect(text()).toContain('You wrote it: somebody else reads and releases it.');
    expect(text()).toContain('goes as soon as it is released');
    expect(element.querySelector('button[matButton="filled"]')).toBeNull();
    await press('Hold back');
    expect(done).toEqual(['held back']);
  });

  it('say when nothing waits', async () => {
    expect((await open([])).text()).toContain('Nothing waits.');
  });

  it('say when more waits than stands there', async () => {
    expect((await open([row, { ...row, ref: 8 }])).text()).toContain('Others wait behind these');
  });
});
