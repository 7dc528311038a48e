import { provideRouter } from '@angular/router';
import { of, throwError } from 'rxjs';
import type { KeptChange, KeptRow, KeptWording } from '@convite/contract';
import { letter } from '@convite/core';
import { EventsApi } from '../api/events';
import { WordingsApi } from '../api/wordings';
import { choose, noWordingSource, openScreen, refusal, shown } from '../testing/screen';
import { WordingSource } from '../ui/wording/wording-source';
import { WordingPage } from './wording-page';
import { Wordings } from './wordings';

const row: KeptRow = {
  key: 'tomorrow',
  name: 'Tomorrow',
  purpose: 'reminder',
  channel: 'email',
  says: 'Tomorrow: {{event.title}}',
  goes: '',
  languages: [],
  isShipped: true,
  isChanged: false,
  isArchived: false,
  changedAt: null,
  changedBy: '',
  usedAt: null,
  came: { sent: 1204, replies: 310, optOuts: 2 },
};
const wording = letter('Tomorrow: {{event.title}}', 'See you at the dome.');
const kept: KeptWording = {
  ...row,
  version: 2,
  isChanged: true,
  wording,
  original: letter('Tomorrow', 'See you.'),
  versions: [{ number: 2, at: '2026-11-20T10:00:00.000Z', by: 'Marta' }],
  usedBy: [{ cueId: 4, name: 'One day to go', eventId: 3, eventTitle: 'Dome night' }],
  alsoIn: [],
  hasMoreUses: false,
};

describe('Wordings', () => {
  it('stand by what they are for, narrowed by name and channel; archived ones only when asked for', async () => {
    const rows: KeptRow[] = [
      { ...row, key: 'change', name: 'Changed', purpose: 'change', isChanged: true, goes: 'goes with a notice' },
      row,
      { ...row, key: 'own-1', name: 'Old news', isShipped: false, isArchived: true },
      { ...row, key: 't', name: 'Tomorrow, by text', channel: 'text', languages: ['pt', 'de'] },
    ];
    const { text, press, type, tick } = await openScreen(Wordings, {}, [
      { provide: WordingsApi, useValue: { list: () => of(rows) } },
    ]);
    expect(text()).toMatch(/Counting down.*Tomorrow.*Tomorrow, by text.*Changing and calling off.*Changed.*your words/);
    expect(text()).not.toContain('Old news');
    await tick('archived too');
    expect(text()).toContain('Old news');
    await type('select', 'in pt', 'change');
    expect(text()).not.toMatch(/Old news|Changed/);
    expect(text()).toContain('Tomorrow, by text');
    await type('select', 'not de', 'change');
    expect(text()).not.toContain('Tomorrow, by text');
    await type('select', '', 'change');
    await press('text');
    expect(text()).not.toContain('Changed');
    await type('input[type=search]', 'nothing like it');
    expect(text()).toContain('No wording is like that.');
  });
});

describe('WordingPage', () => {
  const open = async (inputs: Record<string, unknown>, over = {}) => {
    const saved: [string, KeptChange][] = [];
    const api = {
      find: () => of(kept),
      version: () => of({ wording: letter('Tomorrow: {{event.title}}', 'See you.') }),
      preview: () => of({ person: { id: 1, name: 'Ana' }, event: { id: 3, title: 'Dome night' }, message: shown() }),
      save: (key: string, change: KeptChange) => {
        saved.push([key, change]);
        return of(null);
      },
      create: (change: KeptChange) => {
        saved.push(['', change]);
        return of({ key: 'own-9' });
      },
      drop: () => of(null),
      archive: () => of(null),
      ...over,
    };
    const screen = await openScreen(WordingPage, inputs, [
      provideRouter([{ path: '**', children: [] }]),
      { provide: WordingsApi, useValue: api },
      { provide: EventsApi, useValue: { list: () => of({ rows: [], next: null }) } },
      {
        provide: WordingSource,
        useValue: {
          ...noWordingSource,
          offered: () => of([{ key: 'twoWeeks', name: 'In two weeks', about: '' }]),
          begin: () => of({ wording: { ...letter('In two weeks', 'Soon.'), from: 'twoWeeks' } }),
        },
      },
    ]);
    return { ...screen, saved };
  };
  const read = () => new Promise((done) => setTimeout(done, 300));

  it('shows the words, how somebody reads them, what differs from before, and which cues say them', async () => {
    const { text, press, settle } = await open({ key: 'tomorrow' });
    await read();
    await settle();
    for (const part of ['As Ana', 'of Dome night', 'One day to go', 'As it came with Convite', 'Version 2'])
      expect(text()).toContain(part);
    await press('Version 2');
    expect(text()).toMatch(/Gone: − ?See you\..*New: \+ ?See you at the dome\./);
  });

  it('keeps what was typed, and says with what one began', async () => {
    const { write, press, saved, said } = await open({ key: 'tomorrow' });
    await write('See you by the dome.');
    await press('Keep it');
    const [key, change] = saved[0] ?? [];
    expect([key, change?.was?.wording, said]).toEqual(['tomorrow', wording, ['Kept.']]);
    expect(JSON.stringify(change?.wording.blocks)).toContain('by the dome');
  });

  it('keeps what was typed when it is refused', async () => {
    const { write, words, press, text } = await open(
      { key: 'tomorrow' },
      { save: () => throwError(() => refusal({ detail: 'Somebody saved this wording meanwhile.' })) },
    );
    await write('Mine stays.');
    await press('Keep it');
    expect([text(), words()]).toEqual([
      jasmine.stringContaining('Somebody saved this wording meanwhile.'),
      'Mine stays.',
    ]);
  });

  it('begins a new one from another, which Undo takes back', async () => {
    const { type, press, settle, undo, saved, element } = await open({ key: 'new' });
    await type('input[maxlength="120"]', 'My reminder');
    await choose('cv-start-from input', 'two', 'In two weeks', { element, settle });
    expect(element.querySelector<HTMLInputElement>('input[maxlength="500"]')?.value).toBe('In two weeks');
    undo();
    await settle();
    expect(element.querySelector<HTMLInputElement>('input[maxlength="500"]')?.value).toBe('');
    await type('input[maxlength="500"]', 'Soon');
    await press('Keep it');
    expect(saved[0]?.[1]).toEqual(jasmine.objectContaining({ name: 'My reminder', purpose: 'reminder' }));
  });

  it('begins a copy with all that the other says', async () => {
    const { find, press, saved } = await open({ key: 'new', copyOf: 'tomorrow' });
    expect(find('input[maxlength="120"]').value).toBe('Copy of Tomorrow');
    await press('Keep it');
    expect(saved[0]?.[1].wording).toEqual(wording);
  });
});
