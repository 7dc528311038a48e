import { ChangeDetectionStrategy, Component, DestroyRef, inject, output, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { catchError, debounceTime, of, Subject, switchMap } from 'rxjs';
import type { Subscriber } from '@convite/contract';
import { PeopleSearch } from './people-search';
import { typed } from './typed';

/** Finds a person by name or address, to look through their eyes. */
@Component({
  selector: 'cv-person-picker',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      type="search"
      placeholder="Switch person"
      aria-label="Find a person"
      [value]="text()"
      (input)="search(typed($event))"
      (keydown.escape)="found.set([])"
    />
    @if (found().length) {
      <ul>
        @for (person of found(); track person.id) {
          <li>
            <button (click)="choose(person)">
              <bdi>{{ person.name || person.email }}</bdi>&ngsp;<span class="quiet small">{{
                person.zone || person.email
              }}</span>
            </button>
          </li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      position: relative;
      display: inline-block;
    }
    input {
      width: 220px;
    }
    ul {
      position: absolute;
      z-index: 5;
      left: 0;
      right: 0;
      margin: 2px 0 0;
      padding: 4px 0;
      list-style: none;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 4px;
      box-shadow: 0 6px 20px #0003;
      min-width: 300px;
    }
    button {
      display: block;
      width: 100%;
      text-align: left;
      font: inherit;
      color: inherit;
      background: none;
      border: 0;
      padding: 5px 10px;
      cursor: pointer;
    }
    button:hover,
    button:focus {
      background: var(--lead-wash);
    }
  `,
})
export class PersonPicker {
  protected readonly typed = typed;
  private readonly people = inject(PeopleSearch);
  readonly chosen = output<Subscriber>();
  protected readonly text = signal('');
  protected readonly found = signal<readonly Subscriber[]>([]);
  private readonly wanted = new Subject<string>();

  constructor() {
    this.wanted
      .pipe(
        debounceTime(200),
        switchMap((text) => (text.trim().length < 2 ? of([]) : this.people.find(text).pipe(catchError(() => of([]))))),
        takeUntilDestroyed(inject(DestroyRef)),
      )
      .subscribe((found) => this.found.set(found.slice(0, 8)));
  }

  protected search(text: string): void {
    this.text.set(text);
    this.wanted.next(text);
  }
  protected choose(person: Subscriber): void {
    this.text.set('');
    this.found.set([]);
    this.chosen.emit(person);
  }
}
