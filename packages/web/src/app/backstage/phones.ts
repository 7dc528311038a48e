import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { measureText } from '@convite/core';
import { BackstageApi } from '../api/backstage';
import { Session } from '../api/session';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';

const lookEveryMs = 2000;

/** Every phone that got a text; one opened, with each text's encoding and parts, and a way to reply. */
@Component({
  selector: 'cv-phones',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (phones.hasValue()) {
      <ul class="boxes pick">
        @for (phone of phones.value(); track phone.number) {
          <li>
            <button [attr.aria-pressed]="number() === phone.number" (click)="number.set(phone.number)">
              <strong>{{ phone.number }}</strong><span class="quiet">{{ phone.count }}</span
              ><span class="quiet small last rtl-safe">{{ phone.lastText }}</span>
            </button>
          </li>
        } @empty {
          <li class="empty">No text has arrived yet.</li>
        }
      </ul>
    } @else {
      <p class="quiet">The simulated outside world does not answer.</p>
    }
    <section class="stack" aria-label="Phone">
      @if (number()) {
        <h2>{{ number() }}</h2>
        @for (text of texts(); track text.id) {
          <div class="bubble" [class.own]="text.from === number()">
            <p class="pre rtl-safe">{{ text.text }}</p>
            <span class="small quiet"
              >{{ text.from }} · <cv-when [at]="text.at" [zone]="zone" /> · {{ parts(text.text) }}</span
            >
          </div>
        }
        @if (session.canMarket()) {
          <form class="row" (submit)="reply($event, field)">
            <mat-form-field class="grow" subscriptSizing="dynamic"
              ><input
                matInput
                #field
                placeholder="Answer, for example STOP"
                aria-label="Answer by text" /></mat-form-field
            ><button matButton="outlined">Send</button>
          </form>
        }
      } @else {
        <div class="empty">Pick up a phone to read its texts.</div>
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
    .pick {
      max-height: 70vh;
      --picked: var(--text-channel);
    }
    .last {
      grid-column: span 2;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .bubble {
      justify-self: start;
      max-width: 460px;
      background: color-mix(in srgb, var(--text-channel) 14%, var(--sheet));
      border-radius: 12px 12px 12px 2px;
      padding: 10px 14px;
    }
    .bubble.own {
      justify-self: end;
      background: var(--lead-wash);
      border-radius: 12px 12px 2px 12px;
    }
    .bubble p {
      margin: 0 0 4px;
    }
    form {
      max-width: 460px;
    }
  `,
})
export class Phones {
  private readonly api = inject(BackstageApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly zone = this.session.zone();
  protected readonly number = signal('');
  protected readonly phones = rxResource({ stream: () => this.api.phones() });
  private readonly phone = rxResource({
    params: () => this.number() || undefined,
    stream: ({ params }) => this.api.phone(params),
  });
  protected readonly texts = computed(() => (this.phone.hasValue() ? (this.phone.value() ?? []) : []));

  constructor() {
    const timer = setInterval(() => {
      this.phones.reload();
      this.phone.reload();
    }, lookEveryMs);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
  }

  protected parts(text: string): string {
    const { parts, encoding } = measureText(text);
    return `${parts} ${parts === 1 ? 'part' : 'parts'}, ${encoding}`;
  }
  protected reply(submit: Event, field: HTMLInputElement): void {
    submit.preventDefault();
    if (!field.value.trim()) return;
    this.api.replyByText(this.number(), field.value).subscribe({
      next: () => {
        field.value = '';
        this.phone.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
