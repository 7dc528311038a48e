import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { sayDay, sayNumber } from '../ui/say';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { Sort } from '@angular/material/sort';
import { ActivatedRoute, Router } from '@angular/router';
import { map } from 'rxjs';
import {
  guestSorts,
  tableFormats,
  type Guest,
  type GuestFilter,
  type LetterRow,
  type OccurrenceRow,
  type GuestQuery,
  type GuestSelection,
} from '@convite/contract';
import { sayWhen, sayZone } from '@convite/core';
import { BoardApi } from '../api/board';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { LetterList, type LetterAnswer } from '../ui/letter-list';
import { SharedClock } from '../ui/shared-clock';
import { Cell, type Column } from '../ui/table/column';
import { Filter, type FilterChoice } from '../ui/table/filter';
import { rowSource } from '../ui/table/row-source';
import { nobodyPicked, Table, type FileLink, type Picked } from '../ui/table/table';
import { Confirm } from '../ui/confirm';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { CurrentEvent } from './current-event';
import { InvitePanel } from './invite-panel';
import { OwnTimes } from './own-times';
import { Proposals } from './proposals';
import type { Slice } from './guest-slices';
import { SetAside } from './set-aside';
import { WriteToGuests } from './write-to-guests';
import { presenceWords, replyWords } from './reply-words';
import { Waitlist } from './waitlist';
import { typed } from '../ui/typed';
import { MatButtonToggleModule } from '@angular/material/button-toggle';

