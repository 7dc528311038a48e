import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import * as z from 'zod';
import {
  actChoices,
  type ActChoices,
  cuePreview,
  cueRows,
  eventChanges,
  eventDetail,
  eventPage,
  cueSources,
  foundCues,
  railAround,
  rehearsal,
  guestPage,
  waitlistPage,
  type WaitingPlace,
  type WaitlistPage,
  type WaitlistQuery,
  invitationPreview,
  letterRows,
  linkTest,
  occurrenceRows,
  ownResult,
  proposals,
  savedEvent,
  setAsideReplies,
  wordingDocument,
  type ChangeDate,
  type CueChange,
  type CueFields,
  type CuePreview,
  type CueRow,
  type EventChanges,
  type EventDetail,
  type EventPage,
  type EventQuery,
  type EventReach,
  type CueSourceQuery,
  type CueSources,
  type FoundCue,
  type RailAround,
  type Rehearsal,
  type RehearsalQuery,
  type GuestPage,
  type GuestQuery,
  type InvitationPreview,
  noticePreview,
  type NoticePreview,
  type NoticePreviewRequest,
  type LetterRow,
  type OccurrenceRow,
  type WriteToGuests,
  type RehearsalForAll,
  rehearsalForAll,
  type ChangeContact,
  type OwnRequest,
  type OwnResult,
  type Proposal,
  type SavedEvent,
  type SetAsideReply,
  type EventYear,
  eventYear,
  type GuestSelection,
  type ImportResult,
  type RemovedGuests,
  preparedReminder,
  removedGuests,
  type TestedLink,
  type TryOut,
  importResult,
  tryOut,
  type ChosenPeople,
} from '@convite/contract';
import type { Channel, EventFacts, Scope, WordingDocument } from '@convite/core';
import { Client } from './client';

const houseWordings = z.object({
  invitation: wordingDocument,
  invitationText: wordingDocument,
  callOff: wordingDocument,
});
export type HouseWordings = z.infer<typeof houseWordings>;

/** A sending as far as it was confirmed, and the key by which it is known when it is asked for twice. */
export interface SendingOnce {
  readonly count: number | null;
  readonly key: string;
}

/** Events and everything inside one. */
@Injectable({ providedIn: 'root' })
export class EventsApi {
  private readonly client = inject(Client);

  year = (): Observable<EventYear> => this.client.get('/events/year', eventYear);
  list = (query: Partial<EventQuery>): Observable<EventPage> => this.client.get('/events', eventPage, { ...query });
  findCues = (search: string): Observable<FoundCue[]> => this.client.get('/events/cues', foundCues, { search });
  withCues = (query: Partial<CueSourceQuery>): Observable<CueSources> =>
    this.client.get('/events/with-cues', cueSources, query);
  get = (id: number): Observable<EventDetail> => this.client.get(`/events/${id}`, eventDetail);
  create = (facts: EventFacts, reach: EventReach): Observable<EventDetail> =>
    this.client.post('/events', { ...facts, reach }, eventDetail);
  copy = (id: number, withCountdown: boolean): Observable<{ id: number }> =>
    this.client.post(`/events/${id}/copy`, { withCountdown }, z.object({ id: z.number() }));
  deleteDraft = (id: number): Observable<unknown> => this.client.tell('DELETE', `/events/${id}`);
  setSender = (id: number, senderId: number | null): Observable<unknown> =>
    this.client.tell('PUT', `/events/${id}/sender`, { senderId });
  setReach = (id: number, reach: EventReach): Observable<unknown> =>
    this.client.tell('PUT', `/events/${id}/reach`, { reach });
  save = (id: number, facts: EventFacts, basedOn: number, scope: Scope = { kind: 'all' }): Observable<SavedEvent> =>
    this.client.put(`/events/${id}`, { facts, basedOn, scope }, savedEvent);
  dates = (id: number): Observable<OccurrenceRow[]> => this.client.get(`/events/${id}/dates`, occurrenceRows);
  changeDate = (id: number, change: ChangeDate, basedOn: number): Observable<unknown> =>
    this.client.tell('POST', `/events/${id}/dates`, { change, basedOn });
  publish = (id: number, isSure: boolean): Observable<unknown> =>
    this.client.tell('POST', `/events/${id}/publish`, { isSure });
  callOff = (id: number, wording: WordingDocument, { count, key }: SendingOnce): Observable<unknown> =>
    this.client.tell('POST', `/events/${id}/call-off`, { wording, confirmedCount: count }, key);

