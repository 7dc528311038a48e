import { ChangeDetectionStrategy, Component, input, model } from '@angular/core';
import { MatButtonToggleModule } from '@angular/material/button-toggle';

/** One of what can be chosen. */
export interface ToggleOption<K> {
  readonly key: K;
  readonly label: string;
}
/** Options that are called as they are. */
export const optionsOf = <K extends string>(keys: readonly K[]): ToggleOption<K>[] =>
  keys.map((key) => ({ key, label: key }));

/** One of a few, all in sight: a view, a kind, a channel. By arrows as well as by pointing. */
@Component({
  selector: 'cv-toggle',
  imports: [MatButtonToggleModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-button-toggle-group
      hideSingleSelectionIndicator
      [attr.aria-label]="label()"
      [value]="value()"
      (change)="value.set($event.value)"
    >
      @for (option of options(); track option.key) {
        <mat-button-toggle [value]="option.key">{{ option.label }}</mat-button-toggle>
      }
    </mat-button-toggle-group>
  `,
  styles: `
    :host {
      display: inline-block;
      justify-self: start;
      max-width: 100%;
      overflow-x: auto;
    }
  `,
})
export class Toggle<K> {
  /** What is chosen, for those who hear it. */
  readonly label = input.required<string>();
  readonly options = input.required<readonly ToggleOption<K>[]>();
  readonly value = model.required<K>();
}
