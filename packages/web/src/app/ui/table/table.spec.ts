import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { NEVER, of, Subject, throwError, type Observable } from 'rxjs';
import { openScreen, rest } from '../../testing/screen';
import { Cell, type Column } from './column';
import { rowSource, type PageOf } from './row-source';
import { nobodyPicked, Table, type Picked } from './table';

interface Person {
  readonly id: number;
  readonly name: string;
}
const people = (from: number, count: number): Person[] =>
  Array.from({ length: count }, (_, index) => ({ id: from + index, name: `Person ${from + index}` }));

let answer: (query: string, after: number) => Observable<PageOf<Person>>;

@Component({
  selector: 'cv-some-list',
  imports: [Cell, Table],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-table
      name="spec"
      label="People"
      [source]="source"
      [columns]="columns"
      [total]="120"
      [opens]="true"
      [canPick]="true"
      [(picked)]="picked"
      (opened)="opened.push($event.id)"
    >
      <span empty>Nobody.</span>
      <ng-template cvCell="name" [cvCellOf]="source" let-row>{{ row.name }}</ng-template>
      <ng-template cvCell="id" [cvCellOf]="source" let-row>{{ row.id }}</ng-template>
    </cv-table>
  `,
})
class SomeList {
  readonly columns: readonly Column[] = [
    { key: 'name', label: 'Name', onCard: 'title' },
    { key: 'id', label: 'Number', isNumber: true },
  ];
  readonly query = signal('a');
  readonly whose = signal('mine');
  readonly picked = signal<Picked>(nobodyPicked);
  readonly opened: number[] = [];
  readonly source = rowSource(
    () => ({ query: this.query(), whose: this.whose() }),
    ({ query }, after) => answer(query, Number(after ?? 0)),
    ({ whose }) => whose,
  );
}

describe('Table', () => {
  let asked: string[];
  beforeEach(() => {
    localStorage.removeItem('convite.columns.spec');
    asked = [];
    answer = (query, after) => {
      asked.push(`${query} ${after}`);
      return of({ rows: people(after + 1, 50), next: after < 100 ? after + 50 : null });
    };
  });
  const open = () => openScreen(SomeList, {});
  const rowsOf = (element: HTMLElement): HTMLElement[] => [...element.querySelectorAll<HTMLElement>('tr[data-row]')];
  const key = async (
    screen: Awaited<ReturnType<typeof open>>,
    at: number,
    name: string,
    more: KeyboardEventInit = {},
  ) => {
    rowsOf(screen.element)[at]?.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, ...more }));
    await screen.settle();
  };

  it('reads on page by page, says how many there are, and reads all that is shown again when something changed', async () => {
    const { press, text, element, fixture, settle } = await open();
    expect(text()).toContain('1 to 50 of 120');
    await press('More');
    expect([rowsOf(element).length, text()]).toEqual([100, jasmine.stringContaining('1 to 100 of 120')]);
    fixture.componentInstance.source.reload();
    await settle();
    expect(asked).toEqual(['a 0', 'a 50', 'a 0', 'a 50']);
    expect(rowsOf(element).length).toBe(100);
    fixture.componentInstance.query.set('b');
    await rest(settle);
    expect([rowsOf(element).length, asked.at(-1)]).toEqual([50, 'b 0']);
  });

  it('keeps what was read while the next is on its way, and drops an answer that was overtaken', async () => {
    const { text, fixture, settle } = await open();
    const slow = new Subject<PageOf<Person>>();
    answer = (query) => (query === 'slow' ? slow : of({ rows: [{ id: 900, name: 'Late comer' }], next: null }));
    fixture.componentInstance.query.set('slow');
    await rest(settle);
    expect(text()).toContain('Person 1');
    fixture.componentInstance.query.set('c');
    await rest(settle);
    slow.next({ rows: [{ id: 1, name: 'Overtaken' }], next: null });
    await settle();
    expect(text()).toContain('Late comer');
    expect(text()).not.toContain('Overtaken');
  });

  it('keeps the rows it has when they cannot be read again, and says so; rows behind the tenth page stay', async () => {
    const { press, text, element, fixture, settle } = await open();
    await press('More');
    answer = () => throwError(() => new Error('away'));
    fixture.componentInstance.source.reload();
    await settle();
    expect([rowsOf(element).length, text()]).toEqual([100, jasmine.stringContaining('cannot be read just now')]);
    answer = (_, after) => of({ rows: people(after + 1, 10), next: after + 10 });
    await press('Try again');
    for (let page = 2; page < 12; page += 1) await press('More');
    expect(rowsOf(element).length).toBe(120);
    fixture.componentInstance.source.reload();
    await settle();
    expect(rowsOf(element).length).toBe(120);
  });

  it('never shows rows of somebody else, and picks none of another list', async () => {
    const { text, fixture, settle } = await open();
    fixture.componentInstance.picked.set({ kind: 'all' });
    answer = () => NEVER;
    fixture.componentInstance.whose.set('somebody else');
    await settle();
    expect(text()).not.toContain('Person 1');
    expect(fixture.componentInstance.picked()).toEqual(nobodyPicked);
  });

  it('says what failed, and tries again; says when there is nobody', async () => {
    answer = () => throwError(() => new Error('away'));
    const { text, press } = await open();
    expect(text()).toContain('People: this cannot be read just now.');
    answer = () => of({ rows: [], next: null });
    await press('Try again');
    expect(text()).toContain('Nobody.');
    expect(text()).not.toContain('cannot be read');
  });

  it('goes from row to row by keys, opens with Enter, picks with space and along with shift, and picks none with Esc', async () => {
    const screen = await open();
    document.body.append(screen.element);
    const { fixture, text } = screen;
    await key(screen, 0, 'ArrowDown');
    expect(document.activeElement).toBe(rowsOf(screen.element)[1] ?? null);
    expect(
      rowsOf(screen.element)
        .map((row) => row.tabIndex)
        .slice(0, 3),
    ).toEqual([-1, 0, -1]);
    await key(screen, 1, 'Enter');
    expect(fixture.componentInstance.opened).toEqual([2]);
    await key(screen, 1, ' ');
    await key(screen, 1, 'ArrowDown', { shiftKey: true });
    expect(fixture.componentInstance.picked()).toEqual({ kind: 'some', ids: new Set([2, 3]) });
    expect(text()).toContain('2 picked');
    await key(screen, 2, 'Escape');
    expect(fixture.componentInstance.picked()).toEqual(nobodyPicked);
    await key(screen, 0, 'End');
    expect(document.activeElement).toBe(rowsOf(screen.element)[49] ?? null);
  });

  it('leaves whoever stands on a row by keys there when the rows are read again, with what they say now', async () => {
    const screen = await open();
    const row = rowsOf(screen.element)[3];
    row?.focus();
    answer = () => of({ rows: people(1, 50).map(({ id }) => ({ id, name: `Renamed ${id}` })), next: null });
    screen.fixture.componentInstance.source.reload();
    await screen.settle();
    expect(document.activeElement).toBe(row ?? null);
    expect(row?.textContent).toContain('Renamed 4');
  });

  it('offers to pick all that match once all that are shown are picked', async () => {
    const { find, press, settle, fixture, text } = await open();
    find('th.picks input').click();
    await settle();
    expect(text()).toContain('50 picked');
    await press('pick all 120');
    expect(fixture.componentInstance.picked()).toEqual({ kind: 'all' });
    expect(text()).toContain('120 picked');
    await press('Pick none');
    expect(fixture.componentInstance.picked()).toEqual(nobodyPicked);
  });

  it('leaves out the columns that somebody does not want, here and the next time', async () => {
    const { press, settle, element } = await open();
    await press('Columns');
    const item = [...document.querySelectorAll<HTMLElement>('[role=menuitemcheckbox]')].find((one) =>
      one.textContent?.includes('Number'),
    );
    item?.click();
    await settle();
    expect([...element.querySelectorAll('th')].map((th) => th.textContent?.trim())).toEqual(['', 'Name']);
    TestBed.resetTestingModule();
    const again = await open();
    expect(again.element.querySelectorAll('th').length).toBe(2);
    localStorage.setItem('convite.columns.spec', '{broken');
    TestBed.resetTestingModule();
    expect((await open()).element.querySelectorAll('th').length).toBe(3);
  });
});
