import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  Directive,
  ElementRef,
  inject,
  input,
  signal,
} from '@angular/core';
import { sayProblem, type LocatedProblem } from '@convite/contract';

/** A form that knows what is wrong with it: the fields in it need not be told one by one. */
@Directive({ selector: '[cvProblems]' })
export class FormProblems {
  /** Said at once, such as what the server found. */
  readonly cvProblems = input.required<readonly LocatedProblem[]>();
  /** Found beside the fields, as one types. */
  readonly own = input<readonly LocatedProblem[]>([]);
  /** Somebody wanted to save. */
  readonly isSaving = input(false);
}

/**
 * What is wrong with one field, beside it. What the form found itself is said once the field was left, or when somebody
 * wanted to save: nobody is scolded for what they have not come to yet.
 */
@Component({
  selector: 'cv-field-problem',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `@for (sentence of sentences(); track sentence) {
    <p class="field-problem" role="alert">{{ sentence }}</p>
  }`,
})
export class FieldProblem {
  private readonly form = inject(FormProblems, { optional: true });
  /** Of this field alone, where its form does not know them. */
  readonly problems = input<readonly LocatedProblem[]>();
  readonly path = input.required<string>();
  private readonly wasLeft = signal(false);
  private readonly own = computed(() => (this.wasLeft() || this.form?.isSaving() ? (this.form?.own() ?? []) : []));
  protected readonly sentences = computed(() => [
    ...new Set(
      (this.problems() ?? [...(this.form?.cvProblems() ?? []), ...this.own()])
        .filter(({ path }) => path === this.path())
        .map(sayProblem),
    ),
  ]);

  constructor() {
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    afterNextRender(() => host.parentElement?.addEventListener('focusout', () => this.wasLeft.set(true)));
  }
}

/** Where the first problem is said, the field beside it takes the focus. @returns whether any is */
export function focusFirstProblem(form: HTMLElement): boolean {
  const said = form.querySelector('cv-field-problem .field-problem');
  const beside = said?.closest('cv-field-problem')?.parentElement;
  beside?.querySelector<HTMLElement>('input:not([hidden]), textarea, select, [tabindex]')?.focus();
  return said !== null;
}
