import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { List, PersonField } from '@convite/contract';
import {
  columnFacts,
  fieldTypes,
  guessFieldType,
  readTimeBehind,
  longestField,
  mergeRules,
  writtenOrders,
  type ColumnFact,
  type ColumnTarget,
  type Doubt,
  type FieldType,
  type MergeRule,
  type WrittenOrder,
} from '@convite/core';
import { Cell, type Column } from '../ui/table/column';
import { fixedRows } from '../ui/table/fixed-rows';
import { Table } from '../ui/table/table';
import { chosenOf, typed } from '../ui/typed';
import type { SeenColumn } from '../workers/people-file';

/** A column of the file, and where it goes. */
export interface ChosenColumn extends SeenColumn {
  readonly id: number;
  readonly target: ColumnTarget;
  readonly doubts: readonly Doubt[];
}

const factWords: Readonly<Record<ColumnFact, string>> = {
  email: 'Email address',
  name: 'Name',
  'first-name': 'First name',
  'last-name': 'Last name',
  mobile: 'Mobile number',
  zone: 'Time zone, or city',
  language: 'Language',
  'email-consent': 'Agreed to email: yes or no',
  'text-consent': 'Agreed to texts: yes or no',
};
const ruleWords: Readonly<Record<MergeRule, string>> = {
  fill: 'fill only what is empty',
  take: 'take the file’s',
  keep: 'keep ours',
};
const typeWords: Readonly<Record<FieldType, string>> = {
  text: 'text',
  number: 'number',
  date: 'date',
  'date-time': 'date and time',
  choice: 'one of some',
  'yes-no': 'yes or no',
};
const orderWords: Readonly<Record<WrittenOrder, string>> = {
  'day-first': 'day first: 27/11/2026',
  'month-first': 'month first: 11/27/2026',
  iso: 'year first: 2026-11-27',
  'serial-1900': 'counted in days from 1900',
  'serial-1904': 'counted in days from 1904',
};
const isDayType = (type: FieldType): boolean => type === 'date' || type === 'date-time';
const doubtWords: Readonly<Record<Doubt, string>> = {
  'by-values': 'Guessed from what stands in it.',
  'other-values': 'Many values in it are something else.',
  'day-or-month': 'Nothing in it proves whether day or month stands first.',
  'mixed-orders': 'Some days can only be read day first, others only month first.',
  empty: 'Nothing stands in it.',
};

