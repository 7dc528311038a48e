import { ChangeDetectionStrategy, Component, computed, inject, input, model, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import type { Person } from '@convite/contract';
import { catchError, debounceTime, of, switchMap } from 'rxjs';
import { ChipsField, type Chip } from './chips-field';
import { PeopleSearch } from './people-search';
import { sayNumber } from './say';

const mostNamed = 30;
const mostFound = 8;
/** A short rest, so that not every key is searched for. */
const restMs = 150;

/** Some people by hand, found by name, address or number, each a chip. */
@Component({
  selector: 'cv-people-field',
  imports: [ChipsField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-chips-field
      [label]="label()"
      hint="type a name or an address"
      [taken]="taken()"
      [options]="options()"
      [isFound]="true"
      (typing)="text.set($event)"
      (took)="take($event)"
      (dropped)="drop($event)"
    />
    @if (others(); as count) {
      <p class="small quiet">
        and {{ sayNumber(count) }} more&ngsp;
        <button type="button" class="link small" (click)="ids.set([])">without all of them</button>
      </p>
    }
  `,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
  `,
})
export class PeopleField {
  private readonly people = inject(PeopleSearch);
  readonly label = input.required<string>();
  readonly ids = model.required<readonly number[]>();
  protected readonly sayNumber = sayNumber;
  protected readonly text = signal('');
  /** Those who were found here are known by name already. */
  private readonly met = signal<ReadonlyMap<number, Person>>(new Map());
  private readonly shown = computed(() => this.ids().slice(0, mostNamed));
  protected readonly others = computed(() => this.ids().length - this.shown().length);
  private readonly found = toSignal(
    toObservable(this.text).pipe(
      debounceTime(restMs),
      switchMap((text) =>
        text.trim().length < 2 ? of([]) : this.people.find(text.trim()).pipe(catchError(() => of([]))),
      ),
    ),
    { initialValue: [] },
  );
  private readonly unmet = computed(() => this.shown().filter((id) => !this.met().has(id)));
  private readonly named = toSignal(
    toObservable(this.unmet).pipe(
      switchMap((ids) => (ids.length ? this.people.named(ids).pipe(catchError(() => of([]))) : of([]))),
    ),
    { initialValue: [] },
  );
  protected readonly taken = computed((): Chip<number>[] => {
    const named = new Map(this.named().map((one) => [one.id, one]));
    return this.shown().map((id) =>
      chipOf(this.met().get(id) ?? named.get(id) ?? { id, name: '', email: '', mobile: '' }),
    );
  });
  protected readonly options = computed(() =>
    this.found()
      .filter(({ id }) => !this.ids().includes(id))
      .slice(0, mostFound)
      .map(chipOf),
  );

  protected take(id: number): void {
    const one = this.found().find((person) => person.id === id);
    if (one) this.met.update((met) => new Map(met).set(id, one));
    this.ids.update((ids) => [...ids, id]);
    this.text.set('');
  }
  protected drop(id: number): void {
    this.ids.update((ids) => ids.filter((one) => one !== id));
  }
}

const chipOf = ({ id, name, email, mobile }: Person): Chip<number> => ({
  value: id,
  name: name || email || mobile || `no. ${id}`,
  ...(name && (email || mobile) && { about: email || mobile }),
});
