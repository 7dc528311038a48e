import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** Says that something could not be read, and offers to try again. Shows nothing while all is well. */
@Component({
  selector: 'cv-reading-problem',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (of().hasFailed()) {
      <p class="note alarm" role="alert">
        {{ what() }} cannot be read just now.
        <button type="button" class="link" (click)="of().reload()">Try again</button>
      </p>
    }
  `,
  styles: `
    :host(:empty) {
      display: none;
    }
  `,
})
export class ReadingProblem {
  readonly of = input.required<{ hasFailed(): boolean; reload(): void }>();
  /** What was read, as a sentence begins: “The lists”. */
  readonly what = input.required<string>();
}
