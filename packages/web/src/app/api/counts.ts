import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import {
  behindCountPage,
  liveCount,
  type BehindCountPage,
  type BehindCountRequest,
  type CountedMessage,
  type LiveCount,
} from '@convite/contract';
import { Client } from './client';

/** Who gets a message that is being put together, and why not the others. */
@Injectable({ providedIn: 'root' })
export class CountsApi {
  private readonly client = inject(Client);

  count = (message: CountedMessage): Observable<LiveCount> => this.client.lines('/counts', message, liveCount);
  behind = (request: BehindCountRequest): Observable<BehindCountPage> =>
    this.client.post('/counts/people', request, behindCountPage);
}