  guests = (id: number, query: Partial<GuestQuery>): Observable<GuestPage> =>
    this.client.get(`/events/${id}/guests`, guestPage, query);
  markAttendance = (
    id: number,
    mark: { personId: number; occurrence: string; attended: boolean | null },
  ): Observable<unknown> => this.client.tell('POST', `/events/${id}/attendance`, mark);
  proposals = (id: number): Observable<Proposal[]> => this.client.get(`/events/${id}/proposals`, proposals);
  answerProposal = (
    id: number,
    proposalId: number,
    answer: { accept: boolean; comment: string; basedOn: number },
  ): Observable<unknown> => this.client.tell('POST', `/events/${id}/proposals/${proposalId}`, answer);
  giveOwn = (id: number, request: OwnRequest): Observable<OwnResult> =>
    this.client.post(`/events/${id}/personal`, request, ownResult);
  testLink = (id: number, link: string, personId: number | null, occurrence = ''): Observable<TestedLink> =>
    this.client.post(`/events/${id}/test-link`, { link, personId, occurrence }, linkTest);
  countReply = (id: number, replyId: number): Observable<unknown> =>
    this.client.tell('POST', `/events/${id}/set-aside/${replyId}/count`);
  /** What a cue may do something with. */
  actChoices = (): Observable<ActChoices> => this.client.get('/act-choices', actChoices);
  waitlist = (id: number, query: Partial<WaitlistQuery>): Observable<WaitlistPage> =>
    this.client.get(`/events/${id}/waitlist`, waitlistPage, query);
  givePlace = (id: number, place: WaitingPlace): Observable<unknown> =>
    this.client.tell('POST', `/events/${id}/waitlist/give`, place);
  endWaiting = (id: number, place: WaitingPlace): Observable<unknown> =>
    this.client.tell('POST', `/events/${id}/waitlist/leave`, place);
  letters = (id: number): Observable<LetterRow[]> => this.client.get(`/events/${id}/letters`, letterRows);
  setAside = (id: number): Observable<SetAsideReply[]> => this.client.get(`/events/${id}/set-aside`, setAsideReplies);
  houseWordings = (id: number): Observable<HouseWordings> => this.client.get(`/events/${id}/wordings`, houseWordings);
  chooseToInvite = (id: number, lists: readonly number[], segments: readonly number[]): Observable<unknown> =>
    this.client.tell('PUT', `/events/${id}/to-invite`, { lists, segments });
  pasteToInvite = (id: number, text: string, how: string): Observable<ImportResult> =>
    this.client.post(`/events/${id}/to-invite/people`, { text, how }, importResult);
  tryOut = (id: number, wording: WordingDocument): Observable<TryOut> =>
    this.client.post(`/events/${id}/try-out`, { wording }, tryOut);
  removeGuests = (id: number, selection: GuestSelection): Observable<RemovedGuests> =>
    this.client.post(`/events/${id}/guests/remove`, { selection }, removedGuests);
  putGuestsBack = (id: number, removalId: number): Observable<unknown> =>
    this.client.tell('POST', `/events/${id}/guests/put-back/${removalId}`);
  prepareReminder = (id: number, selection: GuestSelection): Observable<{ cueId: number }> =>
    this.client.post(`/events/${id}/guests/remind`, { selection }, preparedReminder);
  invite = (
    id: number,
    chosen: ChosenPeople,
    channel: Channel,
    wording: WordingDocument,
    { count, isSure, key }: SendingOnce & { readonly isSure: boolean },
    publishes = false,
  ): Observable<unknown> =>
    this.client.tell(
      'POST',
      `/events/${id}/invitations`,
      { ...chosen, channel, wording, confirmedCount: count, isSure, publishes },
      key,
    );
  previewInvitation = (
    id: number,
    personId: number | null,
    wording: WordingDocument | null = null,
  ): Observable<InvitationPreview> =>
    this.client.post(`/events/${id}/invitation-preview`, { personId, wording }, invitationPreview);

  cues = (id: number): Observable<CueRow[]> => this.client.get(`/events/${id}/cues`, cueRows);
  setGrace = (id: number, minutes: number | null): Observable<unknown> =>
    this.client.tell('PUT', `/events/${id}/grace`, { minutes });
  setContact = (id: number, contact: ChangeContact): Observable<unknown> =>
    this.client.tell('PUT', `/events/${id}/contact`, contact);
  hold = (id: number): Observable<unknown> => this.client.tell('POST', `/events/${id}/hold`);
  letGoOn = (id: number): Observable<unknown> => this.client.tell('DELETE', `/events/${id}/hold`);
  rehearsalForAll = (id: number): Observable<RehearsalForAll> =>
    this.client.get(`/events/${id}/rehearsal/all`, rehearsalForAll);
  rehearsal = (id: number, query: RehearsalQuery): Observable<Rehearsal> =>
    this.client.get(`/events/${id}/rehearsal`, rehearsal, query);
  rail = (id: number): Observable<RailAround> => this.client.get(`/events/${id}/rail`, railAround);
  /** @param count the number that was seen and confirmed @param key the same for the same wish */
  writeToGuests = (
    id: number,
    asked: Omit<WriteToGuests, 'confirmedCount'>,
    count: number | null,
    key: string,
  ): Observable<unknown> => this.client.tell('POST', `/events/${id}/write`, { ...asked, confirmedCount: count }, key);
  previewCue = (id: number, fields: CueFields, personId: number | null): Observable<CuePreview> =>
    this.client.post(`/events/${id}/cues/preview`, { ...fields, personId }, cuePreview);
  saveCue = (id: number, cueId: number | null, fields: CueChange): Observable<unknown> =>
    cueId === null
      ? this.client.tell('POST', `/events/${id}/cues`, fields)
      : this.client.tell('PUT', `/events/${id}/cues/${cueId}`, fields);
  removeCue = (id: number, cueId: number): Observable<unknown> =>
    this.client.tell('DELETE', `/events/${id}/cues/${cueId}`);

  changes = (id: number): Observable<EventChanges> => this.client.get(`/events/${id}/changes`, eventChanges);
  previewNotice = (id: number, asked: NoticePreviewRequest): Observable<NoticePreview> =>
    this.client.post(`/events/${id}/notice/preview`, asked, noticePreview);
  sendNotice = (id: number, wording: WordingDocument, { count, key }: SendingOnce): Observable<unknown> =>
    this.client.tell('POST', `/events/${id}/notice`, { wording, confirmedCount: count }, key);
}
