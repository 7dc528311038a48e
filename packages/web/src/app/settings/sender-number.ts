import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { SenderRow } from '@convite/contract';
import { SendersApi } from '../api/senders';
import { sayError } from '../refused';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';

/** Proves that a sender's number for texts is ours: a code goes there, and comes back here. */
@Component({
  selector: 'cv-sender-number',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (isAsked()) {
      <span class="code">
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>The code that came to {{ sender().textSender }}</mat-label
          ><input
            matInput
            inputmode="numeric"
            autocomplete="one-time-code"
            maxlength="6"
            (input)="code.set(typed($event))"
        /></mat-form-field>
        <button matButton="outlined" [disabled]="code().length !== 6" (click)="prove()">It came</button>
      </span>
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
    }
    <button class="link" (click)="ask()">
      {{ isAsked() ? 'Send another code' : 'Text a code to ' + sender().textSender }}
    </button>
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
      justify-items: start;
      flex: 1 1 100%;
    }
    .code {
      display: flex;
      align-items: center;
      gap: 10px;
    }
    p {
      margin: 0;
    }
  `,
})
export class SenderNumber {
  protected readonly typed = typed;
  private readonly api = inject(SendersApi);
  private readonly toast = inject(Toast);
  readonly sender = input.required<SenderRow>();
  readonly proven = output();
  protected readonly isAsked = signal(false);
  protected readonly code = signal('');
  protected readonly problem = signal('');

  protected ask(): void {
    this.problem.set('');
    this.api.askCode(this.sender().id).subscribe({
      next: () => this.isAsked.set(true),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected prove(): void {
    this.api.proveNumber(this.sender().id, this.code()).subscribe({
      next: () => {
        this.toast.say('The number is proven: texts come from it.');
        this.proven.emit();
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
}
