import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatChipsModule } from '@angular/material/chips';
import { MatMenuModule } from '@angular/material/menu';

/** One of the ways in which a list can be narrowed. */
export interface FilterChoice<K extends string> {
  readonly key: K;
  readonly label: string;
}

/** Narrows a list: chosen from a menu, shown as a chip, taken off by its cross or the delete key. */
@Component({
  selector: 'cv-filter',
  imports: [MatButtonModule, MatChipsModule, MatMenuModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (chosen(); as it) {
      <mat-chip-set [attr.aria-label]="label()">
        <mat-chip [removable]="true" (removed)="value.set(none())">
          {{ it.label }}
          <button matChipRemove [attr.aria-label]="'Show all again, not only ' + it.label">×</button>
        </mat-chip>
      </mat-chip-set>
    }
    <button matButton class="opener" [matMenuTriggerFor]="menu">{{ label() }}</button>
    <mat-menu #menu="matMenu">
      @for (choice of choices(); track choice.key) {
        <button mat-menu-item (click)="value.set(choice.key)">{{ choice.label }}</button>
      }
    </mat-menu>
  `,
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
      gap: 6px;
    }
    .opener::after {
      content: '';
      display: inline-block;
      margin-left: 6px;
      border: 4px solid transparent;
      border-top-color: currentColor;
      border-bottom: 0;
      vertical-align: middle;
    }
  `,
})
export class Filter<K extends string> {
  readonly label = input('Filter');
  readonly choices = input.required<readonly FilterChoice<K>[]>();
  /** What stands for no filter. */
  readonly none = input.required<K>();
  readonly value = model.required<K>();
  protected readonly chosen = computed(() => this.choices().find(({ key }) => key === this.value()) ?? null);
}
