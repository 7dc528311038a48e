import { of, throwError, type Observable } from 'rxjs';
import type { PeopleImport, PeopleImportFields } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { SettingsApi } from '../api/settings';
import { openScreen, refusal, type Screen } from '../testing/screen';
import { BringIn } from './bring-in';
import { columnsOf } from './columns-of';
import { parcelsOf } from './hand-in';

const seen: PeopleImport = {
  id: 9,
  name: 'pasted',
  by: 'Marta',
  listId: 1,
  listName: 'Members',
  state: 'draft',
  startedAt: '2031-06-17T12:00:00.000Z',
  counts: { new: 2, changed: 0, same: 0, spelled: 1, refused: 1, twice: 0 },
  optedOut: 1,
  bounced: 0,
  landlines: 0,
  guessedZones: 0,
  withoutConsent: 2,
  total: 3,
  position: 0,
  joined: 0,
  undoUntil: null,
};

describe('bringing people in', () => {
  const open = async (over: object = {}) => {
    const begun: PeopleImportFields[] = [];
    const handed: unknown[] = [];
    const taken: unknown[] = [];
    const changed: unknown[][] = [];
    const api = {
      lists: () => of([{ id: 1, name: 'Members', count: 5, isArchived: false }]),
      fields: () => of([{ id: 4, name: 'Seat', type: 'text' }]),
      remembered: () => of({ columns: null }),
      beginImport: (fields: PeopleImportFields) => (begun.push(fields), of({ id: 9 })),
      addRows: (_id: number, rows: unknown): Observable<PeopleImport> => (handed.push(rows), of(seen)),
      importRows: () => of({ rows: [], next: null }),
      takeImport: (_id: number, how: unknown) => (taken.push(how), of({ position: 3, total: 3, isOver: true })),
      import: () => of({ ...seen, state: 'done', joined: 3 }),
      changeImport: (...what: unknown[]) => (changed.push(what), of(null)),
      refusedUrl: (id: number, format: string) => `/refused/${id}.${format}`,
      ...over,
    };
    const screen = await openScreen(BringIn, {}, [
      { provide: AudienceApi, useValue: api },
      { provide: SettingsApi, useValue: { get: () => of({ topics: ['moon'] }) } },
    ]);
    return { ...screen, begun, handed, taken, changed };
  };
  /** The file is read by a worker of its own. */
  const until = async ({ settle }: Pick<Screen<BringIn>, 'settle'>, isSo: () => boolean): Promise<void> => {
    for (let round = 0; round < 200 && !isSo(); round += 1) {
      await new Promise((done) => setTimeout(done, 25));
      await settle();
    }
  };
  const paste = async (screen: Awaited<ReturnType<typeof open>>, text: string): Promise<void> => {
    [...screen.element.querySelectorAll<HTMLElement>('[role=radio]')]
      .find((one) => one.textContent?.includes('Paste'))
      ?.click();
    await screen.settle();
    await screen.type('textarea', text);
    await screen.press('Read it');
    await until(screen, () => screen.text().includes('Look it through'));
  };
  const agree = async (screen: Awaited<ReturnType<typeof open>>): Promise<void> => {
    await screen.type('input[placeholder^="signed the list"]', 'asked us to');
    await screen.type('cv-time-field input', '1 jun 2031', 'input');
    screen.find('cv-time-field input').dispatchEvent(new Event('change'));
    await screen.settle();
  };

  it('goes from pasted addresses to a list: what would happen is shown, and only then taken', async () => {
    const screen = await open();
    await paste(screen, 'Ana <ana@x.example>, bo@x.example\nnope');
    expect(screen.text()).toContain('Choose the list that they go on.');
    await screen.type('cv-section select', '1', 'change');
    expect(screen.text()).toContain('nobody writes to them by email');
    await agree(screen);
    await screen.press('Look it through');
    await until(screen, () => screen.text().includes('What will happen'));
    expect(screen.begun[0]).toEqual(
      jasmine.objectContaining({
        listId: 1,
        emailConsent: { how: 'asked us to', on: '2031-06-01' },
        textConsent: null,
        columns: [
          { to: 'name', rule: 'fill' },
          { to: 'email', rule: 'fill' },
        ],
      }),
    );
    expect(screen.handed).toEqual([
      [
        { number: 1, cells: ['Ana', 'ana@x.example'] },
        { number: 2, cells: ['', 'bo@x.example'] },
        { number: 3, cells: ['', 'nope'] },
      ],
    ]);
    expect(screen.text()).toContain('1 person opted out, and stay so.');
    expect(screen.text()).toContain('1 known by another spelling');
    await screen.press('Take in 3 people');
    await until(screen, () => screen.text().includes('joined a list'));
    expect(screen.taken).toEqual([{ rows: 3, spelled: 'known' }]);
    await screen.press('Take all of it back');
    expect(screen.changed).toEqual([[9, 'undo']]);
  });

  it('shows columns with what stands in them, for somebody to set right, and asks once about what would be new', async () => {
    const screen = await open();
    await paste(screen, 'Mail\tBorn on date\tGroup\na@x.example\t3/4/1990\tMembers; Press\nb@x.example\t5/4/1990\t\n');
    expect(screen.text()).toContain('Nothing in it proves whether day or month stands first.');
    expect(screen.text()).toContain('make 1 new: Press');
    await screen.tick('make 1 new');
    await screen.type('select[aria-label="How days stand in Born on date"]', 'month-first', 'change');
    await screen.type('cv-section select', 'none', 'change');
    await screen.press('Look it through');
    await until(screen, () => screen.begun.length > 0);
    expect(screen.begun[0]?.columns).toEqual([
      { to: 'email', rule: 'fill' },
      { to: 'field', name: 'Born on date', type: 'date', rule: 'fill', order: 'month-first', isCountry: false },
      { to: 'lists', known: ['Members', 'Press'] },
    ]);
    expect([screen.begun[0]?.listId, screen.begun[0]?.emailConsent]).toEqual([null, null]);
  });

  it('loses nothing when rows cannot be handed in: the columns are there again', async () => {
    const screen = await open({ addRows: () => throwError(() => refusal({ detail: 'Not now.' })) });
    await paste(screen, 'a@x.example');
    await screen.type('cv-section select', '1', 'change');
    await screen.press('Look it through');
    await until(screen, () => screen.text().includes('Not now.'));
    expect(screen.text()).toContain('Look it through');
    expect(screen.changed).toEqual([[9, 'discard']]);
  });

  it('reads one person who is typed', async () => {
    const screen = await open();
    [...screen.element.querySelectorAll<HTMLElement>('[role=radio]')]
      .find((one) => one.textContent?.includes('One person'))
      ?.click();
    await screen.settle();
    const [name, email] = [...screen.element.querySelectorAll<HTMLInputElement>('cv-bring-source form input')];
    if (name && email) [name.value, email.value] = ['Ana', 'ana@x.example'];
    screen.find('cv-bring-source form').dispatchEvent(new Event('submit', { cancelable: true }));
    await until(screen, () => screen.text().includes('Look it through'));
    expect(screen.text()).toContain('1 row');
  });
});

describe('rows that are handed in', () => {
  it('go in parcels that the server takes, however long their cells are', () => {
    const rows = Array.from({ length: 10 }, (_, number) => ({ number, cells: ['x'.repeat(300_000)] }));
    expect(parcelsOf(rows).map(({ length }) => length)).toEqual([2, 2, 2, 2, 2]);
    expect(parcelsOf(rows.slice(0, 1))[0]).toEqual([{ number: 0, cells: ['x'.repeat(300_000)] }]);
    expect(parcelsOf([])).toEqual([]);
  });
  it('go where such a file’s columns went the last time', () => {
    const column = {
      heading: 'Who',
      samples: [],
      words: ['Members', 'Press'],
      guess: { target: { to: 'nothing' }, doubts: ['empty'] },
    } as const;
    const known = { lists: ['members'], topics: [] };
    expect(columnsOf([column], known, [{ to: 'lists', known: [] }])[0]).toEqual(
      jasmine.objectContaining({ target: { to: 'lists', known: ['members'] }, doubts: [] }),
    );
    expect(columnsOf([column], known, null)[0]).toEqual(
      jasmine.objectContaining({ target: { to: 'nothing' }, doubts: ['empty'] }),
    );
  });
});
