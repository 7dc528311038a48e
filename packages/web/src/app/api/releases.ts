import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import { releasePage, releaseShown, type ReleasePage, type ReleaseRow, type ReleaseShown } from '@convite/contract';
import { Client } from './client';

type Named = Pick<ReleaseRow, 'what' | 'ref'>;

/** What waits for a second member to read it. */
@Injectable({ providedIn: 'root' })
export class ReleasesApi {
  private readonly client = inject(Client);

  list = (): Observable<ReleasePage> => this.client.get('/releases', releasePage);
  show = (one: Named): Observable<ReleaseShown> => this.client.get(pathOf(one), releaseShown);
  release = (one: Named): Observable<unknown> => this.client.tell('POST', pathOf(one));
  holdBack = (one: Named): Observable<unknown> => this.client.tell('DELETE', pathOf(one));
}

const pathOf = ({ what, ref }: Named): string => `/releases/${what}/${ref}`;
