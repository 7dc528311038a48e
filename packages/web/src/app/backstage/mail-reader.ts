import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { Answer } from '@convite/contract';
import { BackstageApi } from '../api/backstage';
import { Session } from '../api/session';
import { MailBody } from '../ui/mail-body';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';
import { optionsOf, Toggle } from '../ui/toggle';
import { Fold } from '../ui/fold';

const views = ['rendered', 'plain', 'headers', 'calendar', 'raw'] as const;

/** One message: rendered, plain, headers, raw; and the answer that its reader's calendar would give. */
@Component({
  selector: 'cv-mail-reader',
  imports: [Fold, MailBody, MatButtonModule, MatFormFieldModule, MatInputModule, Toggle],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (message(); as message) {
      <article class="stack">
        @if (message.method === 'REQUEST' && session.canMarket()) {
          <div class="row answer" role="group" aria-label="Answer as this person’s calendar">
            <span>This person’s calendar asks:</span>
            <button matButton="filled" (click)="answer('accepted')">Accept</button>
            <button matButton="outlined" (click)="answer('tentative')">Tentative</button>
            <button matButton="outlined" (click)="answer('declined')">Decline</button>
            <mat-form-field class="grow" subscriptSizing="dynamic"
              ><input
                matInput
                aria-label="Comment with the answer"
                placeholder="with a comment"
                [value]="comment()"
                (input)="comment.set(typed($event))"
            /></mat-form-field>
          </div>
          <cv-fold class="small" heading="One date only, another time, somebody else">
            <div class="row answer">
              @if (dates().length) {
                <label
                  >About
                  <mat-form-field class="inline" subscriptSizing="dynamic"
                    ><select matNativeControl aria-label="Which date" (change)="recurrence.set(typed($event))">
                      <option value="">all dates</option>
                      @for (date of dates(); track date.recurrence) {
                        <option [value]="date.recurrence">{{ date.at.replace('T', ' ') }}</option>
                      }
                    </select></mat-form-field
                  ></label
                >
              }
              <label
                ><mat-form-field class="inline count" subscriptSizing="dynamic"
                  ><input
                    matInput
                    class="minutes"
                    type="number"
                    step="15"
                    aria-label="Minutes later"
                    [value]="shift()"
                    (input)="shift.set(+typed($event) || 0)"
                /></mat-form-field>
                minutes later</label
              >
              <button matButton="outlined" (click)="answer('counter')">Propose that time</button>
              <mat-form-field class="inline" subscriptSizing="dynamic"
                ><input
                  matInput
                  type="email"
                  aria-label="Pass on to"
                  placeholder="somebody@else.example"
                  [value]="to()"
                  (input)="to.set(typed($event))"
              /></mat-form-field>
              <button matButton="outlined" [disabled]="!to()" (click)="answer('delegated')">Pass it on</button>
              <button matButton="outlined" (click)="answer('refresh')">Ask for the newest entry</button>
            </div>
          </cv-fold>
        }
        <cv-toggle label="View" [options]="views()" [(value)]="view" />
        @switch (view()) {
          @case ('rendered') {
            <cv-mail-body [html]="message.html" />
          }
          @case ('plain') {
            <pre class="sheet pre" tabindex="0">{{ message.text }}</pre>
          }
          @case ('headers') {
            <dl class="facts sheet mono">
              @for (header of message.headers; track $index) {
                <dt>{{ header.name }}</dt>
                <dd>{{ header.value }}</dd>
              }
            </dl>
          }
          @case ('calendar') {
            <pre class="sheet mono" tabindex="0">{{ message.calendar }}</pre>
          }
          @case ('raw') {
            <pre class="sheet mono" tabindex="0">{{ message.raw }}</pre>
          }
        }
        @if (message.attachments.length) {
          <p class="small quiet">
            Files: {{ message.attachments.join(', ') }} · from {{ message.from }} · envelope {{ message.envelopeFrom }}
          </p>
        }
      </article>
    } @else if (resource.error()) {
      <p class="note alarm" role="alert">This message cannot be opened.</p>
    }
  `,
  styles: `
    pre {
      margin: 0;
      max-height: 520px;
      overflow: auto;
    }
    .answer {
      background: var(--lead-wash);
      padding: 8px 12px;
      border-radius: 6px;
    }
    .minutes {
      width: 84px;
    }
  `,
})
export class MailReader {
  protected readonly typed = typed;
  private readonly api = inject(BackstageApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  readonly id = input.required<string>();
  /** Whose mailbox it lies in. */
  readonly address = input.required<string>();
  protected readonly view = signal<(typeof views)[number]>('rendered');
  protected readonly comment = signal('');
  protected readonly recurrence = signal('');
  protected readonly shift = signal(60);
  protected readonly to = signal('');
  protected readonly resource = rxResource({
    params: () => this.id(),
    stream: ({ params }) => this.api.message(params),
  });
  protected readonly message = computed(() => (this.resource.hasValue() ? (this.resource.value() ?? null) : null));

  protected readonly views = computed(() =>
    optionsOf(views.filter((one) => one !== 'calendar' || this.message()?.calendar)),
  );

  private readonly calendar = rxResource({
    params: () => (this.message()?.method === 'REQUEST' ? this.address() : undefined),
    stream: ({ params }) => this.api.calendar(params),
  });
  /** The dates of the series that this message is about, as the person's calendar shows them. */
  protected readonly dates = computed(() => {
    const uid = /^UID:(.+)$/m.exec(this.message()?.calendar ?? '')?.[1]?.trim();
    const entries = this.calendar.hasValue() ? (this.calendar.value() ?? []) : [];
    return entries.find((entry) => entry.uid === uid)?.dates ?? [];
  });

  protected answer(state: Answer['state']): void {
    const answer = {
      state,
      comment: this.comment(),
      recurrence: this.recurrence(),
      shiftMinutes: this.shift(),
      to: this.to(),
    };
    this.api.answer(this.id(), answer).subscribe({
      next: () => this.toast.say('The answer is on its way by mail.'),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
