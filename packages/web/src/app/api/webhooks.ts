import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import {
  madeWebhook,
  webhookCalls,
  webhooks,
  type MadeWebhook,
  type Webhook,
  type WebhookCalls,
  type WebhookFields,
} from '@convite/contract';
import { Client } from './client';

/** Other systems that are told of things. */
@Injectable({ providedIn: 'root' })
export class WebhooksApi {
  private readonly client = inject(Client);

  all = (): Observable<Webhook[]> => this.client.get('/webhooks', webhooks);
  add = (fields: WebhookFields): Observable<MadeWebhook> => this.client.post('/webhooks', fields, madeWebhook);
  change = (id: number, fields: WebhookFields): Observable<unknown> =>
    this.client.tell('PUT', `/webhooks/${id}`, fields);
  remove = (id: number): Observable<unknown> => this.client.tell('DELETE', `/webhooks/${id}`);
  test = (id: number): Observable<unknown> => this.client.tell('POST', `/webhooks/${id}/test`);
  calls = (id: number, before: number): Observable<WebhookCalls> =>
    this.client.get(`/webhooks/${id}/calls`, webhookCalls, { before });
  again = (id: number, call: number): Observable<unknown> =>
    this.client.tell('POST', `/webhooks/${id}/calls/${call}/again`);
}
