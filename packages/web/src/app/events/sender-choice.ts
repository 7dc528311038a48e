import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { reading } from '../api/reading';
import { SendersApi } from '../api/senders';
import { typed } from '../ui/typed';

/** As whom an event is written of; nothing where the house has no other sender. */
@Component({
  selector: 'cv-sender-choice',
  imports: [MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (senders.value().length) {
      <div class="sheet">
        <h3>Who it comes from</h3>
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>Written of by</mat-label
          ><select matNativeControl [disabled]="disabled()" (change)="choose(typed($event))">
            <option value="0" [selected]="sender() === null">the house</option>
            @for (one of senders.value(); track one.id) {
              <option [value]="one.id" [selected]="one.id === sender()">{{ one.name }}</option>
            }
          </select></mat-form-field
        >
        @if (fault(); as words) {
          <p class="note alarm">{{ words }}</p>
        }
      </div>
    }
  `,
  styles: `
    .sheet {
      display: grid;
      gap: 10px;
    }
    h3,
    p {
      margin: 0;
    }
  `,
})
export class SenderChoice {
  protected readonly typed = typed;
  private readonly api = inject(SendersApi);
  protected readonly senders = reading(() => this.api.list(), []);
  readonly sender = input.required<number | null>();
  readonly disabled = input(false);
  readonly chosen = output<number | null>();
  /** Said before anything goes. */
  protected readonly fault = computed(() => {
    const one = this.senders.value().find(({ id }) => id === this.sender());
    if (!one?.fault) return '';
    const why = one.fault === 'paused' ? 'is paused' : 'is not proven yet';
    return `${one.name} ${why}: the house writes in its own name until that changes.`;
  });

  protected choose(value: string): void {
    this.chosen.emit(Number(value) || null);
  }
}
