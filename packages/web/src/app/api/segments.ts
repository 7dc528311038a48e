import { inject, Injectable } from '@angular/core';
import { map, type Observable } from 'rxjs';
import * as z from 'zod';
import {
  overlap,
  segmentCount,
  segmentPeople,
  segmentRows,
  segmentUse,
  segmentWhy,
  type List,
  type Overlap,
  type SegmentChange,
  type SegmentCount,
  type SegmentPeople,
  type SegmentRow,
  type SegmentUse,
  type SegmentWhy,
} from '@convite/contract';
import type { Segment } from '@convite/core';
import { Client } from './client';

@Injectable({ providedIn: 'root' })
export class SegmentsApi {
  private readonly client = inject(Client);

  all = (): Observable<SegmentRow[]> => this.client.get('/segments', segmentRows);
  /** The same where some are chosen, like lists. */
  offered = (): Observable<List[]> =>
    this.all().pipe(
      map((rows) => rows.map(({ id, name, people }) => ({ id, name, count: people ?? 0, isArchived: false }))),
    );
  use = (id: number): Observable<SegmentUse> => this.client.get(`/segments/${id}/use`, segmentUse);
  /** @param id null for a new one. @returns its number */
  save = (id: number | null, fields: SegmentChange): Observable<number> =>
    id === null
      ? this.client.post('/segments', fields, z.object({ id: z.number() })).pipe(map((made) => made.id))
      : this.client.tell('PUT', `/segments/${id}`, fields).pipe(map(() => id));
  remove = (id: number): Observable<unknown> => this.client.tell('DELETE', `/segments/${id}`);
  /** How many are in it, while it is counted; whoever unsubscribes stops it. */
  count = (conditions: Segment): Observable<SegmentCount> =>
    this.client.lines('/segments/count', { conditions }, segmentCount);
  people = (conditions: Segment, after: number, limit: number): Observable<SegmentPeople> =>
    this.client.post('/segments/people', { conditions, after, limit }, segmentPeople);
  why = (conditions: Segment, personId: number): Observable<SegmentWhy> =>
    this.client.post('/segments/why', { conditions, personId }, segmentWhy);
  overlap = (left: Segment, right: Segment): Observable<Overlap> =>
    this.client.lines('/segments/overlap', { left, right }, overlap);
}
