import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import {
  planApplied,
  planFit,
  planFollowed,
  planFollowers,
  planRows,
  type ApplyPlan,
  type KeepPlan,
  type PlanApplied,
  type PlanFit,
  type PlanFollowed,
  type PlanFollowers,
  type PlanRow,
  type PlanSource,
} from '@convite/contract';
import * as z from 'zod';
import { Client } from './client';

/** Countdowns that are kept for use again. */
@Injectable({ providedIn: 'root' })
export class PlansApi {
  private readonly client = inject(Client);

  list = (): Observable<PlanRow[]> => this.client.get('/plans', planRows);
  fit = (eventId: number, source: PlanSource): Observable<PlanFit> =>
    this.client.get(`/events/${eventId}/plan`, planFit, source);
  apply = (eventId: number, asked: ApplyPlan): Observable<PlanApplied> =>
    this.client.post(`/events/${eventId}/plan`, asked, planApplied);
  keep = (asked: KeepPlan): Observable<{ id: number }> =>
    this.client.post('/plans', asked, z.object({ id: z.number() }));
  remove = (id: number): Observable<unknown> => this.client.tell('DELETE', `/plans/${id}`);
  followers = (id: number): Observable<PlanFollowers> => this.client.get(`/plans/${id}/followers`, planFollowers);
  follow = (id: number, events: number[]): Observable<PlanFollowed> =>
    this.client.post(`/plans/${id}/follow`, { events }, planFollowed);
}
