import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import * as z from 'zod';
import {
  mergePreview,
  people,
  samePeople,
  type MergePreview,
  type Person,
  type SamePeople,
  importProgress,
  importRowPage,
  lists,
  personDetail,
  personFields,
  sentMessage,
  subscriberPage,
  type ImportProgress,
  type ImportRowPage,
  type List,
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
  coming,
  leftOut,
  pourProgress,
  type LeftOut,
  type PourList,
  type PourProgress,
  peopleImport,
  personNotes,
  timelinePage,
  type Coming,
  type PersonNote,
  type TimelinePage,
  peopleImports,
  rememberedColumns,
  type PeopleImport,
  type PeopleImportChange,
  type PeopleImportFields,
  type PeopleImportRows,
  type RowKind,
  type TakeImport,
} from '@convite/contract';
import { Client } from './client';

@Injectable({ providedIn: 'root' })
export class AudienceApi {
  private readonly client = inject(Client);

  lists = (): Observable<List[]> => this.client.get('/lists', lists);
  fields = (): Observable<PersonField[]> => this.client.get('/subscribers/fields', personFields);
  list = (id: number): Observable<ListDetail> => this.client.get(`/lists/${id}`, listDetail);
  changeList = (id: number, change: ListChange): Observable<unknown> => this.client.tell('PUT', `/lists/${id}`, change);
  /** Puts all members of a list on another; whoever unsubscribes stops it. */
  pourList = (id: number, how: PourList): Observable<PourProgress> =>
    this.client.lines(`/lists/${id}/pour`, how, pourProgress);
  createList = (name: string): Observable<{ id: number }> =>
    this.client.post('/lists', { name }, z.object({ id: z.number() }));
  /** @param segment goes before a search or a list */
  subscribers = (
    search: string,
    list: number | null,
    after: number,
    segment: number | null = null,
  ): Observable<SubscriberPage> =>
    this.client.get('/subscribers', subscriberPage, {
      search,
      after,
      ...(list !== null && { list }),
      ...(segment !== null && { segment }),
    });
  named = (ids: readonly number[]): Observable<Person[]> =>
    this.client.get('/subscribers/named', people, { ids: ids.join(',') });
  same = (id: number): Observable<SamePeople> => this.client.get(`/subscribers/${id}/same`, samePeople);
  previewMerge = (id: number, otherId: number): Observable<MergePreview> =>
    this.client.post(`/subscribers/${id}/same/preview`, { otherId }, mergePreview);
  merge = (id: number, otherId: number): Observable<unknown> =>
    this.client.tell('POST', `/subscribers/${id}/same`, { otherId });
  part = (mergeId: number): Observable<unknown> => this.client.tell('DELETE', `/merges/${mergeId}`);
  person = (id: number): Observable<PersonDetail> => this.client.get(`/subscribers/${id}`, personDetail);
  timeline = (id: number, after: string): Observable<TimelinePage> =>
    this.client.get(`/subscribers/${id}/timeline`, timelinePage, { after });
  coming = (id: number): Observable<Coming> => this.client.get(`/subscribers/${id}/coming`, coming);
  notes = (id: number): Observable<PersonNote[]> => this.client.get(`/subscribers/${id}/notes`, personNotes);
  addNote = (id: number, text: string): Observable<unknown> =>
    this.client.tell('POST', `/subscribers/${id}/notes`, { text });
  removeNote = (id: number, note: number): Observable<unknown> =>
    this.client.tell('DELETE', `/subscribers/${id}/notes/${note}`);
  /** Mails them the link to their preferences. */
  sendOwnLink = (id: number): Observable<unknown> => this.client.tell('POST', `/subscribers/${id}/link`);
  /** Makes their feed and preferences another address. */
  resetAddress = (id: number): Observable<unknown> => this.client.tell('POST', `/subscribers/${id}/address`);
  editPerson = (id: number, edit: PersonChange): Observable<LeftOut> =>
    this.client.put(`/subscribers/${id}`, edit, leftOut);
  /** Does one thing to many, and says how far it is; whoever unsubscribes stops it. */
  bulk = (request: BulkRequest): Observable<BulkProgress> =>
    this.client.lines('/subscribers/bulk', request, bulkProgress);
  erasePerson = (id: number): Observable<unknown> => this.client.tell('DELETE', `/subscribers/${id}`);
  /** Where all that is held about somebody is taken as a file. */
  heldUrl = (id: number): string => `/api/subscribers/${id}/held.json`;
  message = (id: number): Observable<SentMessage> => this.client.get(`/messages/${id}`, sentMessage);
  imports = (): Observable<PeopleImport[]> => this.client.get('/people-imports', peopleImports);
  /** Where the columns of a file with these headings went the last time. */
  remembered = (headings: readonly string[]): Observable<z.infer<typeof rememberedColumns>> =>
    this.client.post('/people-imports/columns', { headings }, rememberedColumns);
  beginImport = (fields: PeopleImportFields): Observable<{ id: number }> =>
    this.client.post('/people-imports', fields, z.object({ id: z.number() }));
  addRows = (id: number, rows: PeopleImportRows['rows']): Observable<PeopleImport> =>
    this.client.post(`/people-imports/${id}/rows`, { rows }, peopleImport);
  importRows = (id: number, kind: RowKind, after: number): Observable<ImportRowPage> =>
    this.client.get(`/people-imports/${id}/rows`, importRowPage, { kind, after });
  /** Takes it in, and says how far it is; whoever unsubscribes leaves it to the server to go on. */
  takeImport = (id: number, how: TakeImport): Observable<ImportProgress> =>
    this.client.lines(`/people-imports/${id}/take`, how, importProgress);
  import = (id: number): Observable<PeopleImport> => this.client.get(`/people-imports/${id}`, peopleImport);
  changeImport = (id: number, change: PeopleImportChange): Observable<unknown> =>
    this.client.tell('POST', `/people-imports/${id}`, { change });
  /** Where the rows that were not taken are had as a file. */
  refusedUrl = (id: number, format: 'csv' | 'xlsx'): string => `/api/people-imports/${id}/refused.${format}`;
}
