import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { map } from 'rxjs';
import type { TimelineRow } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { Session } from '../api/session';
import { SentMessageView } from '../ui/sent-message';
import { Cell, type Column } from '../ui/table/column';
import { rowSource } from '../ui/table/row-source';
import { Table } from '../ui/table/table';
import { When } from '../ui/when';

const columns: readonly Column[] = [
  { key: 'at', label: 'When', onCard: 'fact' },
  { key: 'what', label: 'What', onCard: 'title' },
  { key: 'show', label: 'Show it', isLabelHidden: true, onCard: 'fact' },
];
const replyWords: Readonly<Record<string, string>> = {
  accepted: 'yes',
  tentative: 'perhaps',
  declined: 'no',
  'needs-action': 'nothing',
};

const pageWords: Readonly<Record<string, string>> = {
  reply: 'their reply page',
  calendar: 'their calendar page',
  preferences: 'their preferences',
};

/** One line of what was, in words. */
function sayRow({ kind, text, channel, message }: TimelineRow): string {
  switch (kind) {
    case 'message':
      return `${text}, by ${channel ?? 'email'}: ${message?.state ?? ''}`;
    case 'invited':
      return 'Invited';
    case 'answered':
      return `Answered ${replyWords[text] ?? text}`;
    case 'registered':
      return `Place: ${text}`;
    case 'came':
      return 'Came';
    case 'did-not-come':
      return 'Did not come';
    case 'opened':
      return `Opened ${pageWords[text] ?? text}`;
    case 'agreed':
      return `Agreed to ${channel === 'text' ? 'texts' : 'email'}: “${text}”`;
    case 'said-no':
      return `Said no to ${channel === 'text' ? 'texts' : 'email'}: “${text}”`;
  }
}

/** Everything that was between the house and one person, the latest first; each message can be read as it went out. */
@Component({
  selector: 'cv-person-timeline',
  imports: [Cell, SentMessageView, Table, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="stack">
      <h3>What was</h3>
      <cv-table label="What was" [source]="rows" [columns]="columns" [chosenId]="opened()">
        <span empty>Nothing has been between them and us yet.</span>
        <ng-template cvCell="what" [cvCellOf]="rows" let-row>
          {{ say(row) }}
          @if (row.eventTitle) {
            <span class="quiet rtl-safe">· {{ row.eventTitle }}</span>
          }
          @if (row.message?.answer) {
            <span class="quiet small">{{ row.message?.answer }}</span>
          }
        </ng-template>
        <ng-template cvCell="at" [cvCellOf]="rows" let-row><cv-when [at]="row.at" [zone]="zone" /></ng-template>
        <ng-template cvCell="show" [cvCellOf]="rows" let-row>
          @if (row.message?.isKept && session.canMarket()) {
            <button
              class="link"
              [attr.aria-expanded]="opened() === row.id"
              (click)="opened.set(opened() === row.id ? null : row.id)"
            >
              {{ opened() === row.id ? 'Close it' : 'Show it' }}
            </button>
          }
        </ng-template>
      </cv-table>
      @if (message(); as message) {
        <cv-sent-message [message]="message" />
      } @else if (shown.error()) {
        <p class="note alarm" role="alert">This message cannot be shown.</p>
      }
    </section>
  `,
})
export class PersonTimeline {
  private readonly api = inject(AudienceApi);
  readonly personId = input.required<number>();
  protected readonly session = inject(Session);
  protected readonly zone = this.session.zone();
  protected readonly columns = columns;
  protected readonly say = sayRow;
  protected readonly rows = rowSource(
    () => this.personId(),
    (id, after) =>
      this.api
        .timeline(id, String(after ?? ''))
        .pipe(map((page) => ({ ...page, rows: page.rows.map((row) => ({ ...row, id: row.key })) }))),
    (id) => id,
  );
  protected readonly opened = linkedSignal<number, string | null>({ source: this.personId, computation: () => null });
  protected readonly shown = rxResource({
    params: () => Number(this.opened()?.replace('message ', '')) || undefined,
    stream: ({ params }) => this.api.message(params),
  });
  protected readonly message = computed(() =>
    this.opened() !== null && this.shown.hasValue() ? (this.shown.value() ?? null) : null,
  );
}
