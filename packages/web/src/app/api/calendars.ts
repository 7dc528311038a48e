import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import {
  foundCalendar,
  importedCalendar,
  watchRows,
  type FoundCalendar,
  type ImportedCalendar,
  type WatchFields,
  type WatchRow,
} from '@convite/contract';
import { Client } from './client';

/** Calendars made elsewhere: files, and addresses that are watched. */
@Injectable({ providedIn: 'root' })
export class CalendarsApi {
  private readonly client = inject(Client);

  read = (file: Blob): Observable<FoundCalendar> => this.client.post('/calendars/read', file, foundCalendar);
  /** @param choice `leaveOut`: lines of the file at which events begin that are not wanted */
  import = (
    file: Blob,
    choice: { leaveOut: readonly number[]; takeGuests: boolean; publish: boolean },
  ): Observable<ImportedCalendar> =>
    this.client.post('/calendars/import', file, importedCalendar, {
      leaveOut: choice.leaveOut.join(','),
      takeGuests: choice.takeGuests ? 'yes' : 'no',
      publish: choice.publish ? 'yes' : 'no',
    });
  watches = (): Observable<WatchRow[]> => this.client.get('/watches', watchRows);
  saveWatch = (id: number | null, fields: WatchFields): Observable<unknown> =>
    id === null ? this.client.tell('POST', '/watches', fields) : this.client.tell('PUT', `/watches/${id}`, fields);
  removeWatch = (id: number): Observable<unknown> => this.client.tell('DELETE', `/watches/${id}`);
}
