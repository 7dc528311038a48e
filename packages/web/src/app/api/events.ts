import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import * as z from 'zod';
import {
  audienceCount,
  cuePreview,
  cueRows,
  eventChanges,
  eventDetail,
  eventRows,
  guestPage,
  invitationPreview,
  setAsideReplies,
  wordingText,
  type AudienceCount,
  type CueFields,
  type CuePreview,
  type CueRow,
  type EventChanges,
  type EventDetail,
  type EventRow,
  type GuestPage,
  type InvitationPreview,
  type SetAsideReply,
  type WordingText,
} from '@convite/contract';
import type { Channel, EventFacts } from '@convite/core';
import { Client } from './client';

const houseWordings = z.object({ invitation: wordingText, invitationText: wordingText, callOff: wordingText });
export type HouseWordings = z.infer<typeof houseWordings>;

/** Events and everything inside one. */
@Injectable({ providedIn: 'root' })
export class EventsApi {
  private readonly client = inject(Client);

  list = (): Observable<EventRow[]> => this.client.get('/events', eventRows);
  get = (id: number): Observable<EventDetail> => this.client.get(`/events/${id}`, eventDetail);
  create = (facts: EventFacts): Observable<EventDetail> => this.client.post('/events', facts, eventDetail);
  save = (id: number, facts: EventFacts, basedOn: number): Observable<EventDetail> =>
    this.client.put(`/events/${id}`, { facts, basedOn }, eventDetail);
  publish = (id: number): Observable<unknown> => this.client.tell('POST', `/events/${id}/publish`);
  callOff = (id: number, wording: WordingText, confirmedCount: number | null): Observable<unknown> =>
    this.client.tell('POST', `/events/${id}/call-off`, { wording, confirmedCount });

  guests = (id: number, search: string, after: number): Observable<GuestPage> =>
    this.client.get(`/events/${id}/guests`, guestPage, { search, after });
  setAside = (id: number): Observable<SetAsideReply[]> => this.client.get(`/events/${id}/set-aside`, setAsideReplies);
  houseWordings = (id: number): Observable<HouseWordings> => this.client.get(`/events/${id}/wordings`, houseWordings);
  planInvitations = (id: number, lists: readonly number[], channel: Channel): Observable<AudienceCount> =>
    this.client.post(`/events/${id}/invitations/plan`, { lists, channel }, audienceCount);
  invite = (
    id: number,
    lists: readonly number[],
    channel: Channel,
    wording: WordingText,
    confirmedCount: number | null,
  ): Observable<unknown> =>
    this.client.tell('POST', `/events/${id}/invitations`, { lists, channel, wording, confirmedCount });
  previewInvitation = (id: number, personId: number | null): Observable<InvitationPreview> =>
    this.client.post(`/events/${id}/invitation-preview`, { personId, wording: null }, invitationPreview);

  cues = (id: number): Observable<CueRow[]> => this.client.get(`/events/${id}/cues`, cueRows);
  previewCue = (id: number, fields: CueFields, personId: number | null): Observable<CuePreview> =>
    this.client.post(`/events/${id}/cues/preview`, { ...fields, personId }, cuePreview);
  saveCue = (id: number, cueId: number | null, fields: CueFields): Observable<unknown> =>
    cueId === null
      ? this.client.tell('POST', `/events/${id}/cues`, fields)
      : this.client.tell('PUT', `/events/${id}/cues/${cueId}`, fields);
  removeCue = (id: number, cueId: number): Observable<unknown> =>
    this.client.tell('DELETE', `/events/${id}/cues/${cueId}`);

  changes = (id: number): Observable<EventChanges> => this.client.get(`/events/${id}/changes`, eventChanges);
  sendNotice = (id: number, wording: WordingText, confirmedCount: number | null): Observable<unknown> =>
    this.client.tell('POST', `/events/${id}/notice`, { wording, confirmedCount });
}