/** Where each column of a file goes: guessed, shown with what stands in it, and for somebody to set right. */
@Component({
  selector: 'cv-bring-columns',
  imports: [Cell, MatCheckboxModule, MatFormFieldModule, MatInputModule, Table],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-table label="Columns of the file" [source]="source" [columns]="heads">
      <ng-template cvCell="heading" [cvCellOf]="source" let-row>
        <strong class="rtl-safe">{{ row.heading || 'Column ' + (row.id + 1) }}</strong>
      </ng-template>
      <ng-template cvCell="samples" [cvCellOf]="source" let-row>
        <span class="quiet small samples" dir="auto">{{ row.samples.slice(0, 3).join(' · ') || 'nothing' }}</span>
      </ng-template>
      <ng-template cvCell="target" [cvCellOf]="source" let-row>
        <span class="stack tight">
          <mat-form-field subscriptSizing="dynamic">
            <select
              matNativeControl
              [attr.aria-label]="'Where ' + nameOf(row) + ' goes'"
              [value]="keyOf(row.target)"
              (change)="choose(row, typed($event))"
            >
              <option value="nothing" [selected]="row.target.to === 'nothing'">left out</option>
              <optgroup label="About the person">
                @for (fact of facts; track fact) {
                  <option [value]="fact" [selected]="row.target.to === fact">{{ factWords[fact] }}</option>
                }
              </optgroup>
              <optgroup label="Where they belong">
                <option value="lists" [selected]="row.target.to === 'lists'">Lists, by their names</option>
                <option value="topics" [selected]="row.target.to === 'topics'">Topics</option>
              </optgroup>
              <optgroup label="Further fields">
                @for (field of fields(); track field.id) {
                  <option [value]="'field:' + field.name" [selected]="keyOf(row.target) === 'field:' + field.name">
                    {{ field.name }}
                  </option>
                }
                @if (newFieldOf(row); as name) {
                  <option [value]="'field:' + name" [selected]="keyOf(row.target) === 'field:' + name">
                    a new field: {{ name }}
                  </option>
                }
              </optgroup>
            </select>
          </mat-form-field>
          @if (row.target.to === 'field') {
            <span class="row">
              @if (!isKnownField(row.target.name)) {
                <mat-form-field class="inline" subscriptSizing="dynamic"
                  ><select
                    matNativeControl
                    [attr.aria-label]="'What ' + nameOf(row) + ' holds'"
                    (change)="setType(row, chosenOf(types, $event))"
                  >
                    @for (type of types; track type) {
                      <option [value]="type" [selected]="row.target.type === type">{{ typeWords[type] }}</option>
                    }
                  </select></mat-form-field
                >
              }
              @if (row.target.order; as order) {
                <mat-form-field class="inline" subscriptSizing="dynamic"
                  ><select
                    matNativeControl
                    [attr.aria-label]="'How days stand in ' + nameOf(row)"
                    (change)="setOrder(row, chosenOf(orders, $event))"
                  >
                    @for (one of orders; track one) {
                      <option [value]="one" [selected]="order === one">{{ orderWords[one] }}</option>
                    }
                  </select></mat-form-field
                >
              }
            </span>
          }
          @if (row.target.to === 'lists' || row.target.to === 'topics') {
            @if (row.words === null) {
              <span class="small alarm">Too many different words stand in it to be names.</span>
            } @else if (unknownOf(row).length) {
              <mat-checkbox [checked]="makesNew(row)" (change)="setMakesNew(row, $event.checked)">{{
                'make ' + unknownOf(row).length + ' new: ' + short(unknownOf(row))
              }}</mat-checkbox>
            } @else {
              <span class="small quiet">All of them are there.</span>
            }
          }
          @if (losesTimes(row)) {
            <span class="small alarm"
              >The times in this column are not imported. Choose “date and time” to keep them.</span
            >
          }
          @for (doubt of row.doubts; track doubt) {
            <span class="small alarm">{{ doubtWords[doubt] }}</span>
          }
        </span>
      </ng-template>
      <ng-template cvCell="rule" [cvCellOf]="source" let-row>
        @if (ruleOf(row); as rule) {
          <mat-form-field subscriptSizing="dynamic"
            ><select
              matNativeControl
              [attr.aria-label]="'What stays where ' + nameOf(row) + ' says something else'"
              (change)="setRule(row, chosenOf(rules, $event))"
            >
              @for (one of rules; track one) {
                <option [value]="one" [selected]="rule === one">{{ ruleWords[one] }}</option>
              }
            </select></mat-form-field
          >
        }
      </ng-template>
    </cv-table>
  `,
  styles: `
    .samples {
      display: inline-block;
      max-width: 260px;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .stack {
      padding: 6px 0;
    }
  `,
})
export class BringColumns {
  protected readonly typed = typed;
  protected readonly chosenOf = chosenOf;
  protected readonly facts = columnFacts;
  protected readonly types = fieldTypes;
  protected readonly rules = mergeRules;
  protected readonly orders = writtenOrders;
  protected readonly factWords = factWords;
  protected readonly ruleWords = ruleWords;
  protected readonly typeWords = typeWords;
  protected readonly orderWords = orderWords;
  protected readonly doubtWords = doubtWords;
  readonly columns = model.required<readonly ChosenColumn[]>();
  readonly lists = input.required<readonly List[]>();
  readonly topics = input.required<readonly string[]>();
  readonly fields = input.required<readonly PersonField[]>();
  protected readonly source = fixedRows(computed(() => this.columns()));
  protected readonly heads: readonly Column[] = [
    { key: 'heading', label: 'In the file', onCard: 'title' },
    { key: 'samples', label: 'What stands in it', onCard: 'fact' },
    { key: 'target', label: 'Goes to', onCard: 'fact' },
    { key: 'rule', label: 'Where we know it already', onCard: 'fact' },
  ];

  protected readonly nameOf = ({ heading, id }: ChosenColumn): string => heading || `column ${id + 1}`;
  protected readonly keyOf = (target: ColumnTarget): string =>
    target.to === 'field' ? `field:${target.name}` : target.to;
  protected readonly short = (words: readonly string[]): string =>
    words.length > 6 ? `${words.slice(0, 6).join(', ')} …` : words.join(', ');
  protected isKnownField(name: string): boolean {
    return this.fields().some((field) => field.name.toLowerCase() === name.toLowerCase());
  }
  /** Of a column whose heading is no field yet. */
  protected newFieldOf(column: ChosenColumn): string {
    const own = column.target.to === 'field' ? column.target.name : this.headingOf(column);
    return this.isKnownField(own) ? '' : own;
  }
  /** Of the words of a column, those that are no list, or no topic, yet. */
  protected unknownOf({ target, words }: ChosenColumn): string[] {
    const known = new Set(
      (target.to === 'lists' ? this.lists().map(({ name }) => name) : this.topics()).map((name) => name.toLowerCase()),
    );
    return (words ?? []).filter((word) => !known.has(word.toLowerCase()));
  }
  protected makesNew(column: ChosenColumn): boolean {
    const { target } = column;
    return (
      (target.to === 'lists' || target.to === 'topics') &&
      this.unknownOf(column).some((word) => target.known.includes(word))
    );
  }
  protected ruleOf({ target }: ChosenColumn): MergeRule | null {
    if (target.to === 'email' || target.to === 'email-consent' || target.to === 'text-consent') return null;
    return 'rule' in target ? target.rule : null;
  }

  /** Days with a time, into a field that keeps the day alone. */
  protected losesTimes({ target, samples }: ChosenColumn): boolean {
    if (target.to !== 'field' || target.type !== 'date' || !target.order) return false;
    const { order } = target;
    return samples.some((value) => readTimeBehind(value, order) !== '');
  }
  protected choose(column: ChosenColumn, key: string): void {
    const rule = this.ruleOf(column) ?? 'fill';
    const fact = columnFacts.find((one) => one === key);
    if (fact) return this.set(column, { to: fact, rule });
    if (key === 'lists' || key === 'topics') return this.set(column, { to: key, known: this.knownOf(key, column) });
    if (key.startsWith('field:')) return this.set(column, this.fieldOf(column, key.slice('field:'.length), rule));
    this.set(column, { to: 'nothing' });
  }
  protected setType(column: ChosenColumn, type: FieldType | undefined): void {
    const { target } = column;
    if (target.to === 'field' && type)
      this.set(column, { ...target, type, order: isDayType(type) ? (target.order ?? 'day-first') : null });
  }
  protected setOrder(column: ChosenColumn, order: WrittenOrder | undefined): void {
    if (column.target.to === 'field' && order) this.set(column, { ...column.target, order });
  }
  protected setRule(column: ChosenColumn, rule: MergeRule | undefined): void {
    if ('rule' in column.target && rule) this.set(column, { ...column.target, rule });
  }
  protected setMakesNew(column: ChosenColumn, makesNew: boolean): void {
    const { target } = column;
    if (target.to !== 'lists' && target.to !== 'topics') return;
    this.set(column, {
      ...target,
      known: [...this.knownOf(target.to, column), ...(makesNew ? this.unknownOf(column) : [])],
    });
  }

  /** Of the words of a column, those that are lists, or topics, already: as they are called here. */
  private knownOf(to: 'lists' | 'topics', { words }: ChosenColumn): string[] {
    const wanted = new Set((words ?? []).map((word) => word.toLowerCase()));
    const names = to === 'lists' ? this.lists().map(({ name }) => name) : this.topics();
    return names.filter((name) => wanted.has(name.toLowerCase()));
  }
  private headingOf = ({ heading, id }: ChosenColumn): string =>
    (heading.trim() || `Column ${id + 1}`).slice(0, longestField);
  private fieldOf(column: ChosenColumn, name: string, rule: MergeRule): ColumnTarget {
    const known = this.fields().find((field) => field.name === name);
    const guess = column.guess.target;
    const type = known?.type ?? (guess.to === 'field' ? guess.type : guessFieldType(column.samples));
    const order = isDayType(type) ? (guess.to === 'field' ? (guess.order ?? 'day-first') : 'day-first') : null;
    return { to: 'field', name, type, rule, order, isCountry: guess.to === 'field' && guess.isCountry };
  }
  /** What one column is, no other is. */
  private set(column: ChosenColumn, target: ColumnTarget): void {
    const isOnce = columnFacts.some((fact) => fact === target.to);
    this.columns.update((columns) =>
      columns.map((one) =>
        one.id === column.id
          ? { ...one, target, doubts: [] }
          : isOnce && one.target.to === target.to
            ? { ...one, target: { to: 'nothing' }, doubts: [] }
            : one,
      ),
    );
  }
}
