import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatButtonModule } from '@angular/material/button';
import type { Observable } from 'rxjs';
import type { Account, FactorOffer } from '@convite/contract';
import { AccountApi } from '../api/account';
import { sayError } from '../refused';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';

/** Sets a second factor up, step by step, and takes it away. */
@Component({
  selector: 'cv-second-factor',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Second factor">
      <h2>Second factor</h2>
      @if (codes(); as codes) {
        <p class="note good" role="status">
          It is set up. Keep these recovery codes where you keep keys: each lets you in once when the authenticator is
          lost, and they are not shown again.
        </p>
        <ol class="codes mono">
          @for (code of codes; track code) {
            <li>{{ code }}</li>
          }
        </ol>
        <div class="row">
          <button matButton="outlined" (click)="copy(codes)">Copy them</button>
          <button matButton="filled" (click)="finish()">I have them</button>
        </div>
      } @else if (offer(); as offer) {
        <p class="small">
          Let your authenticator read this picture, or type the letters beside it. Then type the code it shows.
        </p>
        <div class="offer">
          <img [src]="offer.picture" alt="The secret as a code for a camera" width="168" height="168" />
          <div class="stack">
            <code class="mono wrap">{{ grouped(offer.secret) }}</code>
            <form class="row" (submit)="confirm($event)">
              <mat-form-field class="inline" subscriptSizing="dynamic"
                ><input
                  matInput
                  class="mono"
                  aria-label="Code of the authenticator"
                  inputmode="numeric"
                  maxlength="6"
                  autocomplete="one-time-code"
                  placeholder="000000"
                  [value]="code()"
                  (input)="code.set(typed($event))"
              /></mat-form-field>
              <button matButton="filled" [disabled]="code().length !== 6">Confirm</button>
            </form>
          </div>
        </div>
      } @else {
        @if (account().hasSecondFactor) {
          <p>
            Set up. {{ account().recoveryCodesLeft }} of 10 recovery codes are left.
            @if (account().needsSecondFactor) {
              <span class="quiet">This house asks for it.</span>
            }
          </p>
        } @else {
          <p class="small">
            A code from your phone beside the password: whoever learns your password does not get in by it alone.
          </p>
        }
        <form class="row" (submit)="begin($event)">
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><input
              matInput
              type="password"
              aria-label="Your password"
              placeholder="Your password"
              autocomplete="current-password"
              [value]="current()"
              (input)="current.set(typed($event))"
          /></mat-form-field>
          <button matButton="outlined" [disabled]="!current()">
            {{ account().hasSecondFactor ? 'Set up another' : 'Set it up' }}
          </button>
          @if (account().hasSecondFactor && !account().needsSecondFactor) {
            <button matButton type="button" [disabled]="!current()" (click)="remove()">Take it away</button>
          }
        </form>
      }
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
    </section>
  `,
  styles: `
    .offer {
      display: flex;
      flex-wrap: wrap;
      gap: 20px;
      align-items: center;
    }
    .offer img {
      background: #fff;
      border: 1px solid var(--line);
    }
    .codes {
      columns: 2;
      margin: 0;
      padding-left: 28px;
      max-width: 420px;
    }
    input.mono {
      width: 9ch;
    }
  `,
})
export class SecondFactor {
  protected readonly typed = typed;
  private readonly api = inject(AccountApi);
  private readonly toast = inject(Toast);
  readonly account = input.required<Account>();
  readonly changed = output();
  protected readonly current = signal('');
  protected readonly code = signal('');
  protected readonly offer = signal<FactorOffer | null>(null);
  protected readonly codes = signal<readonly string[] | null>(null);
  protected readonly problem = signal('');

  protected grouped = (secret: string): string => secret.replace(/(.{4})/g, '$1 ').trim();

  protected begin(event: Event): void {
    event.preventDefault();
    this.wait(this.api.offerFactor(this.current()), (offer) => {
      this.current.set('');
      this.code.set('');
      this.offer.set(offer);
    });
  }
  protected confirm(event: Event): void {
    event.preventDefault();
    this.wait(this.api.confirmFactor(this.code()), ({ codes }) => {
      this.offer.set(null);
      this.codes.set(codes);
    });
  }
  protected finish(): void {
    this.codes.set(null);
    this.changed.emit();
  }
  protected remove(): void {
    this.wait(this.api.removeFactor(this.current()), () => {
      this.current.set('');
      this.toast.say('The second factor is taken away.');
      this.changed.emit();
    });
  }
  protected copy(codes: readonly string[]): void {
    navigator.clipboard.writeText(codes.join('\n')).then(
      () => this.toast.say('Copied.'),
      () => this.problem.set('Your browser does not let us copy; mark them and copy by hand.'),
    );
  }

  private wait<T>(work: Observable<T>, then: (value: T) => void): void {
    this.problem.set('');
    work.subscribe({ next: then, error: (error: unknown) => this.problem.set(sayError(error)) });
  }
}
