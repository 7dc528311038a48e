import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import {
  picturePage,
  pictureRow,
  pictureUses,
  type PictureChange,
  type PicturePage,
  type PictureRow,
  type PictureUses,
} from '@convite/contract';
import { Client } from './client';

/** Pictures of the house that messages show. */
@Injectable({ providedIn: 'root' })
export class PicturesApi {
  private readonly client = inject(Client);

  /** @param before where the page begins; null for the newest */
  page = (before: number | null, archived = false): Observable<PicturePage> =>
    this.client.get('/pictures', picturePage, { archived: String(archived), ...(before !== null && { before }) });
  add = (file: File): Observable<PictureRow> =>
    this.client.post('/pictures', file, pictureRow, { name: file.name.slice(0, 120) });
  change = (digest: string, change: PictureChange): Observable<unknown> =>
    this.client.tell('PUT', `/pictures/${digest}`, change);
  uses = (digest: string): Observable<PictureUses> => this.client.get(`/pictures/${digest}/uses`, pictureUses);
}
