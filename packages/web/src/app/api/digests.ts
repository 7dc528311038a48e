import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import { digestRows, issuePreviews, type DigestChange, type DigestRow, type IssuePreview } from '@convite/contract';
import { Client } from './client';

@Injectable({ providedIn: 'root' })
export class DigestsApi {
  private readonly client = inject(Client);

  list = (): Observable<DigestRow[]> => this.client.get('/digests', digestRows);
  preview = (id: number): Observable<IssuePreview[]> => this.client.get(`/digests/${id}/preview`, issuePreviews);
  save = (id: number | null, fields: DigestChange): Observable<unknown> =>
    id === null ? this.client.tell('POST', '/digests', fields) : this.client.tell('PUT', `/digests/${id}`, fields);
}
