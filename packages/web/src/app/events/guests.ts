import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { ActivatedRoute } from '@angular/router';
import { map } from 'rxjs';
import type { Guest, GuestFilter, LetterRow, OccurrenceRow, SetAsideReply } from '@convite/contract';
import { replyStates, sayDay, sayWhen, sayZone } from '@convite/core';
import { BoardApi } from '../api/board';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { LetterList } from '../ui/letter-list';
import { SharedClock } from '../ui/shared-clock';
import { Cell, type Column } from '../ui/table/column';
import { Filter, type FilterChoice } from '../ui/table/filter';
import { rowSource } from '../ui/table/row-source';
import { Table } from '../ui/table/table';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { CurrentEvent } from './current-event';
import { InvitePanel } from './invite-panel';
import { OwnTimes } from './own-times';
import { Proposals } from './proposals';
import { replyWords } from './reply-words';
import { typed } from '../ui/typed';

const reasons: Readonly<Record<string, string>> = {
  'not-invited': 'nobody of that address is invited',
  'from-somebody-else': 'sent from another address than the one invited',
  unproven: 'nothing proves that it comes from them; the address anybody can write to was used',
  counted: 'counted by hand',
  'no-place': 'said yes when every place was taken',
  'asked-too-often': 'asked for the newest entry more than once within an hour, or five times a day',
  'not-written-to': 'they opted out, or their address bounces',
  'unknown-version': 'answers a version that never was',
  'old-version': 'answers an older version',
  'older-than-last': 'older than the answer we have',
  'unknown-date': 'answers a date that the series does not have',
  'end-before-start': 'proposes an end before its start',
  'in-place-of': 'answers in place of an invitee who passed it on; invite them to let it count',
  'calendar-refused': 'their calendar could not take the invitation',
  'calendar-missing': 'something the standard asks for is missing',
  'calendar-bad-value': 'a value cannot be read',
  'calendar-bad-line': 'a line of it cannot be read',
  'calendar-not-closed': 'it breaks off in the middle',
  'calendar-too-big': 'it is too large to be an answer',
  'calendar-too-deep': 'it is nested too deeply',
  'unknown-zone': 'it names a time zone that nobody knows',
};

