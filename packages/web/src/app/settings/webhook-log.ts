import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { map } from 'rxjs';
import type { WebhookCall } from '@convite/contract';
import { Session } from '../api/session';
import { WebhooksApi } from '../api/webhooks';
import { Cell, type Column } from '../ui/table/column';
import { rowSource } from '../ui/table/row-source';
import { Table } from '../ui/table/table';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';

const states: Readonly<Record<WebhookCall['state'], string>> = {
  waiting: 'waits',
  done: 'taken',
  failed: 'given up',
};

/** What one other system was told, the latest first. */
@Component({
  selector: 'cv-webhook-log',
  imports: [Cell, Table, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-table label="What it was told" [source]="calls" [columns]="columns">
      <span empty>Nothing yet.</span>
      <ng-template cvCell="what" [cvCellOf]="calls" let-row>{{ row.kind }}</ng-template>
      <ng-template cvCell="at" [cvCellOf]="calls" let-row
        ><cv-when [at]="row.at" [zone]="zone" [short]="true"
      /></ng-template>
      <ng-template cvCell="state" [cvCellOf]="calls" let-row>
        <span [class.alarm]="row.state === 'failed'">{{ states[row.state] }}</span>
        @if (row.attempts) {
          <span class="small quiet">
            {{ row.answer }} {{ row.attempts > 1 ? row.attempts + ' times posted.' : '' }}
            @if (row.state === 'waiting') {
              Again <cv-when [at]="row.nextAt" [zone]="zone" [short]="true" />
            }
          </span>
        }
      </ng-template>
      <ng-template cvCell="act" [cvCellOf]="calls" let-row>
        @if (row.state !== 'waiting') {
          <button class="link small" type="button" (click)="again(row.id)">Post again</button>
        }
      </ng-template>
    </cv-table>
  `,
})
export class WebhookLog {
  private readonly api = inject(WebhooksApi);
  private readonly toast = inject(Toast);
  protected readonly zone = inject(Session).zone();
  readonly webhookId = input.required<number>();
  protected readonly states = states;
  protected readonly columns: readonly Column[] = [
    { key: 'what', label: 'Of what', onCard: 'title' },
    { key: 'at', label: 'It happened', onCard: 'fact' },
    { key: 'state', label: 'What became of it', onCard: 'fact' },
    { key: 'act', label: 'What to do', isLabelHidden: true, onCard: 'fact' },
  ];
  protected readonly calls = rowSource(
    () => this.webhookId(),
    (id, before) => this.api.calls(id, Number(before ?? 0)).pipe(map((page) => page)),
    (id) => id,
  );

  reload(): void {
    this.calls.reload();
  }
  protected again(call: number): void {
    this.api.again(this.webhookId(), call).subscribe({
      next: () => {
        this.toast.say('It is posted again.');
        this.calls.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
