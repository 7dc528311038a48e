import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import type { SetAsideReply } from '@convite/contract';
import { replyStates } from '@convite/core';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { Cell, type Column } from '../ui/table/column';
import { fixedRows } from '../ui/table/fixed-rows';
import { Table } from '../ui/table/table';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { OurWord } from '../ui/word';

const reasons: Readonly<Record<string, string>> = {
  'not-invited': 'nobody of that address is invited',
  'from-somebody-else': 'sent from another address than the one invited',
  unproven: 'nothing proves that it comes from them; the address anybody can write to was used',
  counted: 'counted by hand',
  'no-place': 'said yes when every place was taken',
  'asked-too-often': 'asked for the newest entry more than once within an hour, or five times a day',
  'not-written-to': 'they opted out, or their address bounces',
  'unknown-version': 'answers a version that never was',
  'old-version': 'answers an older version',
  'older-than-last': 'older than the answer we have',
  'unknown-date': 'answers a date that the series does not have',
  'end-before-start': 'proposes an end before its start',
  'in-place-of': 'answers in place of an invitee who passed it on; invite them to let it count',
  'calendar-refused': 'their calendar could not take the invitation',
  'calendar-missing': 'something the standard asks for is missing',
  'calendar-bad-value': 'a value cannot be read',
  'calendar-bad-line': 'a line of it cannot be read',
  'calendar-not-closed': 'it breaks off in the middle',
  'calendar-too-big': 'it is too large to be an answer',
  'calendar-too-deep': 'it is nested too deeply',
  'unknown-zone': 'it names a time zone that nobody knows',
};

/** Replies that came in and do not count, each with the reason; whose answer it is a person may know. */
@Component({
  selector: 'cv-set-aside',
  imports: [Cell, OurWord, Table, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (aside().length) {
      <section class="stack">
        <div class="row">
          <h2>Replies set aside or late</h2>
          <cv-word class="small quiet" word="set aside">what that means</cv-word>
        </div>
        <cv-table label="Replies set aside or late" [source]="asideList" [columns]="asideColumns">
          <ng-template cvCell="received" [cvCellOf]="asideList" let-reply
            ><cv-when [at]="reply.receivedAt" [zone]="zone()"
          /></ng-template>
          <ng-template cvCell="from" [cvCellOf]="asideList" let-reply>{{ reply.from }}</ng-template>
          <ng-template cvCell="for" [cvCellOf]="asideList" let-reply>{{ reply.attendee }}</ng-template>
          <ng-template cvCell="says" [cvCellOf]="asideList" let-reply>{{ reply.state }}</ng-template>
          <ng-template cvCell="why" [cvCellOf]="asideList" let-reply>{{
            reasons[reply.reason] || reply.reason
          }}</ng-template>
          <ng-template cvCell="act" [cvCellOf]="asideList" let-reply>
            @if (session.canMarket() && countable.includes(reply.reason) && answers.includes(reply.state)) {
              <button class="link" (click)="count(reply)">Count it</button>
            }
          </ng-template>
        </cv-table>
      </section>
    }
  `,
  styles: `
    :host(:empty) {
      display: none;
    }
  `,
})
export class SetAside {
  protected readonly session = inject(Session);
  private readonly api = inject(EventsApi);
  private readonly toast = inject(Toast);
  readonly eventId = input.required<number>();
  readonly zone = input.required<string>();
  protected readonly reasons = reasons;
  /** Only whose answer it is stands in doubt: a person may know. */
  protected readonly countable: readonly string[] = ['unproven', 'from-somebody-else', 'no-place'];
  protected readonly answers: readonly string[] = replyStates;
  private readonly replies = rxResource({
    params: () => this.eventId(),
    stream: ({ params }) => this.api.setAside(params),
  });
  protected readonly aside = computed(() => (this.replies.hasValue() ? (this.replies.value() ?? []) : []));
  protected readonly asideList = fixedRows(this.aside);
  protected readonly asideColumns: readonly Column[] = [
    { key: 'received', label: 'Received', onCard: 'fact' },
    { key: 'from', label: 'From', onCard: 'title' },
    { key: 'for', label: 'For', onCard: 'fact' },
    { key: 'says', label: 'Says', onCard: 'fact' },
    { key: 'why', label: 'Why it does not count', onCard: 'fact' },
    { key: 'act', label: 'What to do', isLabelHidden: true, onCard: 'fact' },
  ];

  constructor() {
    reloadOn(
      () => [`event:${this.eventId()}`],
      () => this.replies.reload(),
    );
  }

  protected count(reply: SetAsideReply): void {
    this.api.countReply(this.eventId(), reply.id).subscribe({
      next: () => this.toast.say(`The answer of ${reply.attendee} counts.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
