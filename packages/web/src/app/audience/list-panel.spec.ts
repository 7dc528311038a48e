import { of, throwError } from 'rxjs';
import type { ListDetail } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { openScreen, refusal } from '../testing/screen';
import { ListPanel } from './list-panel';

const months = Array.from({ length: 12 }, (_, index) => `2031-${String(index + 1).padStart(2, '0')}`);
const list: ListDetail = {
  id: 5,
  name: 'Moon',
  description: 'Who looks up',
  isArchived: false,
  count: 1280,
  growth: months.map((month, index) => ({
    month,
    came: index === 4 ? 1281 : 0,
    went: index === 5 ? 1 : 0,
    bounced: 0,
  })),
  cues: [{ id: 9, name: 'Tomorrow', eventId: 3 }],
  hasMoreCues: false,
  digests: [],
};

describe('ListPanel', () => {
  const open = async (answer: unknown = of(null), canMarket = true) => {
    const sent: unknown[] = [];
    const api = {
      list: () => of(list),
      changeList: (id: number, change: unknown) => (sent.push([id, change]), answer),
    };
    const screen = await openScreen(ListPanel, { listId: 5 }, [{ provide: AudienceApi, useValue: api }], canMarket);
    return { ...screen, sent };
  };
  const was = { name: 'Moon', description: 'Who looks up', isArchived: false };

  it('says how it grew, as a chart and as numbers, and what uses it', async () => {
    const { text, press, find, element } = await open();
    expect(text()).toContain('1,280 people');
    expect(element.querySelectorAll('rect.came').length).toBe(12);
    expect(find<HTMLAnchorElement>('a[href*="cue=9"]').textContent).toContain('Tomorrow');
    await press('As numbers');
    expect(text()).toMatch(/May 2031\s*1,281\s*0\s*0/);
  });

  it('saves its name and what it is for, says what it began with, and puts it away', async () => {
    const { type, press, sent, said, find } = await open();
    await type('input', 'Full moon');
    find<HTMLFormElement>('form').dispatchEvent(new Event('submit', { cancelable: true }));
    await press('Put it away');
    expect(sent).toEqual([
      [5, { ...was, name: 'Full moon', was }],
      [5, { ...was, name: 'Full moon', isArchived: true, was: { ...was, name: 'Full moon' } }],
    ]);
    expect(said).toEqual(['Saved.', 'It is put away.']);
  });

  it('keeps what was typed when the name is taken; lets a viewer look', async () => {
    const taken = throwError(() => refusal({ status: 409, detail: 'There is a list “Sun” already.' }));
    const { type, find, text, settle } = await open(taken);
    await type('input', 'Sun');
    find<HTMLFormElement>('form').dispatchEvent(new Event('submit', { cancelable: true }));
    await settle();
    expect([text(), find('input').value]).toEqual([jasmine.stringContaining('There is a list “Sun” already.'), 'Sun']);
  });

  it('offers a viewer nothing to press', async () => {
    const { text } = await open(of(null), false);
    expect(text()).not.toContain('Put it away');
  });
});
