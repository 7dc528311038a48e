import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import * as z from 'zod';
import {
  importResult,
  listImportRows,
  lists,
  messagePage,
  personDetail,
  personFields,
  sentMessage,
  subscriberPage,
  type ImportRequest,
  type ImportResult,
  type List,
  type ListImportRow,
  type MessagePage,
  type PersonDetail,
  type PersonChange,
  type PersonField,
  type SentMessage,
  type SubscriberPage,
  bulkProgress,
  type BulkProgress,
  type BulkRequest,
  listDetail,
  type ListChange,
  type ListDetail,
} from '@convite/contract';
import { Client } from './client';

@Injectable({ providedIn: 'root' })
export class AudienceApi {
  private readonly client = inject(Client);

  lists = (): Observable<List[]> => this.client.get('/lists', lists);
  fields = (): Observable<PersonField[]> => this.client.get('/subscribers/fields', personFields);
  list = (id: number): Observable<ListDetail> => this.client.get(`/lists/${id}`, listDetail);
  changeList = (id: number, change: ListChange): Observable<unknown> => this.client.tell('PUT', `/lists/${id}`, change);
  createList = (name: string): Observable<{ id: number }> =>
    this.client.post('/lists', { name }, z.object({ id: z.number() }));
  subscribers = (search: string, list: number | null, after: number): Observable<SubscriberPage> =>
    this.client.get('/subscribers', subscriberPage, { search, after, ...(list !== null && { list }) });
  person = (id: number): Observable<PersonDetail> => this.client.get(`/subscribers/${id}`, personDetail);
  editPerson = (id: number, edit: PersonChange): Observable<unknown> =>
    this.client.tell('PUT', `/subscribers/${id}`, edit);
  /** Does one thing to many, and says how far it is; whoever unsubscribes stops it. */
  bulk = (request: BulkRequest): Observable<BulkProgress> =>
    this.client.lines('/subscribers/bulk', request, bulkProgress);
  erasePerson = (id: number): Observable<unknown> => this.client.tell('DELETE', `/subscribers/${id}`);
  /** Where all that is held about somebody is taken as a file. */
  heldUrl = (id: number): string => `/api/subscribers/${id}/held.json`;
  /** What they got, the latest first. @param before the number of the last one seen; 0 for the first page */
  messages = (id: number, before: number): Observable<MessagePage> =>
    this.client.get(`/subscribers/${id}/messages`, messagePage, { before });
  message = (id: number): Observable<SentMessage> => this.client.get(`/messages/${id}`, sentMessage);
  imports = (): Observable<ListImportRow[]> => this.client.get('/list-imports', listImportRows);
  changeImport = (id: number, change: 'stop' | 'go-on' | 'undo'): Observable<unknown> =>
    this.client.tell('POST', `/list-imports/${id}`, { change });
  import = (listId: number, request: ImportRequest): Observable<ImportResult> =>
    this.client.post(`/lists/${listId}/import`, request, importResult);
}
