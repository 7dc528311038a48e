import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import { board, strip, type Board, type Strip } from '@convite/contract';
import { Client } from './client';

/** The call board, the strip, and what can be done with a firing. */
@Injectable({ providedIn: 'root' })
export class BoardApi {
  private readonly client = inject(Client);

  board = (): Observable<Board> => this.client.get('/board', board);
  strip = (): Observable<Strip> => this.client.get('/strip', strip);
  stop = (firingId: number): Observable<unknown> => this.client.tell('POST', `/firings/${firingId}/stop`);
  setAgain = (firingId: number): Observable<unknown> => this.client.tell('POST', `/firings/${firingId}/set-again`);
  sendNow = (firingId: number, confirmedCount: number | null): Observable<unknown> =>
    this.client.tell('POST', `/firings/${firingId}/send-now`, { confirmedCount });
}