/** Who is invited, what they answered, and which version they hold. */
@Component({
  selector: 'cv-guests',
  imports: [
    Cell,
    Filter,
    InvitePanel,
    LetterList,
    MatButtonModule,
    MatButtonToggleModule,
    MatFormFieldModule,
    MatInputModule,
    OwnTimes,
    Proposals,
    SetAside,
    Table,
    Waitlist,
    When,
    WriteToGuests,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './guests.html',
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
  private readonly confirm = inject(Confirm);
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  private readonly clock = inject(SharedClock);
  protected readonly words = replyWords;
  protected readonly presences = presenceWords;
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
  protected readonly sort = signal<Sort>({ active: '', direction: '' });
  protected readonly picked = signal<Picked>(nobodyPicked);
  /** Guests who were picked to be invited. */
  protected readonly inviting = signal<readonly number[]>([]);
  protected readonly files = computed((): FileLink[] => {
    if (!this.session.canMarket()) return [];
    const query = new URLSearchParams({
      search: this.search(),
      occurrence: this.date(),
      filter: this.filter(),
      sort: sortOf(this.sort()),
    }).toString();
    return tableFormats.map((format) => ({
      name: format === 'csv' ? 'CSV' : 'Workbook (.xlsx)',
      url: `/api/events/${this.current.id()}/guests.${format}?${query}`,
    }));
  });
  protected readonly isInviting = signal(false);
  /** Key of the date whose answers are shown; empty for the whole series. */
  protected readonly date = signal(this.route.snapshot.queryParamMap.get('date') ?? '');
  protected readonly isGivingTimes = signal(false);
  /** Who has a time of their own is a guest, and can be invited. */
  protected timesGiven(): void {
    this.guests.reload();
    this.current.resource.reload();
  }
  protected readonly guests = rowSource(
    () =>
      this.current.id()
        ? {
            id: this.current.id(),
            search: this.search(),
            occurrence: this.date(),
            filter: this.filter(),
            sort: sortOf(this.sort()),
          }
        : undefined,
    ({ id, ...query }, after) =>
      this.api
        .guests(id, { ...query, after: String(after ?? '') })
        .pipe(map((page) => ({ ...page, rows: page.rows.map((guest) => ({ ...guest, id: guest.person.id })) }))),
    ({ id, occurrence }) => [id, occurrence],
  );
  protected readonly columns = computed((): Column[] => [
    { key: 'guest', label: 'Guest', onCard: 'title' },
    { key: 'address', label: 'Address' },
    { key: 'by', label: 'By' },
    { key: 'answer', label: 'Answer', onCard: 'fact', sort: 'asc' },
    { key: 'answered', label: 'Answered', onCard: 'fact', sort: 'desc' },
    ...(this.current.detail()?.facts.isPersonal ? [{ key: 'own', label: 'Own time' }] : []),
    ...(this.canMark() ? [{ key: 'came', label: 'Came', onCard: 'fact' } as const] : []),
    { key: 'holds', label: 'Holds version', isNumber: true, sort: 'desc' },
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
  private readonly lettersResource = rxResource({
    params: () => this.current.id() || undefined,
    stream: ({ params }) => this.api.letters(params),
  });
  protected readonly letters = computed(() =>
    this.lettersResource.hasValue() ? (this.lettersResource.value() ?? []) : [],
  );
  protected readonly page = this.guests.first;
  protected readonly version = computed(() => this.page()?.version ?? 0);
  /** Of all who are invited to the whole, where nobody in particular is looked for. */
  protected readonly total = computed(() => {
    const counts = this.page()?.counts;
    return counts && !this.search() && !this.date() && this.filter() === 'all'
      ? Object.values(counts).reduce((sum, n) => sum + n, 0)
      : null;
  });

  constructor() {
    reloadOn(
      () => this.current.topics(),
      () => {
        this.guests.reload();
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
  private selection(): GuestSelection {
    const picked = this.picked();
    return picked.kind === 'all'
      ? { kind: 'all', occurrence: this.date(), search: this.search(), filter: this.filter() }
      : { kind: 'some', ids: [...picked.ids].map(Number) };
  }
  protected removePicked(): void {
    const selection = this.selection();
    const count = selection.kind === 'all' ? (this.total() ?? 0) : selection.ids.length;
    this.confirm
      .ask({
        title: count === 1 ? 'Remove this guest?' : `Remove ${sayNumber(count)} guests?`,
        text: 'They are out of everything not yet sent. Whoever holds an entry is told, and their calendar takes it out.',
        yes: 'Remove',
      })
      .subscribe(() =>
        this.api.removeGuests(this.current.id(), selection).subscribe({
          next: ({ id, removed, told }) => {
            this.picked.set(nobodyPicked);
            this.guests.reload();
            const whom = told === 1 ? 'One is' : `${sayNumber(told)} are`;
            const telling = told ? ` ${whom} told in a moment.` : '';
            this.toast.offerUndo(`${sayNumber(removed)} removed.${telling}`, () => this.putBack(id));
          },
          error: (error: unknown) => this.toast.fail(error),
        }),
      );
  }
  private putBack(removalId: number): void {
    this.api.putGuestsBack(this.current.id(), removalId).subscribe({
      next: () => {
        this.toast.say('They are back, as they were.');
        this.guests.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected readonly writing = signal<{ readonly slice: Slice; readonly picked: readonly number[] } | null>(null);
  protected write(slice: Slice, picked: readonly number[] = []): void {
    this.writing.set({ slice, picked });
  }
  /** Those of a search are known to the server alone: they get the draft of a cue. */
  protected writeToPicked(): void {
    const selection = this.selection();
    if (selection.kind === 'some') return this.write('picked', selection.ids);
    const slice = sliceOf[this.filter()];
    if (slice && !this.search()) return this.write(slice);
    this.api.prepareReminder(this.current.id(), this.selection()).subscribe({
      next: ({ cueId }) =>
        void this.router.navigate(['../countdown'], { relativeTo: this.route, queryParams: { cue: cueId } }),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected invitePicked(): void {
    const selection = this.selection();
    if (selection.kind !== 'some') return;
    this.inviting.set(selection.ids);
    this.isInviting.set(true);
  }
  protected answer({ letter, text, key }: LetterAnswer): void {
    this.board.answerLetter(letter.id, text, key).subscribe({
      next: () => {
        this.toast.say('Your answer is on its way.');
        this.lettersResource.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected settle({ id, isOpen }: LetterRow): void {
    this.board.settleLetter(id, !isOpen).subscribe({
      next: () => this.lettersResource.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected invited(): void {
    this.isInviting.set(false);
    this.inviting.set([]);
    this.current.resource.reload();
    this.guests.reload();
  }
}

const sliceOf: Partial<Record<GuestFilter, Slice>> = {
  all: 'everybody',
  accepted: 'coming',
  tentative: 'perhaps',
  declined: 'declined',
  'needs-action': 'silent',
};

/** A column's key is how the order by it is asked for; without one it is the order in which they joined. */
const sortOf = ({ active, direction }: Sort): GuestQuery['sort'] =>
  (direction && guestSorts.find((sort) => sort === active)) || 'joined';
