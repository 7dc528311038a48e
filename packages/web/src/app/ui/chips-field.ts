import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatChipsModule, type MatChipInputEvent } from '@angular/material/chips';
import { MatFormFieldModule } from '@angular/material/form-field';
import { typed } from './typed';

/** Something that is a chip once it is taken. */
export interface Chip<V> {
  readonly value: V;
  readonly name: string;
  /** Stands behind the name. */
  readonly about?: string;
}

const mostOffered = 8;

/** Some of all, found by typing, each a chip. What the values are, and what becomes of them, is whoever uses it to say. */
@Component({
  selector: 'cv-chips-field',
  imports: [MatAutocompleteModule, MatChipsModule, MatFormFieldModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-form-field subscriptSizing="dynamic">
      <mat-label>{{ label() }}</mat-label>
      <mat-chip-grid #grid [attr.aria-label]="label()">
        @for (one of taken(); track one.value) {
          <mat-chip-row (removed)="dropped.emit(one.value)">
            <bdi>{{ one.name }}</bdi>
            @if (one.about) {
              &ngsp;<span class="quiet">{{ one.about }}</span>
            }
            <button matChipRemove [attr.aria-label]="'Without ' + one.name">×</button>
          </mat-chip-row>
        }
      </mat-chip-grid>
      <input
        #field
        [attr.aria-label]="label()"
        [placeholder]="hint()"
        [matChipInputFor]="grid"
        [matAutocomplete]="auto"
        [disabled]="disabled()"
        (matChipInputTokenEnd)="end($event)"
        (input)="type(typed($event))"
      />
    </mat-form-field>
    <mat-autocomplete
      #auto="matAutocomplete"
      [autoActiveFirstOption]="!allowsOthers()"
      (optionSelected)="take($event.option.value, field)"
    >
      @for (one of offered(); track one.value) {
        <mat-option [value]="one.value"
          ><bdi>{{ one.name }}</bdi>
          @if (one.about) {
            &ngsp;<span class="quiet small">{{ one.about }}</span>
          }
        </mat-option>
      }
      @if (unshown()) {
        <mat-option disabled>{{ unshown() }} more: type to find one.</mat-option>
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
export class ChipsField<V> {
  readonly label = input.required<string>();
  readonly hint = input('');
  readonly taken = input.required<readonly Chip<V>[]>();
  /** Those that are not taken. */
  readonly options = input.required<readonly Chip<V>[]>();
  readonly disabled = input(false);
  /** What is typed and is none of the options is taken too, with Enter. */
  readonly allowsOthers = input(false);
  /** The options were found by what is typed: all of them fit. */
  readonly isFound = input(false);
  readonly typing = output<string>();
  readonly took = output<V>();
  readonly dropped = output<V>();
  readonly other = output<string>();

  protected readonly typed = typed;
  protected readonly text = signal('');
  private readonly fitting = computed(() => {
    if (this.isFound()) return this.options();
    const wanted = this.text().trim().toLowerCase();
    return this.options().filter(
      ({ value, name }) =>
        name.toLowerCase().includes(wanted) || (typeof value === 'string' && value.toLowerCase().includes(wanted)),
    );
  });
  protected readonly offered = computed(() => this.fitting().slice(0, mostOffered));
  protected readonly unshown = computed(() => this.fitting().length - this.offered().length);

  protected type(text: string): void {
    this.text.set(text);
    this.typing.emit(text);
  }
  protected take(value: V, field: HTMLInputElement): void {
    this.empty(field);
    this.took.emit(value);
  }
  protected end({ value, chipInput }: MatChipInputEvent): void {
    if (!this.allowsOthers() || !value.trim()) return;
    this.empty(chipInput.inputElement);
    this.other.emit(value.trim());
  }
  private empty(field: HTMLInputElement): void {
    field.value = '';
    this.text.set('');
  }
}
