import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import type { List } from '@convite/contract';
import { ChipsField, type Chip } from './chips-field';
import { sayNumber } from './say';

/** Some lists of all, each with how many are on it. What is put away is not offered. */
@Component({
  selector: 'cv-lists-field',
  imports: [ChipsField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-chips-field
      [label]="label()"
      [hint]="lists().length ? 'type its name' : 'there is none yet'"
      [taken]="taken()"
      [options]="others()"
      [disabled]="disabled()"
      (took)="take($event)"
      (dropped)="drop($event)"
    />
  `,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
  `,
})
export class ListsField {
  readonly label = input('Lists');
  readonly lists = input.required<readonly List[]>();
  readonly chosen = model.required<readonly number[]>();
  readonly disabled = input(false);
  /** Another takes the place of the one that stands. */
  readonly isSingle = input(false);

  protected readonly taken = computed(() =>
    this.lists()
      .filter(({ id }) => this.chosen().includes(id))
      .map(chipOf),
  );
  protected readonly others = computed(() =>
    this.lists()
      .filter(({ id, isArchived }) => !isArchived && !this.chosen().includes(id))
      .map(chipOf),
  );

  protected take(id: number): void {
    this.chosen.update((chosen) => (this.isSingle() ? [id] : [...chosen, id]));
  }
  protected drop(id: number): void {
    this.chosen.update((chosen) => chosen.filter((one) => one !== id));
  }
}

const chipOf = ({ id, name, count }: List): Chip<number> => ({ value: id, name, about: sayNumber(count) });
