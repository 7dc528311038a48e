import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import { schedule, type Schedule } from '@convite/contract';
import { Client } from './client';

/** Everything that is due. */
@Injectable({ providedIn: 'root' })
export class ScheduleApi {
  private readonly client = inject(Client);
  read = (days: number): Observable<Schedule> => this.client.get('/schedule', schedule, { days });
}
