import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import * as z from 'zod';
import {
  askedLinks,
  begunWording,
  houseBlocks,
  keptPreview,
  keptRows,
  keptWording,
  offeredWordings,
  testSent,
  type AskedLinks,
  type HouseBlock,
  type KeptChange,
  type KeptPreview,
  type KeptPreviewRequest,
  type KeptRow,
  type KeptWording,
  type OfferedWording,
  type TestRequest,
  type TestSent,
} from '@convite/contract';
import type { Channel, WordingDocument } from '@convite/core';
import { Client } from './client';

/** Messages kept to be used again, and what is asked of those that are being written. */
@Injectable({ providedIn: 'root' })
export class WordingsApi {
  private readonly client = inject(Client);

  askLinks = (addresses: readonly string[]): Observable<AskedLinks> =>
    this.client.post('/wordings/ask-links', { addresses }, askedLinks);
  /** What somebody may begin a message from, by words of its name. */
  offered = (search: string, channel: Channel, ofEvent: boolean): Observable<OfferedWording[]> =>
    this.client.get('/wordings/offered', offeredWordings, { search, channel, ofEvent: String(ofEvent) });
  houseBlocks = (): Observable<readonly HouseBlock[]> => this.client.get('/wordings/blocks', houseBlocks);
  begin = (key: string, channel: Channel): Observable<{ wording: WordingDocument }> =>
    this.client.get(`/wordings/offered/${key}?channel=${channel}`, begunWording);

  sendTest = (request: TestRequest): Observable<TestSent> => this.client.post('/wordings/test', request, testSent);

  list = (): Observable<KeptRow[]> => this.client.get('/wordings', keptRows);
  find = (key: string): Observable<KeptWording> => this.client.get(`/wordings/${key}`, keptWording);
  version = (key: string, number: number): Observable<{ wording: WordingDocument }> =>
    this.client.get(`/wordings/${key}/versions/${number}`, begunWording);
  create = (change: KeptChange): Observable<{ key: string }> =>
    this.client.post('/wordings', change, z.object({ key: z.string() }));
  save = (key: string, change: KeptChange): Observable<unknown> => this.client.tell('PUT', `/wordings/${key}`, change);
  archive = (key: string, isArchived: boolean): Observable<unknown> =>
    this.client.tell('PUT', `/wordings/${key}/archived`, { isArchived });
  /** Back to the original, or out of the house's own. */
  drop = (key: string): Observable<unknown> => this.client.tell('DELETE', `/wordings/${key}`);
  preview = (asked: KeptPreviewRequest): Observable<KeptPreview> =>
    this.client.post('/wordings/preview', asked, keptPreview);
}
