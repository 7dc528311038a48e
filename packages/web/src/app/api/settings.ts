import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import * as z from 'zod';
import {
  about,
  apiKeys,
  auditPage,
  madeApiKey,
  members,
  misusePage,
  settings,
  type About,
  type ApiKeys,
  type LookPreviewRequest,
  type AuditPage,
  type MisusePage,
  type NewApiKey,
  type NewMember,
  type Role,
  type Settings,
  type SettingsChange,
  type TeamMember,
} from '@convite/contract';
import { Client } from './client';

@Injectable({ providedIn: 'root' })
export class SettingsApi {
  private readonly client = inject(Client);

  get = (): Observable<Settings> => this.client.get('/settings', settings);
  previewLook = (asked: LookPreviewRequest): Observable<{ html: string }> =>
    this.client.post('/settings/look/preview', asked, z.object({ html: z.string() }));
  /** Free days that a calendar file names. */
  readHolidays = (file: Blob): Observable<{ days: string[] }> =>
    this.client.post('/settings/holidays', file, z.object({ days: z.array(z.iso.date()) }));
  /** Tells the contact of a firing that is none, as it is told of one. */
  testStandby = (): Observable<unknown> => this.client.tell('POST', '/settings/standby/test');
  picture = (): Observable<{ url: string }> => this.client.get('/settings/picture', z.object({ url: z.string() }));
  setPicture = (file: File): Observable<unknown> => this.client.tell('PUT', '/settings/picture', file);
  removePicture = (): Observable<unknown> => this.client.tell('DELETE', '/settings/picture');
  save = (value: SettingsChange): Observable<unknown> => this.client.tell('PUT', '/settings', value);
  team = (): Observable<TeamMember[]> => this.client.get('/team', members);
  invite = (member: NewMember): Observable<unknown> => this.client.tell('POST', '/team', member);
  inviteAgain = (id: number): Observable<unknown> => this.client.tell('POST', `/team/${id}/invitation`);
  removeMember = (id: number): Observable<unknown> => this.client.tell('DELETE', `/team/${id}`);
  removeFactor = (id: number): Observable<unknown> => this.client.tell('DELETE', `/team/${id}/factor`);
  changeRole = (id: number, role: Role): Observable<unknown> => this.client.tell('PUT', `/team/${id}`, { role });
  about = (): Observable<About> => this.client.get('/about', about);
  keys = (): Observable<ApiKeys> => this.client.get('/keys', apiKeys);
  makeKey = (key: NewApiKey): Observable<{ key: string }> => this.client.post('/keys', key, madeApiKey);
  removeKey = (id: number): Observable<unknown> => this.client.tell('DELETE', `/keys/${id}`);
  misuses = (): Observable<MisusePage> => this.client.get('/personal-links/misuses', misusePage);
  reviewMisuse = (id: number): Observable<unknown> =>
    this.client.tell('POST', `/personal-links/misuses/${id}/reviewed`);
  endLinks = (): Observable<unknown> => this.client.tell('POST', '/personal-links/end');
  audit = (query: Record<string, string | number>): Observable<AuditPage> =>
    this.client.get('/audit', auditPage, query);
}
