import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import { manualPreview, type ManualPreview, type ManualPreviewRequest } from '@convite/contract';
import { Client } from './client';

/** Messages that somebody writes to some people now, about no event. */
@Injectable({ providedIn: 'root' })
export class ManualApi {
  private readonly client = inject(Client);

  preview = (asked: ManualPreviewRequest): Observable<ManualPreview> =>
    this.client.post('/by-hand/preview', asked, manualPreview);
  /** @param count the number that was seen and confirmed @param key the same for the same wish */
  send = (asked: ManualPreviewRequest, count: number | null, key: string): Observable<unknown> =>
    this.client.tell('POST', '/by-hand', { ...asked, confirmedCount: count }, key);
}
