import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import {
  calendarEntries,
  clockState,
  faults,
  mailboxes,
  mailMessage,
  mailSummaries,
  phones,
  phoneTexts,
  type Answer,
  type CalendarEntry,
  type ClockState,
  type Faults,
  type Mailbox,
  type MailMessage,
  type MailSummary,
  type MoveClock,
  type Phone,
  type PhoneText,
} from '@convite/contract';
import { Client } from './client';

/** The simulated outside world. */
@Injectable({ providedIn: 'root' })
export class BackstageApi {
  private readonly client = inject(Client);

  mailboxes = (search: string): Observable<Mailbox[]> => this.client.get('/backstage/mailboxes', mailboxes, { search });
  /** What arrived last, in whosever mailbox. */
  latest = (search: string): Observable<MailSummary[]> =>
    this.client.get('/backstage/latest', mailSummaries, { search });
  mailbox = (address: string): Observable<MailSummary[]> =>
    this.client.get(`/backstage/mailboxes/${encodeURIComponent(address)}`, mailSummaries);
  message = (id: string): Observable<MailMessage> => this.client.get(`/backstage/mail/${id}`, mailMessage);
  answer = (id: string, answer: Partial<Answer>): Observable<unknown> =>
    this.client.tell('POST', `/backstage/mail/${id}/answer`, answer);
  calendar = (address: string): Observable<CalendarEntry[]> =>
    this.client.get(`/backstage/calendars/${encodeURIComponent(address)}`, calendarEntries);
  phones = (): Observable<Phone[]> => this.client.get('/backstage/phones', phones);
  phone = (number: string): Observable<PhoneText[]> =>
    this.client.get(`/backstage/phones/${encodeURIComponent(number)}`, phoneTexts);
  replyByText = (number: string, text: string): Observable<unknown> =>
    this.client.tell('POST', `/backstage/phones/${encodeURIComponent(number)}/reply`, { text });
  faults = (): Observable<Faults> => this.client.get('/backstage/faults', faults);
  setFaults = (value: Faults): Observable<Faults> => this.client.put('/backstage/faults', value, faults);
  clock = (): Observable<ClockState> => this.client.get('/backstage/clock', clockState);
  moveClock = (move: MoveClock): Observable<ClockState> => this.client.post('/backstage/clock', move, clockState);
}
