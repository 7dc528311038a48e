import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { map, of, type Observable } from 'rxjs';
import type { Subscriber } from '@convite/contract';
import { Chooser, type Choice } from './chooser';
import { PeopleSearch } from './people-search';

const mostShown = 8;

/** Finds a person by name or address, to look through their eyes. */
@Component({
  selector: 'cv-person-picker',
  imports: [Chooser],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-chooser
      label="Find a person"
      placeholder="Switch person"
      [find]="find"
      [clears]="true"
      (chosen)="chosen.emit($event.value)"
    />
  `,
})
export class PersonPicker {
  private readonly people = inject(PeopleSearch);
  readonly chosen = output<Subscriber>();
  protected readonly find = (text: string): Observable<readonly Choice<Subscriber>[]> =>
    text.length < 2
      ? of([])
      : this.people.find(text).pipe(
          map((found) =>
            found.slice(0, mostShown).map((person) => ({
              value: person,
              name: person.name || person.email,
              about: person.zone || person.email,
            })),
          ),
        );
}