/** Who is invited, what they answered, and which version they hold. */
@Component({
  selector: 'cv-guests',
  imports: [Cell, Filter, InvitePanel, LetterList, MatButtonModule, OwnTimes, Proposals, Table, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (current.detail(); as event) {
      <div class="row">
        @if (event.status !== 'draft' || event.invited ? page() : null; as page) {
          <p class="counts">
            <strong class="yes">{{ page.counts.accepted }}</strong> yes ·
            <strong>{{ page.counts.tentative }}</strong> perhaps · <strong>{{ page.counts.declined }}</strong> no ·
            <strong>{{ page.counts['needs-action'] }}</strong> no answer yet
            @if (places(); as places) {
              <span class="quiet">· {{ page.counts.accepted }} of {{ places }} places taken</span>
            }
          </p>
        }
        @if (event.facts.series) {
          <select aria-label="Answers for" (change)="chooseDate(typed($event))">
            <option value="">for the whole series</option>
            @for (one of dates(); track one.key) {
              <option [value]="one.key" [selected]="one.key === date()">{{ sayDate(one) }}</option>
            }
          </select>
        }
        @if (session.canMarket() && event.status === 'published') {
          <span class="row actions">
            @if (event.facts.isPersonal) {
              <button
                matButton="outlined"
                (click)="isGivingTimes.set(!isGivingTimes())"
                [attr.aria-expanded]="isGivingTimes()"
              >
                Own times
              </button>
            }
            <button matButton="filled" (click)="isInviting.set(!isInviting())" [attr.aria-expanded]="isInviting()">
              Invite people
            </button>
          </span>
        }
      </div>
      <cv-proposals [event]="event" />
      @if (isGivingTimes()) {
        <cv-own-times [eventId]="event.id" [zone]="event.facts.zone" (given)="guests.reload()" />
      }
      @if (isInviting() || (event.status === 'draft' && session.canMarket())) {
        <cv-invite-panel [event]="event" (sent)="invited()" (changed)="current.resource.reload()" />
      }
      <cv-table name="guests" label="Guests" [source]="guests" [columns]="columns()" [total]="total()">
        <input
          above
          class="plain grow"
          type="search"
          placeholder="Find a guest"
          aria-label="Find a guest"
          [value]="search()"
          (input)="find(typed($event))"
        />
        <cv-filter above none="all" [choices]="filters" [(value)]="filter" />
        <span empty>{{
          search()
            ? 'Nobody of that name is invited.'
            : filter() === 'all'
              ? 'Nobody is invited yet.'
              : 'Nobody of these.'
        }}</span>
        <ng-template cvCell="guest" [cvCellOf]="guests" let-guest>
          <bdi>{{ guest.person.name || '—' }}</bdi>
        </ng-template>
        <ng-template cvCell="address" [cvCellOf]="guests" let-guest>
          <span class="quiet">{{ guest.channel === 'text' ? guest.person.mobile : guest.person.email }}</span>
        </ng-template>
        <ng-template cvCell="by" [cvCellOf]="guests" let-guest>{{ guest.channel }}</ng-template>
        <ng-template cvCell="answer" [cvCellOf]="guests" let-guest>
          <span [class.yes]="guest.reply === 'accepted'">
            <strong>{{ guest.isByDate && !date() ? 'by date' : words[guest.reply] }}</strong>
            @if (guest.comment) {
              <span class="quiet">
                “<bdi>{{ guest.comment }}</bdi
                >”</span
              >
            }
            @if (guest.delegatedTo) {
              <span class="quiet">, passed on to {{ guest.delegatedTo }}</span>
            }
          </span>
        </ng-template>
        <ng-template cvCell="answered" [cvCellOf]="guests" let-guest>
          @if (guest.repliedAt) {
            <cv-when [at]="guest.repliedAt" [zone]="event.facts.zone" />
          }
        </ng-template>
        <ng-template cvCell="own" [cvCellOf]="guests" let-guest>
          @if (guest.own; as own) {
            {{ sayOwn(own.start, event.facts.zone) }}
            <span class="quiet">{{ own.place }}</span>
          } @else {
            <span class="quiet">none yet</span>
          }
        </ng-template>
        <ng-template cvCell="came" [cvCellOf]="guests" let-guest>
          <span class="choice" role="group" [attr.aria-label]="'Did ' + guest.person.name + ' come'">
            <button [attr.aria-pressed]="guest.attended === true" (click)="mark(guest, true)">yes</button>
            <button [attr.aria-pressed]="guest.attended === false" (click)="mark(guest, false)">no</button>
          </span>
        </ng-template>
        <ng-template cvCell="holds" [cvCellOf]="guests" let-guest>
          <span [class.alarm]="guest.holdsVersion !== null && guest.holdsVersion < version()">
            @if (guest.invitedAt && guest.holdsVersion === null) {
              <span class="quiet">no entry yet</span>
            } @else if (guest.invitedAt) {
              {{ guest.holdsVersion }}
              @if (guest.holdsVersion !== version()) {
                of {{ version() }}
              }
            } @else {
              <span class="quiet">on its way</span>
            }
          </span>
        </ng-template>
      </cv-table>
      @if (aside().length) {
        <section class="stack">
          <h2>Replies set aside or late</h2>
          <table class="list">
            <thead>
              <tr>
                <th>Received</th>
                <th>From</th>
                <th>For</th>
                <th>Says</th>
                <th>Why it does not count</th>
                <th><span class="hidden">What to do</span></th>
              </tr>
            </thead>
            <tbody>
              @for (reply of aside(); track reply.id) {
                <tr>
                  <td><cv-when [at]="reply.receivedAt" [zone]="event.facts.zone" /></td>
                  <td>{{ reply.from }}</td>
                  <td>{{ reply.attendee }}</td>
                  <td>{{ reply.state }}</td>
                  <td>{{ reasons[reply.reason] || reply.reason }}</td>
                  <td>
                    @if (session.canMarket() && countable.includes(reply.reason) && answers.includes(reply.state)) {
                      <button class="link" (click)="count(reply)">Count it</button>
                    }
                  </td>
                </tr>
              }
            </tbody>
          </table>
        </section>
      }
      @if (letters().length) {
        <section class="stack" aria-label="Letters">
          <h2>What they wrote</h2>
          <cv-letter-list
            [letters]="letters()"
            [zone]="event.facts.zone"
            [canSettle]="session.canMarket()"
            (settled)="settle($event)"
          />
        </section>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 14px;
    }
    cv-table strong {
      white-space: nowrap;
    }
    .counts {
      margin: 0;
      font-size: 15px;
    }
    select {
      max-width: 330px;
    }
    .actions {
      margin-left: auto;
    }
  `,
})
export class Guests {
  protected readonly typed = typed;
  protected readonly current = inject(CurrentEvent);
  protected readonly session = inject(Session);
  private readonly api = inject(EventsApi);
  private readonly board = inject(BoardApi);
  private readonly toast = inject(Toast);
  private readonly clock = inject(SharedClock);
  protected readonly words = replyWords;
  protected readonly reasons = reasons;
  protected readonly search = signal('');
  protected readonly filter = signal<GuestFilter>('all');
  protected readonly filters: readonly FilterChoice<GuestFilter>[] = [
    { key: 'accepted', label: 'said yes' },
    { key: 'tentative', label: 'said perhaps' },
    { key: 'declined', label: 'said no' },
    { key: 'needs-action', label: 'no answer yet' },
    { key: 'older-version', label: 'hold an older version' },
    { key: 'by-date', label: 'come by date' },
  ];
  protected readonly isInviting = signal(false);
  /** Key of the date whose answers are shown; empty for the whole series. */
  protected readonly date = signal(inject(ActivatedRoute).snapshot.queryParamMap.get('date') ?? '');
  protected readonly isGivingTimes = signal(false);
  protected readonly guests = rowSource(
    () =>
      this.current.id()
        ? { id: this.current.id(), search: this.search(), occurrence: this.date(), filter: this.filter() }
        : undefined,
    ({ id, ...query }, after) =>
      this.api
        .guests(id, { ...query, after })
        .pipe(map((page) => ({ ...page, rows: page.rows.map((guest) => ({ ...guest, id: guest.person.id })) }))),
    ({ id, occurrence }) => [id, occurrence],
  );
  protected readonly columns = computed((): Column[] => [
    { key: 'guest', label: 'Guest', onCard: 'title' },
    { key: 'address', label: 'Address' },
    { key: 'by', label: 'By' },
    { key: 'answer', label: 'Answer', onCard: 'fact' },
    { key: 'answered', label: 'Answered', onCard: 'fact' },
    ...(this.current.detail()?.facts.isPersonal ? [{ key: 'own', label: 'Own time' }] : []),
    ...(this.canMark() ? [{ key: 'came', label: 'Came', onCard: 'fact' } as const] : []),
    { key: 'holds', label: 'Holds version', isNumber: true },
  ]);
  private readonly datesResource = rxResource({
    params: () => (this.current.detail()?.facts.series ? this.current.id() : undefined),
    stream: ({ params }) => this.api.dates(params),
  });
  protected readonly dates = computed(() => (this.datesResource.hasValue() ? (this.datesResource.value() ?? []) : []));
  /** Places of the date that is shown, where it has so many and no more. */
  protected readonly places = computed(() => {
    const facts = this.current.detail()?.facts;
    return facts && (!facts.series || this.date()) ? (facts.registration?.places ?? null) : null;
  });
  /** People are marked as here from an hour before the start of the date that is shown. */
  protected readonly canMark = computed(() => {
    const event = this.current.detail();
    const startAt = event?.facts.series ? this.dates().find(({ key }) => key === this.date())?.startAt : event?.startAt;
    return this.session.canMarket() && startAt !== undefined && Date.parse(startAt) <= this.clock.nowMs() + 3_600_000;
  });
  private readonly setAside = rxResource({
    params: () => this.current.id() || undefined,
    stream: ({ params }) => this.api.setAside(params),
  });
  private readonly lettersResource = rxResource({
    params: () => this.current.id() || undefined,
    stream: ({ params }) => this.api.letters(params),
  });
  protected readonly letters = computed(() =>
    this.lettersResource.hasValue() ? (this.lettersResource.value() ?? []) : [],
  );
  /** Only whose answer it is stands in doubt: a person may know. */
  protected readonly countable: readonly string[] = ['unproven', 'from-somebody-else', 'no-place'];
  protected readonly answers: readonly string[] = replyStates;
  protected readonly page = this.guests.first;
  protected readonly version = computed(() => this.page()?.version ?? 0);
  /** Of all who are invited to the whole, where nobody in particular is looked for. */
  protected readonly total = computed(() => {
    const counts = this.page()?.counts;
    return counts && !this.search() && !this.date() && this.filter() === 'all'
      ? Object.values(counts).reduce((sum, n) => sum + n, 0)
      : null;
  });
  protected readonly aside = computed(() => (this.setAside.hasValue() ? (this.setAside.value() ?? []) : []));

  constructor() {
    reloadOn(
      () => this.current.topics(),
      () => {
        this.guests.reload();
        this.setAside.reload();
        this.lettersResource.reload();
      },
    );
  }

  protected sayDate = ({ facts, calledOff }: OccurrenceRow): string =>
    `for ${sayWhen(facts, '')}${calledOff ? ', called off' : ''}`;
  protected sayOwn = (start: string, zone: string): string =>
    start ? `${sayDay(start.slice(0, 10))} ${start.slice(11)} ${sayZone(zone)}` : 'as the event';
  protected chooseDate(key: string): void {
    this.date.set(key);
  }
  protected mark(guest: Guest, came: boolean): void {
    // A second press takes the mark back.
    const attended = guest.attended === came ? null : came;
    this.api
      .markAttendance(this.current.id(), { personId: guest.person.id, occurrence: this.date(), attended })
      .subscribe({
        next: () => this.guests.reload(),
        error: (error: unknown) => this.toast.fail(error),
      });
  }
  protected count(reply: SetAsideReply): void {
    this.api.countReply(this.current.id(), reply.id).subscribe({
      next: () => this.toast.say(`The answer of ${reply.attendee} counts.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected settle({ id, isOpen }: LetterRow): void {
    this.board.settleLetter(id, !isOpen).subscribe({
      next: () => this.lettersResource.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected find(text: string): void {
    this.search.set(text);
  }
  protected invited(): void {
    this.isInviting.set(false);
    this.current.resource.reload();
    this.guests.reload();
  }
}
