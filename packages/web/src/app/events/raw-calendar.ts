import { ChangeDetectionStrategy, Component, computed, input, signal } from '@angular/core';
import { conformanceWords, explainLine } from '@convite/contract';
import { unfoldLines } from '@convite/core';
import { Cell, type Column } from '../ui/table/column';
import { fixedRows } from '../ui/table/fixed-rows';
import { Table } from '../ui/table/table';

interface Check {
  readonly rule: string;
  readonly source: string;
  readonly isKept: boolean;
  readonly found: string;
}

/** The calendar text line by line, each explained when it is pointed at or focused; and what it was checked for. */
@Component({
  selector: 'cv-raw-calendar',
  imports: [Cell, Table],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="halves">
      <section class="stack">
        <h2>
          Raw iCalendar <span class="quiet small">{{ lines().length }} lines, {{ octets() }} octets</span>
        </h2>
        <p class="explained small" aria-live="polite">{{ explained() }}</p>
        <ol class="mono" aria-label="Raw iCalendar">
          @for (line of lines(); track $index) {
            <li
              tabindex="0"
              [title]="explain(line)"
              [class.chosen]="chosen() === $index"
              [style.padding-left.px]="12 + depth()[$index]! * 14"
              (mouseenter)="chosen.set($index)"
              (focus)="chosen.set($index)"
            >
              {{ line }}
            </li>
          }
        </ol>
      </section>
      <section class="stack">
        <h2>
          Checked
          <span class="small" [class.yes]="kept() === checks().length" [class.alarm]="kept() < checks().length"
            >{{ kept() }} of {{ checks().length }} kept</span
          >
        </h2>
        <cv-table label="Checks" [isSmall]="true" [source]="list" [columns]="columns">
          <ng-template cvCell="mark" [cvCellOf]="list" let-check>
            <span class="mark" [class.yes]="check.isKept" [class.alarm]="!check.isKept"
              >{{ check.isKept ? '✓' : '✗'
              }}<span class="visually-hidden">{{ check.isKept ? 'kept' : 'broken' }}</span></span
            >
          </ng-template>
          <ng-template cvCell="rule" [cvCellOf]="list" let-check>
            {{ words[check.rule] ?? check.rule }}
            @if (check.found) {
              <span class="small quiet wrap">{{ check.found }}</span>
            }
          </ng-template>
          <ng-template cvCell="source" [cvCellOf]="list" let-check
            ><span class="small quiet source">{{ check.source }}</span></ng-template
          >
        </cv-table>
        <p class="small quiet">
          The whole message is {{ messageOctets() }} octets. Read back from the text alone, as a stranger’s calendar
          does.
        </p>
      </section>
    </div>
  `,
  styles: `
    ol {
      margin: 0;
      padding: 8px 0;
      list-style: none;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 6px;
      max-height: 560px;
      overflow: auto;
    }
    li {
      padding: 1px 12px;
      overflow-wrap: anywhere;
      white-space: pre-wrap;
    }
    li.chosen {
      background: var(--lead-wash);
    }
    li:focus-visible {
      outline-offset: -2px;
    }
    .explained {
      min-height: 22px;
      margin: 0;
      color: var(--lead);
      font-weight: 600;
    }
    .mark {
      font-weight: 700;
    }
    .source {
      white-space: nowrap;
    }
  `,
})
export class RawCalendar {
  readonly text = input.required<string>();
  readonly octets = input.required<number>();
  readonly messageOctets = input.required<number>();
  readonly checks = input.required<readonly Check[]>();
  protected readonly list = fixedRows(computed(() => this.checks().map((check) => ({ ...check, id: check.rule }))));
  protected readonly columns: readonly Column[] = [
    { key: 'mark', label: 'Kept', isLabelHidden: true, onCard: 'fact' },
    { key: 'rule', label: 'What is asked', onCard: 'title' },
    { key: 'source', label: 'By', onCard: 'fact' },
  ];
  protected readonly words: Readonly<Record<string, string>> = conformanceWords;
  protected readonly explain = explainLine;
  protected readonly chosen = signal(-1);
  protected readonly lines = computed(() => unfoldLines(this.text()).map(({ text }) => text));
  /** Parts inside parts stand further in. */
  protected readonly depth = computed(() => {
    let depth = 0;
    return this.lines().map((line) => {
      if (line.startsWith('END:')) depth -= 1;
      const here = depth;
      if (line.startsWith('BEGIN:')) depth += 1;
      return here;
    });
  });
  protected readonly kept = computed(() => this.checks().filter(({ isKept }) => isKept).length);
  protected readonly explained = computed(() => {
    const line = this.lines()[this.chosen()];
    return line === undefined ? 'Point at a line to read what it says.' : explainLine(line);
  });
}
