import type { Observable } from 'rxjs';
import type { Person, Subscriber } from '@convite/contract';

/** How the picker finds people. A small display piece knows no api: the shell provides one. */
export abstract class PeopleSearch {
  abstract find(text: string): Observable<readonly Subscriber[]>;
  /** Those with these numbers who are there. */
  abstract named(ids: readonly number[]): Observable<readonly Person[]>;
}
