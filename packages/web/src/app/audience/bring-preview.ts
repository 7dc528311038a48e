import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { sayProblem, type ImportRow, type PeopleImport, type RowKind } from '@convite/contract';
import { sayZone } from '@convite/core';
import { map } from 'rxjs';
import { AudienceApi } from '../api/audience';
import { sayCount, sayNumber } from '../ui/say';
import { Cell, type Column } from '../ui/table/column';
import { rowSource } from '../ui/table/row-source';
import { Table } from '../ui/table/table';
import { Toggle, type ToggleOption } from '../ui/toggle';

const kindWords: Readonly<Record<RowKind, string>> = {
  new: 'new',
  changed: 'changed',
  same: 'unchanged',
  spelled: 'known by another spelling',
  refused: 'not taken',
  twice: 'twice in it',
};
const partWords: Readonly<Record<ImportRow['changes'][number]['part'], string>> = {
  name: 'name',
  mobile: 'mobile number',
  phone: 'telephone',
  zone: 'time zone',
  language: 'language',
  list: 'list',
  topic: 'topic',
  field: '',
};
const order: readonly RowKind[] = ['new', 'changed', 'spelled', 'same', 'refused', 'twice'];

/** What a file does, row by row: before it is done, and what it did. */
@Component({
  selector: 'cv-bring-preview',
  imports: [Cell, Table, Toggle],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="stack">
      <cv-toggle label="Rows that are" [options]="kinds()" [(value)]="kind" />
      @if (notes().length) {
        <ul class="small">
          @for (note of notes(); track note) {
            <li>{{ note }}</li>
          }
        </ul>
      }
      @if (kind() === 'refused' || kind() === 'twice') {
        <p class="small">
          <a [href]="api.refusedUrl(seen().id, 'csv')" download>All that is not taken, as a file</a> to mend and drop
          again (<a [href]="api.refusedUrl(seen().id, 'xlsx')" download>as a workbook</a>).
        </p>
      }
      <cv-table label="Rows of the file" [source]="rows" [columns]="columns()" [total]="seen().counts[kind()]">
        <span empty>No row is {{ words[kind()] }}.</span>
        <ng-template cvCell="number" [cvCellOf]="rows" let-row>{{ sayNumber(row.number) }}</ng-template>
        <ng-template cvCell="who" [cvCellOf]="rows" let-row>
          <bdi>{{ row.name || row.email || row.mobile }}</bdi>
          @if (row.name && row.email) {
            <span class="quiet small">&ngsp;{{ row.email }}</span>
          }
        </ng-template>
        <ng-template cvCell="number-of" [cvCellOf]="rows" let-row>
          {{ row.mobile }}
          @if (row.phone) {
            {{ row.phone }} <span class="quiet small">landline: no texts</span>
          }
        </ng-template>
        <ng-template cvCell="zone" [cvCellOf]="rows" let-row>
          @if (row.zone) {
            <span class="small">{{ sayZone(row.zone) }}</span>
            @if (row.isZoneGuessed) {
              <span class="quiet small">&ngsp;a guess</span>
            }
          }
        </ng-template>
        <ng-template cvCell="what" [cvCellOf]="rows" let-row>
          @for (change of row.changes; track $index) {
            <div class="small">
              {{ partWords[change.part] || change.name }}:
              @if (change.part === 'list' || change.part === 'topic') {
                <span class="yes">+ {{ change.name }}</span>
              } @else {
                <span class="quiet">{{ change.before || 'empty' }}</span> →
                <strong class="rtl-safe">{{ change.after }}</strong>
              }
            </div>
          }
          @for (problem of row.problems; track $index) {
            <div class="small alarm">{{ say(problem) }}</div>
          }
          @if (row.kind === 'twice') {
            <span class="small">Another row of the file is the same person; the first is taken.</span>
          }
          @if (row.spelled) {
            <span class="small"
              >Here as <strong>{{ row.spelled }}</strong></span
            >
          }
        </ng-template>
      </cv-table>
    </div>
  `,
  styles: `
    ul {
      margin: 0;
      padding-left: 18px;
    }
  `,
})
export class BringPreview {
  protected readonly sayNumber = sayNumber;
  protected readonly sayZone = sayZone;
  protected readonly say = sayProblem;
  protected readonly words = kindWords;
  protected readonly partWords = partWords;
  protected readonly api = inject(AudienceApi);
  readonly seen = input.required<PeopleImport>();
  protected readonly present = computed(() => order.filter((kind) => this.seen().counts[kind] > 0));
  protected readonly kinds = computed((): ToggleOption<RowKind>[] =>
    this.present().map((key) => ({ key, label: `${sayNumber(this.seen().counts[key])} ${kindWords[key]}` })),
  );
  protected readonly kind = linkedSignal<RowKind>(() => this.present()[0] ?? 'new');
  protected readonly columns = computed((): Column[] => {
    const isTaken = this.kind() === 'new' || this.kind() === 'same';
    return [
      { key: 'number', label: 'Row', isNumber: true },
      { key: 'who', label: 'Who', onCard: 'title' },
      ...(isTaken
        ? ([
            { key: 'number-of', label: 'Number', onCard: 'fact' },
            { key: 'zone', label: 'Zone', onCard: 'fact' },
          ] as const)
        : ([{ key: 'what', label: this.kind() === 'changed' ? 'What changes' : 'Why', onCard: 'fact' }] as const)),
    ];
  });
  protected readonly rows = rowSource(
    () => ({ id: this.seen().id, kind: this.kind(), state: this.seen().state }),
    ({ id, kind }, after) =>
      this.api
        .importRows(id, kind, Number(after ?? -1))
        .pipe(map(({ rows, next }) => ({ next, rows: rows.map((row) => ({ ...row, id: row.number })) }))),
  );
  protected readonly notes = computed(() => {
    const { optedOut, bounced, landlines, guessedZones, withoutConsent } = this.seen();
    const people = (count: number): string => sayCount(count, 'person', 'people');
    return [
      ...(withoutConsent
        ? [`${people(withoutConsent)} will be stored and not written to: nobody says that they agreed to email.`]
        : []),
      ...(optedOut ? [`${people(optedOut)} opted out, and stay so.`] : []),
      ...(bounced ? [`${people(bounced)} cannot be reached by email, and stay so.`] : []),
      ...(landlines
        ? [`${sayCount(landlines, 'number is', 'numbers are')} of a landline: kept, and never texted.`]
        : []),
      ...(guessedZones
        ? [`The time zones of ${people(guessedZones)} are guessed from their country, and marked so.`]
        : []),
    ];
  });
}
