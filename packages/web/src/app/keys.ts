import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';

/** None of these is a key that browsers or screen readers use while one is not typing. */
const keys: readonly (readonly [string, string])[] = [
  ['/', 'find an event, a person, or what to do'],
  ['Ctrl K, or ⌘ K', 'the same, also while typing'],
  ['?', 'this list'],
  ['↑ ↓ Home End', 'in a list: from row to row'],
  ['Enter', 'in a list: open the row'],
  ['Space, Shift ↑ ↓', 'in a list: pick the row, and along'],
  ['Esc', 'close what is open, pick none'],
];

/** Which keys there are. */
@Component({
  selector: 'cv-keys',
  imports: [MatButtonModule, MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 mat-dialog-title>Keys</h2>
    <mat-dialog-content>
      <dl class="facts">
        @for (key of keys; track key[0]) {
          <dt class="mono">{{ key[0] }}</dt>
          <dd>{{ key[1] }}</dd>
        }
      </dl>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>Close</button>
    </mat-dialog-actions>
  `,
})
export class Keys {
  protected readonly keys = keys;
}
