import { ChangeDetectionStrategy, Component, DestroyRef, inject, input, output, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { catchError, debounceTime, map, of, Subject, switchMap, type Observable } from 'rxjs';
import { typed } from './typed';

/** Something that can be chosen. */
export interface Choice<V> {
  readonly value: V;
  readonly name: string;
  /** Tells it from another of the same name. */
  readonly about?: string;
}

const restMs = 200;

/** One thing of many, found by typing; by keys as well as by pointing. How it is found is given. */
@Component({
  selector: 'cv-chooser',
  imports: [MatAutocompleteModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-form-field subscriptSizing="dynamic">
      <input
        #field
        matInput
        type="search"
        [attr.aria-label]="label()"
        [placeholder]="placeholder()"
        [value]="chosenName()"
        [matAutocomplete]="auto"
        (focus)="wanted.next(field.value)"
        (input)="wanted.next(typed($event))"
      />
    </mat-form-field>
    <mat-autocomplete
      #auto="matAutocomplete"
      [displayWith]="nameOf"
      [autoActiveFirstOption]="true"
      (optionSelected)="choose($event.option.value, field)"
    >
      @for (choice of found(); track $index) {
        <mat-option [value]="choice">
          <bdi>{{ choice.name }}</bdi>
          @if (choice.about) {
            <span class="quiet small">&ngsp;{{ choice.about }}</span>
          }
        </mat-option>
      }
      @if (isUnknown()) {
        <mat-option disabled>Nothing of these words.</mat-option>
      }
    </mat-autocomplete>
  `,
  styles: `
    :host {
      display: inline-block;
      min-width: 220px;
    }
  `,
})
export class Chooser<V> {
  readonly label = input.required<string>();
  readonly placeholder = input('');
  /** What stands in it; the one chosen is shown until something else is typed. */
  readonly chosenName = input('');
  /** Empties itself once something is chosen. */
  readonly clears = input(false);
  readonly find = input.required<(text: string) => Observable<readonly Choice<V>[]>>();
  readonly chosen = output<Choice<V>>();

  protected readonly typed = typed;
  protected readonly found = signal<readonly Choice<V>[]>([]);
  protected readonly isUnknown = signal(false);
  protected readonly wanted = new Subject<string>();
  protected readonly nameOf = (choice: Choice<V> | string | null): string =>
    typeof choice === 'string' ? choice : (choice?.name ?? '');

  constructor() {
    this.wanted
      .pipe(
        debounceTime(restMs),
        map((text) => text.trim()),
        switchMap((text) =>
          this.find()(text).pipe(
            map((choices) => ({ text, choices })),
            catchError(() => of({ text: '', choices: [] })),
          ),
        ),
        takeUntilDestroyed(inject(DestroyRef)),
      )
      .subscribe(({ text, choices }) => {
        this.found.set(choices);
        this.isUnknown.set(text !== '' && choices.length === 0);
      });
  }

  protected choose(choice: Choice<V>, field: HTMLInputElement): void {
    if (this.clears()) field.value = '';
    this.found.set([]);
    this.chosen.emit(choice);
  }
}
