import { ChangeDetectionStrategy, Component, input, model } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';

/** To the next page of a list that is read by where the page begins, and back to the first. */
@Component({
  selector: 'cv-pager',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (after() > 0) {
      <button matButton (click)="after.set(0)">First page</button>
    }
    @if (next(); as next) {
      <button matButton (click)="after.set(next)">Next page</button>
    }
  `,
})
export class Pager {
  /** Where the page begins: 0, or what the server called next. */
  readonly after = model.required<number>();
  readonly next = input.required<number | null>();
}
