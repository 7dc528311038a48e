import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { graceMs, sayMinutes } from '@convite/core';
import { typed } from '../ui/typed';

/** A reminder an hour old misleads, unless an event says otherwise. */
export const usualGrace = graceMs / 60_000;
const choices = [5, 15, 30, 60, 180, 720, 1440, 2880] as const;

/** How late what an event sends may still go. */
@Component({
  selector: 'cv-grace-choice',
  imports: [MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row small">
      <span class="quiet">What could not go at its moment</span>
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><select matNativeControl aria-label="How late it may still go" (change)="choose(typed($event))">
          @for (choice of choices; track choice) {
            <option [value]="choice" [selected]="choice === chosen()">
              still goes for {{ say(choice) }}, then it is missed
            </option>
          }
        </select></mat-form-field
      >
    </div>
  `,
  styles: `
    mat-form-field.inline {
      width: min(100%, 360px);
    }
  `,
})
export class GraceChoice {
  /** Null for the usual hour. */
  readonly minutes = input.required<number | null>();
  readonly minutesChange = output<number | null>();
  protected readonly typed = typed;
  protected readonly choices = choices;
  protected readonly say = sayMinutes;
  protected readonly chosen = computed(() => this.minutes() ?? usualGrace);

  protected choose(text: string): void {
    const minutes = choices.find((one) => one === Number(text)) ?? usualGrace;
    this.minutesChange.emit(minutes === usualGrace ? null : minutes);
  }
}
