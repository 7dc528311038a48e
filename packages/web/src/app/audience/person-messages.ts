import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { map } from 'rxjs';
import { AudienceApi } from '../api/audience';
import { Session } from '../api/session';
import { MailBody } from '../ui/mail-body';
import { Cell, type Column } from '../ui/table/column';
import { rowSource } from '../ui/table/row-source';
import { Table } from '../ui/table/table';
import { When } from '../ui/when';
import { optionsOf, Toggle } from '../ui/toggle';

const columns: readonly Column[] = [
  { key: 'what', label: 'What', onCard: 'title' },
  { key: 'by', label: 'By' },
  { key: 'state', label: 'State', onCard: 'fact' },
  { key: 'at', label: 'Sent', onCard: 'fact' },
  { key: 'show', label: 'Show it', isLabelHidden: true, onCard: 'fact' },
];
const views = ['rendered', 'plain', 'calendar'] as const;

/** What one person got, the latest first; each can be read as it went out, whatever has changed since. */
@Component({
  selector: 'cv-person-messages',
  imports: [Cell, MailBody, Table, Toggle, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="stack">
      <h3>What they got</h3>
      <cv-table label="Messages" [source]="messages" [columns]="columns" [chosenId]="opened()">
        <span empty>Nothing has been written to them yet.</span>
        <ng-template cvCell="what" [cvCellOf]="messages" let-row>
          {{ row.name }}
          @if (row.eventTitle) {
            <span class="quiet rtl-safe">· {{ row.eventTitle }}</span>
          }
        </ng-template>
        <ng-template cvCell="by" [cvCellOf]="messages" let-row>{{ row.channel }}</ng-template>
        <ng-template cvCell="state" [cvCellOf]="messages" let-row>
          <span [class.alarm]="row.state === 'failed' || row.state === 'bounced'">{{ row.state }}</span>
          @if (row.answer) {
            <span class="quiet small">{{ row.answer }}</span>
          }
        </ng-template>
        <ng-template cvCell="at" [cvCellOf]="messages" let-row>
          @if (row.sentAt) {
            <cv-when [at]="row.sentAt" [zone]="zone" />
          }
        </ng-template>
        <ng-template cvCell="show" [cvCellOf]="messages" let-row>
          @if (row.isKept && session.canMarket()) {
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
        <article class="sheet stack" aria-label="The message as it went out">
          <div class="row">
            <strong class="rtl-safe grow">{{ message.subject || 'Text to ' + message.to }}</strong>
            @if (message.channel === 'email') {
              <cv-toggle label="View" [options]="views()" [(value)]="view" />
            }
          </div>
          @if (message.channel === 'email' && view() === 'rendered') {
            <cv-mail-body [html]="message.html" />
          } @else {
            <pre class="pre" tabindex="0" [class.mono]="view() === 'calendar'">{{
              view() === 'calendar' ? message.calendar : message.text
            }}</pre>
          }
        </article>
      } @else if (shown.error()) {
        <p class="note alarm" role="alert">This message cannot be shown.</p>
      }
    </section>
  `,
  styles: `
    pre {
      margin: 0;
      max-height: 420px;
      overflow: auto;
    }
  `,
})
export class PersonMessages {
  private readonly api = inject(AudienceApi);
  readonly personId = input.required<number>();
  protected readonly session = inject(Session);
  protected readonly zone = this.session.me()?.organisation.zone ?? 'UTC';
  protected readonly columns = columns;
  protected readonly views = computed(() =>
    optionsOf(views.filter((one) => one !== 'calendar' || this.message()?.calendar)),
  );
  protected readonly messages = rowSource(
    () => this.personId(),
    (id, before) =>
      this.api
        .messages(id, Number(before ?? 0))
        .pipe(map((page) => ({ ...page, rows: page.rows.map((row) => ({ ...row, id: row.deliveryId })) }))),
    (id) => id,
  );
  protected readonly opened = linkedSignal<number, number | null>({ source: this.personId, computation: () => null });
  protected readonly view = linkedSignal<number | null, (typeof views)[number]>({
    source: this.opened,
    computation: () => 'rendered',
  });
  protected readonly shown = rxResource({
    params: () => this.opened() ?? undefined,
    stream: ({ params }) => this.api.message(params),
  });
  protected readonly message = computed(() =>
    this.opened() !== null && this.shown.hasValue() ? (this.shown.value() ?? null) : null,
  );
}
