import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import { ChipsField, type Chip } from './chips-field';

/** Some words of those that there are, or of one's own. */
@Component({
  selector: 'cv-words-field',
  imports: [ChipsField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-chips-field
      [label]="label()"
      [hint]="hint()"
      [taken]="taken()"
      [options]="others()"
      [allowsOthers]="allowsOthers()"
      (took)="take($event)"
      (other)="take($event)"
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
export class WordsField {
  readonly label = input.required<string>();
  readonly options = input<readonly string[]>([]);
  readonly chosen = model.required<readonly string[]>();
  /** A word that is none of the options is taken too, with Enter. */
  readonly allowsOthers = input(false);
  readonly hint = input('');
  /** How a word is shown. */
  readonly say = input<(word: string) => string>((word) => word);

  protected readonly taken = computed(() => this.chosen().map((word) => this.chipOf(word)));
  protected readonly others = computed(() =>
    this.options()
      .filter((word) => !this.chosen().includes(word))
      .map((word) => this.chipOf(word)),
  );

  protected take(word: string): void {
    this.chosen.update((chosen) => (chosen.includes(word) ? chosen : [...chosen, word]));
  }
  protected drop(word: string): void {
    this.chosen.update((chosen) => chosen.filter((one) => one !== word));
  }
  private chipOf(word: string): Chip<string> {
    return { value: word, name: this.say()(word) };
  }
}
