import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { MatExpansionModule } from '@angular/material/expansion';

/** What only some want to see: one line until somebody opens it. */
@Component({
  selector: 'cv-fold',
  imports: [MatExpansionModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-expansion-panel class="mat-elevation-z0" togglePosition="before" [expanded]="isOpen()">
      <mat-expansion-panel-header>
        <mat-panel-title>{{ heading() }}</mat-panel-title>
      </mat-expansion-panel-header>
      <ng-content />
    </mat-expansion-panel>
  `,
  styles: `
    :host {
      display: block;
      --mat-expansion-container-background-color: transparent;
      --mat-expansion-header-collapsed-state-height: 28px;
      --mat-expansion-header-expanded-state-height: 28px;
      --mat-expansion-header-text-size: 14px;
      --mat-expansion-header-text-line-height: 20px;
      --mat-expansion-header-text-weight: 500;
    }
  `,
})
export class Fold {
  readonly heading = input.required<string>();
  readonly isOpen = input(false);
}
