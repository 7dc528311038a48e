import { ChangeDetectionStrategy, Component, computed, input, model, signal } from '@angular/core';
import { sayNumber } from './say';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatChipsModule } from '@angular/material/chips';
import { MatFormFieldModule } from '@angular/material/form-field';
import type { List } from '@convite/contract';

import { typed } from './typed';

const mostOffered = 8;

/** Some lists of all, found by typing; each is a chip with how many are on it. What is put away is not offered. */
@Component({
  selector: 'cv-lists-field',
  imports: [MatAutocompleteModule, MatChipsModule, MatFormFieldModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-form-field subscriptSizing="dynamic">
      <mat-label>{{ label() }}</mat-label>
      <mat-chip-grid #grid [attr.aria-label]="label()">
        @for (one of taken(); track one.id) {
          <mat-chip-row (removed)="drop(one.id)">
            <bdi>{{ one.name }}</bdi>&ngsp;<span class="quiet">{{ say(one.count) }}</span>
            <button matChipRemove [attr.aria-label]="'Without ' + one.name">×</button>
          </mat-chip-row>
        }
      </mat-chip-grid>
      <input
        #field
        [attr.aria-label]="label()"
        [placeholder]="lists().length ? 'type its name' : 'there is none yet'"
        [matChipInputFor]="grid"
        [matAutocomplete]="auto"
        [disabled]="disabled()"
        (input)="text.set(typed($event))"
      />
    </mat-form-field>
    <mat-autocomplete
      #auto="matAutocomplete"
      [autoActiveFirstOption]="true"
      (optionSelected)="take($event.option.value, field)"
    >
      @for (one of offered(); track one.id) {
        <mat-option [value]="one.id"
          ><bdi>{{ one.name }}</bdi
          >&ngsp;<span class="quiet small">{{ say(one.count) }}</span></mat-option
        >
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
export class ListsField {
  readonly label = input('Lists');
  readonly lists = input.required<readonly List[]>();
  readonly chosen = model.required<readonly number[]>();
  readonly disabled = input(false);
  /** Another takes the place of the one that stands. */
  readonly isSingle = input(false);

  protected readonly typed = typed;
  protected readonly say = sayNumber;
  protected readonly text = signal('');
  protected readonly taken = computed(() => this.lists().filter(({ id }) => this.chosen().includes(id)));
  private readonly fitting = computed(() => {
    const wanted = this.text().trim().toLowerCase();
    return this.lists().filter(
      ({ id, name, isArchived }) => !isArchived && !this.chosen().includes(id) && name.toLowerCase().includes(wanted),
    );
  });
  protected readonly offered = computed(() => this.fitting().slice(0, mostOffered));
  protected readonly unshown = computed(() => this.fitting().length - this.offered().length);

  protected take(id: number, field: HTMLInputElement): void {
    field.value = '';
    this.text.set('');
    this.chosen.update((chosen) => (this.isSingle() ? [id] : [...chosen, id]));
  }
  protected drop(id: number): void {
    this.chosen.update((chosen) => chosen.filter((one) => one !== id));
  }
}
