import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import { fieldProgress, vocabulary, type FieldProgress, type NewField, type Vocabulary } from '@convite/contract';
import { Client } from './client';

@Injectable({ providedIn: 'root' })
export class VocabularyApi {
  private readonly client = inject(Client);

  read = (): Observable<Vocabulary> => this.client.get('/vocabulary', vocabulary);
  addField = (field: NewField): Observable<unknown> => this.client.tell('POST', '/vocabulary/fields', field);
  renameField = (id: number, name: string): Observable<unknown> =>
    this.client.tell('PUT', `/vocabulary/fields/${id}`, { name });
  /** Takes it out with all that stands in it, and says how far it is. */
  removeField = (id: number): Observable<FieldProgress> =>
    this.client.lines(`/vocabulary/fields/${id}/remove`, {}, fieldProgress);
  addTopic = (topic: string): Observable<unknown> => this.client.tell('POST', '/vocabulary/topics', { topic });
  removeTopic = (topic: string): Observable<unknown> =>
    this.client.tell('POST', '/vocabulary/topics/remove', { topic });
}
