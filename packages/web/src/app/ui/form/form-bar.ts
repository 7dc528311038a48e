import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';

/** Stays in view at the foot of a form: what saving does, the one button that does it, and the way back. */
@Component({
  selector: 'cv-form-bar',
  imports: [MatButtonModule],
  host: { role: 'group', 'aria-label': 'Save' },
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="what">
      <ng-content />
      @if (problem()) {
        <p class="alarm" role="alert">{{ problem() }}</p>
      }
    </div>
    <span class="acts">
      @if (discard()) {
        <button matButton type="button" [disabled]="isBusy()" (click)="discarded.emit()">{{ discard() }}</button>
      }
      <button matButton="filled" type="button" [disabled]="isBusy() || isOff()" (click)="saved.emit()">
        {{ save() }}
      </button>
    </span>
  `,
  styles: `
    :host {
      position: sticky;
      bottom: 0;
      z-index: 20;
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      justify-content: space-between;
      gap: 8px 20px;
      margin-top: 18px;
      padding: 10px 18px;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-top: 3px solid var(--lead);
      border-radius: 0 0 6px 6px;
    }
    .what {
      flex: 1 1 260px;
      min-width: 0;
      overflow-wrap: anywhere;
    }
    .what:empty {
      display: none;
    }
    p {
      margin: 0;
    }
    .acts {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      margin-left: auto;
    }
  `,
})
export class FormBar {
  /** What the button says. */
  readonly save = input.required<string>();
  /** What the way back says; none where there is nothing to go back to. */
  readonly discard = input('');
  readonly problem = input('');
  readonly isBusy = input(false);
  /** There is nothing to save. */
  readonly isOff = input(false);
  readonly saved = output();
  readonly discarded = output();
}
