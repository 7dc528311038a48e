import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import { logPage, sentMessage, type LogPage, type LogQuery, type SentMessage } from '@convite/contract';
import { Client } from './client';

/** What went out, message by message. */
@Injectable({ providedIn: 'root' })
export class LogApi {
  private readonly client = inject(Client);

  page = (query: Partial<LogQuery>): Observable<LogPage> => this.client.get('/log', logPage, query);
  message = (id: number): Observable<SentMessage> => this.client.get(`/messages/${id}`, sentMessage);
  tryAgain = (firingId: number): Observable<unknown> => this.client.tell('POST', `/firings/${firingId}/try-again`);
}
