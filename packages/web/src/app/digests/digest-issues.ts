import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import type { DigestRow } from '@convite/contract';
import { Session } from '../api/session';
import { PeopleCount } from '../ui/people-count';
import { StateMark } from '../ui/state-mark';
import { Cell, type Column } from '../ui/table/column';
import { fixedRows } from '../ui/table/fixed-rows';
import { Table } from '../ui/table/table';
import { When } from '../ui/when';

/** The next issues of a digest, each with what it would say and to how many. */
@Component({
  selector: 'cv-digest-issues',
  imports: [Cell, PeopleCount, StateMark, Table, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-table label="Issues" [isSmall]="true" [source]="issues" [columns]="columns">
      <span empty>No issue is planned; the digest is off.</span>
      <ng-template cvCell="issue" [cvCellOf]="issues" let-issue>
        <cv-when [at]="issue.dueAt" [zone]="digest().zone" />
      </ng-template>
      <ng-template cvCell="events" [cvCellOf]="issues" let-issue>{{ issue.eventCount }}</ng-template>
      <ng-template cvCell="people" [cvCellOf]="issues" let-issue>
        @if (issue.eventCount || issue.countedAt === null) {
          <cv-people-count [tally]="issue" [state]="issue.state" />
        } @else {
          <span class="quiet">nothing to say</span>
        }
      </ng-template>
      <ng-template cvCell="state" [cvCellOf]="issues" let-issue><cv-state [state]="issue.state" /></ng-template>
      <ng-template cvCell="act" [cvCellOf]="issues" let-issue>
        @if (session.canMarket()) {
          @if (issue.state === 'set' || issue.state === 'standby') {
            <button class="link small" (click)="held.emit(issue.firingId)">Hold</button>
          }
          @if (issue.state === 'stopped') {
            <button class="link small" (click)="setAgain.emit(issue.firingId)">Set again</button>
          }
        }
      </ng-template>
    </cv-table>
  `,
})
export class DigestIssues {
  protected readonly session = inject(Session);
  readonly digest = input.required<DigestRow>();
  readonly held = output<number>();
  readonly setAgain = output<number>();
  protected readonly issues = fixedRows(
    computed(() => this.digest().issues.map((issue) => ({ ...issue, id: issue.firingId }))),
  );
  protected readonly columns: readonly Column[] = [
    { key: 'issue', label: 'Issue', onCard: 'title' },
    { key: 'events', label: 'Events', isNumber: true },
    { key: 'people', label: 'People', isNumber: true, onCard: 'fact' },
    { key: 'state', label: 'State', onCard: 'fact' },
    { key: 'act', label: 'What to do', isLabelHidden: true, isNumber: true, onCard: 'fact' },
  ];
}
