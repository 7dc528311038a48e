import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import {
  about,
  apiKeys,
  auditRows,
  madeApiKey,
  members,
  settings,
  type About,
  type ApiKeys,
  type AuditRow,
  type Member,
  type NewMember,
  type Role,
  type Settings,
} from '@convite/contract';
import { Client } from './client';

@Injectable({ providedIn: 'root' })
export class SettingsApi {
  private readonly client = inject(Client);

  get = (): Observable<Settings> => this.client.get('/settings', settings);
  save = (value: Settings): Observable<unknown> => this.client.tell('PUT', '/settings', value);
  team = (): Observable<Member[]> => this.client.get('/team', members);
  addMember = (member: NewMember): Observable<unknown> => this.client.tell('POST', '/team', member);
  changeRole = (id: number, role: Role): Observable<unknown> => this.client.tell('PUT', `/team/${id}`, { role });
  about = (): Observable<About> => this.client.get('/about', about);
  keys = (): Observable<ApiKeys> => this.client.get('/keys', apiKeys);
  makeKey = (name: string): Observable<{ key: string }> => this.client.post('/keys', { name }, madeApiKey);
  removeKey = (id: number): Observable<unknown> => this.client.tell('DELETE', `/keys/${id}`);
  audit = (): Observable<AuditRow[]> => this.client.get('/audit', auditRows);
}
