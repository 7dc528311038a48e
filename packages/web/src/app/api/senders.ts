import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import {
  senderHealth,
  senderNames,
  senderRows,
  type SenderChange,
  type SenderHealth,
  type SenderName,
  type SenderRow,
} from '@convite/contract';
import { Client } from './client';

/** As whom the house writes, beside itself. */
@Injectable({ providedIn: 'root' })
export class SendersApi {
  private readonly client = inject(Client);

  list = (): Observable<SenderRow[]> => this.client.get('/senders', senderRows);
  add = (fields: SenderChange): Observable<unknown> => this.client.tell('POST', '/senders', fields);
  save = (id: number, change: SenderChange): Observable<unknown> => this.client.tell('PUT', `/senders/${id}`, change);
  pause = (id: number, isPaused: boolean): Observable<unknown> =>
    this.client.tell('PUT', `/senders/${id}/paused`, { isPaused });
  /** Mails a link to its own address. */
  askProof = (id: number): Observable<unknown> => this.client.tell('POST', `/senders/${id}/proof`);
  /** What became of what the house itself sent. */
  houseHealth = (): Observable<SenderHealth> => this.client.get('/senders/house', senderHealth);
  /** Texts a code to its own number. */
  askCode = (id: number): Observable<unknown> => this.client.tell('POST', `/senders/${id}/text-proof`);
  proveNumber = (id: number, code: string): Observable<unknown> =>
    this.client.tell('POST', `/senders/${id}/text-code`, { code });
  names = (id: number): Observable<SenderName[]> => this.client.get(`/senders/${id}/names`, senderNames);
  remove = (id: number): Observable<unknown> => this.client.tell('DELETE', `/senders/${id}`);
}
