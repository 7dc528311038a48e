import { ChangeDetectionStrategy, Component, computed, input, model, signal } from '@angular/core';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatChipsModule, type MatChipInputEvent } from '@angular/material/chips';
import { MatFormFieldModule } from '@angular/material/form-field';
import { typed } from './typed';

const mostOffered = 8;

/** Some words of those that there are, or of one's own: found by typing, each a chip. */
@Component({
  selector: 'cv-words-field',
  imports: [MatAutocompleteModule, MatChipsModule, MatFormFieldModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-form-field subscriptSizing="dynamic">
      <mat-label>{{ label() }}</mat-label>
      <mat-chip-grid #grid [attr.aria-label]="label()">
        @for (word of chosen(); track word) {
          <mat-chip-row (removed)="drop(word)">
            <bdi>{{ say()(word) }}</bdi>
            <button matChipRemove [attr.aria-label]="'Without ' + say()(word)">×</button>
          </mat-chip-row>
        }
      </mat-chip-grid>
      <input
        #field
        [attr.aria-label]="label()"
        [placeholder]="hint()"
        [matChipInputFor]="grid"
        [matAutocomplete]="auto"
        (matChipInputTokenEnd)="add($event)"
        (input)="text.set(typed($event))"
      />
    </mat-form-field>
    <mat-autocomplete
      #auto="matAutocomplete"
      [autoActiveFirstOption]="!allowsOthers()"
      (optionSelected)="take($event.option.value, field)"
    >
      @for (word of offered(); track word) {
        <mat-option [value]="word"
          ><bdi>{{ say()(word) }}</bdi></mat-option
        >
      }
    </mat-autocomplete>
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

  protected readonly typed = typed;
  protected readonly text = signal('');
  protected readonly offered = computed(() => {
    const wanted = this.text().trim().toLowerCase();
    return this.options()
      .filter((word) => !this.chosen().includes(word))
      .filter((word) => word.toLowerCase().includes(wanted) || this.say()(word).toLowerCase().includes(wanted))
      .slice(0, mostOffered);
  });

  protected take(word: string, field: HTMLInputElement): void {
    field.value = '';
    this.text.set('');
    this.chosen.update((chosen) => [...chosen, word]);
  }
  protected add({ value, chipInput }: MatChipInputEvent): void {
    const word = value.trim();
    if (!this.allowsOthers() || !word || this.chosen().includes(word)) return;
    this.take(word, chipInput.inputElement);
  }
  protected drop(word: string): void {
    this.chosen.update((chosen) => chosen.filter((one) => one !== word));
  }
}
