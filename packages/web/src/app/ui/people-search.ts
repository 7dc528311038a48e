import type { Observable } from 'rxjs';
import type { Subscriber } from '@convite/contract';

/** How the picker finds people. A small display piece knows no api: the shell provides one. */
export abstract class PeopleSearch {
  abstract find(text: string): Observable<readonly Subscriber[]>;
}
