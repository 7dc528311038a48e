import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { rxResource, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { debounceTime } from 'rxjs';
import type { MailSummary } from '@convite/contract';
import { BackstageApi } from '../api/backstage';
import { Session } from '../api/session';
import { When } from '../ui/when';
import { MailReader } from './mail-reader';
import { PersonCalendar } from './person-calendar';
import { typed } from '../ui/typed';
import { Toggle, type ToggleOption } from '../ui/toggle';

const lookEveryMs = 2000;
/** So many the outside world shows at once. */
const mostShown = 200;

/** Every mailbox that got something; one opened, with its messages and the calendar that its owner sees. */
@Component({
  selector: 'cv-mailboxes',
  imports: [MailReader, MatFormFieldModule, MatInputModule, PersonCalendar, Toggle, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="stack" aria-label="Mailboxes">
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><input
          matInput
          type="search"
          placeholder="Find a mailbox"
          aria-label="Find a mailbox"
          [value]="search()"
          (input)="search.set(typed($event))"
      /></mat-form-field>
      @if (boxes.hasValue()) {
        <ul class="boxes pick">
          <li>
            <button [attr.aria-pressed]="isLatest()" (click)="openLatest()">
              <span class="address">Everything, the latest first</span>
            </button>
          </li>
          @for (box of boxes.value(); track box.address) {
            <li>
              <button [attr.aria-pressed]="address() === box.address" (click)="open(box.address)">
                <span class="address">{{ box.address }}</span><span class="number quiet">{{ box.count }}</span
                ><span class="quiet small last rtl-safe">{{ box.lastSubject }}</span>
              </button>
            </li>
          } @empty {
            <li class="empty">
              {{
                search()
                  ? 'No mailbox of that name got anything.'
                  : 'Nothing has arrived yet. Send an invitation, or move the clock to the next cue.'
              }}
            </li>
          }
        </ul>
      } @else if (boxes.error()) {
        <p class="note alarm" role="alert">The simulated outside world does not answer.</p>
      }
    </section>
    <section class="stack" aria-label="Mailbox">
      @if (isLatest()) {
        <h2>Everything, the latest first</h2>
        <ul class="messages tall pick">
          @for (message of latest(); track message.id) {
            <li>
              <button [attr.aria-pressed]="messageId() === message.id" (click)="read(message)">
                <strong class="rtl-safe">{{ message.subject }}</strong><span class="quiet small"
                  ><cv-when [at]="message.at" [zone]="zone"
                /></span>
                <span class="small whom">to {{ message.to }}</span>
              </button>
            </li>
          } @empty {
            <li class="empty">Nothing has arrived yet.</li>
          }
        </ul>
        @if (latest().length >= mostShown) {
          <p class="small quiet">The latest {{ mostShown }} are shown; find others by their mailbox.</p>
        }
        @if (messageId(); as id) {
          <cv-mail-reader [id]="id" [address]="readAs()" />
        }
      } @else if (address(); as address) {
        <div class="row">
          <h2 class="wrap">{{ address }}</h2>
          <cv-toggle class="push" label="Show" [options]="shows" [(value)]="showCalendar" />
        </div>
        @if (showCalendar()) {
          <cv-person-calendar [address]="address" [tick]="tick()" />
        } @else {
          <ul class="messages pick">
            @for (message of messages(); track message.id) {
              <li>
                <button [attr.aria-pressed]="messageId() === message.id" (click)="messageId.set(message.id)">
                  <strong class="rtl-safe">{{ message.subject }}</strong><span class="quiet small"
                    ><cv-when [at]="message.at" [zone]="zone" />
                    @if (message.method) {
                      · calendar {{ message.method }}
                    }
                  </span>
                </button>
              </li>
            }
          </ul>
          @if (messageId(); as id) {
            <cv-mail-reader [id]="id" [address]="address" />
          }
        }
      } @else {
        <div class="empty">Open a mailbox to read it as its owner would.</div>
      }
    </section>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 340px minmax(0, 1fr);
      gap: 24px;
      align-items: start;
    }
    @media (max-width: 900px) {
      :host {
        grid-template-columns: minmax(0, 1fr);
      }
    }
    .boxes {
      max-height: 70vh;
    }
    .address {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      font-weight: 600;
    }
    .last {
      grid-column: span 2;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .messages {
      max-height: 220px;
    }
    .messages.tall {
      max-height: 340px;
    }
    .whom {
      grid-column: span 2;
      overflow-wrap: anywhere;
    }
  `,
})
export class Mailboxes {
  protected readonly typed = typed;
  private readonly api = inject(BackstageApi);
  protected readonly zone = inject(Session).zone();
  protected readonly search = signal('');
  protected readonly mostShown = mostShown;
  protected readonly address = signal('');
  /** What arrived last is looked at, instead of one mailbox. */
  protected readonly isLatest = signal(true);
  /** Whose message of those is read. */
  protected readonly readAs = signal('');
  protected readonly messageId = signal('');
  protected readonly showCalendar = signal(false);
  protected readonly shows: readonly ToggleOption<boolean>[] = [
    { key: false, label: 'Mail' },
    { key: true, label: 'Calendar' },
  ];
  protected readonly tick = signal(0);
  private readonly settled = toSignal(toObservable(this.search).pipe(debounceTime(200)), { initialValue: '' });
  protected readonly boxes = rxResource({
    params: () => this.settled(),
    stream: ({ params }) => this.api.mailboxes(params),
  });
  private readonly mailbox = rxResource({
    params: () => this.address() || undefined,
    stream: ({ params }) => this.api.mailbox(params),
  });
  private readonly latestMail = rxResource({
    params: () => (this.isLatest() ? this.settled() : undefined),
    stream: ({ params }) => this.api.latest(params),
  });
  protected readonly latest = computed(() => (this.latestMail.hasValue() ? (this.latestMail.value() ?? []) : []));
  protected readonly messages = computed(() => (this.mailbox.hasValue() ? (this.mailbox.value() ?? []) : []));

  constructor() {
    // The outside world sends us no events: mailboxes are looked into, as their owners do.
    const timer = setInterval(() => {
      this.boxes.reload();
      this.mailbox.reload();
      this.latestMail.reload();
      this.tick.update((tick) => tick + 1);
    }, lookEveryMs);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
  }

  protected openLatest(): void {
    this.isLatest.set(true);
    this.address.set('');
    this.messageId.set('');
  }
  protected read({ id, to }: MailSummary): void {
    this.readAs.set(to);
    this.messageId.set(id);
  }
  protected open(address: string): void {
    this.isLatest.set(false);
    this.address.set(address);
    this.messageId.set('');
  }
}
