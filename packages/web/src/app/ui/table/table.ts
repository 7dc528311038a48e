import {
  ChangeDetectionStrategy,
  Component,
  computed,
  contentChildren,
  effect,
  ElementRef,
  inject,
  input,
  model,
  output,
  signal,
  untracked,
} from '@angular/core';
import { sayNumber } from '../say';
import { NgTemplateOutlet } from '@angular/common';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatMenuModule } from '@angular/material/menu';
import { MatSortModule, type Sort } from '@angular/material/sort';
import { MatTableModule } from '@angular/material/table';
import { Cell, type Column } from './column';
import { keptColumns } from './kept-columns';
import { typed } from '../typed';
import type { RowSource } from './row-source';

/** By which rows are told apart. */
export interface Row {
  readonly id: number | string;
}

/** A file to take: `CSV`, and where it is. */
export interface FileLink {
  readonly name: string;
  readonly url: string;
}

/** Rows that somebody picked: some of those that are shown, or all that match. */
export type Picked = { readonly kind: 'some'; readonly ids: ReadonlySet<Row['id']> } | { readonly kind: 'all' };
export const nobodyPicked: Picked = { kind: 'some', ids: new Set() };

const nothingYet = Symbol('nothing was asked yet');
const quietRows = [1, 2, 3, 4, 5, 6];
const pickColumn = 'cv-pick';

/**
 * The one table: rows read page by page, columns to choose, sorted by whoever reads them, picked from by hand or by
 * keys, and cards on a phone. Reading, failing and being empty look the same everywhere.
 */
@Component({
  selector: 'cv-table',
  imports: [
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    MatMenuModule,
    MatSortModule,
    MatTableModule,
    NgTemplateOutlet,
  ],
  host: { '[class.small]': 'isSmall()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './table.html',
  styleUrl: './table.scss',
})
export class Table<T extends Row> {
  protected readonly sayNumber = sayNumber;
  readonly source = input.required<RowSource<T>>();
  readonly columns = input.required<readonly Column[]>();
  /** What it lists, for those who hear it. */
  readonly label = input.required<string>();
  /** Under which the choice of columns is kept; empty where there is none. */
  readonly name = input('');
  /** How many there are in all, where that is known. */
  readonly total = input<number | null>(null);
  /** Pressing Enter on a row opens it. */
  readonly opens = input(false);
  readonly canPick = input(false);
  /** A few narrow columns: beside something else it is still a table, and cards only where it is narrower than that. */
  readonly isSmall = input(false);
  readonly chosenId = input<Row['id'] | null>(null);
  /** What to look for, in words, where the list can be searched: what the field is called, and what it says while empty. */
  readonly findLabel = input('');
  readonly findHint = input('');
  readonly find = model('');
  /** Where the same rows are taken as files; none where that makes no sense. */
  readonly exports = input<readonly FileLink[]>([]);
  readonly sort = model<Sort>({ active: '', direction: '' });
  readonly picked = model<Picked>(nobodyPicked);
  readonly opened = output<T>();

  private readonly cells = contentChildren<Cell<T>>(Cell);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  protected readonly typed = typed;
  protected readonly quietRows = quietRows;
  protected readonly pickColumn = pickColumn;
  protected readonly kept = computed(() => keptColumns(this.name(), this.columns()));
  protected readonly templates = computed(() => new Map(this.cells().map((cell) => [cell.cvCell(), cell.template])));
  protected readonly shown = computed(() => [
    ...(this.canPick() ? [pickColumn] : []),
    ...this.columns()
      .filter(({ key }) => !this.name() || this.kept().shown().has(key))
      .map(({ key }) => key),
  ]);
  protected readonly choosable = computed(() =>
    this.columns().filter(({ onCard, isLabelHidden }) => onCard !== 'title' && !isLabelHidden),
  );
  /** The row that keys are at. */
  protected readonly at = signal(0);
  protected readonly said = computed(() => {
    const [count, total] = [this.source().rows().length, this.total()];
    if (count === 0) return '';
    const shown = sayNumber(count);
    if (total === null || total < count) return this.source().hasMore() ? `1 to ${shown}, and more` : `${shown} in all`;
    return total === count ? `${shown} in all` : `1 to ${shown} of ${sayNumber(total)}`;
  });
  protected readonly pickedCount = computed(() => {
    const picked = this.picked();
    return picked.kind === 'all' ? this.total() : picked.ids.size;
  });

  constructor() {
    // Another list begins at its first row, and nothing of the one before is picked: "all" would mean others.
    let before: unknown = nothingYet;
    effect(() => {
      const asked = this.source().asked();
      if (before !== nothingYet && asked !== before)
        untracked(() => {
          this.at.set(0);
          this.picked.set(nobodyPicked);
        });
      before = asked;
    });
  }

  /** A row that is read again is the same one: who stands on it by keys goes on standing there. */
  protected readonly byId = (_index: number, { id }: T): Row['id'] => id;

  protected isPicked(row: T): boolean {
    const picked = this.picked();
    return picked.kind === 'all' || picked.ids.has(row.id);
  }
  protected pick(row: T): void {
    const picked = this.picked();
    const before =
      picked.kind === 'all'
        ? this.source()
            .rows()
            .map(({ id }) => id)
        : [...picked.ids];
    const after = new Set(before);
    if (!after.delete(row.id)) after.add(row.id);
    this.picked.set({ kind: 'some', ids: after });
  }
  protected pickShown(isOn: boolean): void {
    this.picked.set({
      kind: 'some',
      ids: new Set(
        isOn
          ? this.source()
              .rows()
              .map(({ id }) => id)
          : [],
      ),
    });
  }
  protected readonly areShownPicked = computed(() => {
    const rows = this.source().rows();
    return rows.length > 0 && rows.every((row) => this.isPicked(row));
  });

  /** Arrows go from row to row, Home and End to the first and last; shift picks along. */
  protected onKey(event: KeyboardEvent, index: number): void {
    if (event.target !== event.currentTarget || event.altKey || event.ctrlKey || event.metaKey) return;
    const rows = this.source().rows();
    const row = rows[index];
    const target = { ArrowDown: index + 1, ArrowUp: index - 1, Home: 0, End: rows.length - 1 }[event.key];
    if (target !== undefined) {
      event.preventDefault();
      const there = rows[target];
      if (!there) return;
      if (event.shiftKey && this.canPick() && !this.isPicked(there)) this.pick(there);
      this.at.set(target);
      this.host.querySelectorAll<HTMLElement>('tr[data-row]')[target]?.focus();
    } else if (event.key === 'Enter' && row && this.opens()) {
      event.preventDefault();
      this.opened.emit(row);
    } else if (event.key === ' ' && row && this.canPick()) {
      event.preventDefault();
      this.pick(row);
    } else if (event.key === 'Escape' && this.pickedCount()) {
      event.stopPropagation();
      this.picked.set(nobodyPicked);
    }
  }
}
