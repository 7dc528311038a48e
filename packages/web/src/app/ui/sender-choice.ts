import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { SenderRow } from '@convite/contract';
import { typed } from './typed';

/** As whom something is written; nothing where the house has no other sender. */
@Component({
  selector: 'cv-sender-choice',
  imports: [MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (senders().length) {
      <mat-form-field subscriptSizing="dynamic"
        ><mat-label>Written by</mat-label
        ><select matNativeControl [disabled]="disabled()" (change)="chosen.emit(numberOf(typed($event)))">
          <option value="0" [selected]="sender() === null">the house</option>
          @for (one of senders(); track one.id) {
            <option [value]="one.id" [selected]="one.id === sender()">{{ one.name }}</option>
          }
        </select></mat-form-field
      >
      @if (fault(); as words) {
        <p class="note alarm">{{ words }}</p>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    p {
      margin: 0;
    }
  `,
})
export class SenderChoice {
  protected readonly typed = typed;
  readonly senders = input.required<readonly SenderRow[]>();
  readonly sender = input.required<number | null>();
  readonly disabled = input(false);
  readonly chosen = output<number | null>();
  /** Said before anything goes. */
  protected readonly fault = computed(() => {
    const one = this.senders().find(({ id }) => id === this.sender());
    if (!one?.fault) return '';
    const why = one.fault === 'paused' ? 'is paused' : 'is not proven yet';
    return `${one.name} ${why}: the house writes in its own name until that changes.`;
  });
  protected readonly numberOf = (value: string): number | null => Number(value) || null;
}
