import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { sayProblem, type LocatedProblem } from '@convite/contract';

/** What is wrong with one field, beside it. */
@Component({
  selector: 'cv-field-problem',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `@for (sentence of sentences(); track sentence) {
    <p class="field-problem" role="alert">{{ sentence }}</p>
  }`,
})
export class FieldProblem {
  readonly problems = input.required<readonly LocatedProblem[]>();
  readonly path = input.required<string>();
  protected readonly sentences = computed(() =>
    this.problems()
      .filter(({ path }) => path === this.path())
      .map(sayProblem),
  );
}
