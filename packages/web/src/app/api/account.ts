import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import { account, factorOffer, recoveryCodes, type Account, type FactorOffer, type Tells } from '@convite/contract';
import { Client } from './client';

/** One's own account. */
@Injectable({ providedIn: 'root' })
export class AccountApi {
  private readonly client = inject(Client);

  get = (): Observable<Account> => this.client.get('/account', account);
  changePassword = (current: string, password: string): Observable<unknown> =>
    this.client.tell('POST', '/account/password', { current, password });
  offerFactor = (current: string): Observable<FactorOffer> =>
    this.client.post('/account/factor', { current }, factorOffer);
  confirmFactor = (code: string): Observable<{ codes: string[] }> =>
    this.client.post('/account/factor/confirm', { code }, recoveryCodes);
  removeFactor = (current: string): Observable<unknown> =>
    this.client.tell('POST', '/account/factor/remove', { current });
  setTells = (tells: Tells): Observable<unknown> => this.client.tell('PUT', '/account/tells', tells);
  endSession = (id: string): Observable<unknown> => this.client.tell('DELETE', `/account/sessions/${id}`);
}
