import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  viewChild,
  untracked,
} from '@angular/core';
import { sayNumber } from '../ui/say';
import { rxResource } from '@angular/core/rxjs-interop';
import { map } from 'rxjs';
import { Router, RouterLink } from '@angular/router';
import {
  blankFacts,
  checkEvent,
  differencesBetween,
  findOccurrence,
  matters,
  factsParts,
  mergeParts,
  splitSeries,
  type EventFacts,
  type FactsPart,
  type Scope,
} from '@convite/core';
import {
  eventFacts,
  scope as scopeShape,
  type EventDetail,
  type EventReach,
  type LocatedProblem,
  type SavedEvent,
} from '@convite/contract';
import * as z from 'zod';
import { problemsOf, sayError } from '../refused';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { reading } from '../api/reading';
import { SendersApi } from '../api/senders';
import { SettingsApi } from '../api/settings';
import { SenderChoice } from '../ui/sender-choice';
import { Conflict } from '../ui/form/conflict';
import { FormBar } from '../ui/form/form-bar';
import { keepTyped } from '../ui/form/unsaved';
import { SharedClock } from '../ui/shared-clock';
import { Toast } from '../ui/toast';
import { CurrentEvent } from './current-event';
import { Dates } from './dates';
import { Differences } from './differences';
import { EventForm } from './event-form';
import { ReachChoice } from './reach-choice';
import { ScopeChoice } from './scope-choice';

/** The facts; beside them what saving would change, for which dates, and for whom that matters. */
@Component({
  selector: 'cv-details',
  imports: [Conflict, Dates, Differences, EventForm, FormBar, ReachChoice, SenderChoice, RouterLink, ScopeChoice],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './details.html',
})
export class Details {
  protected readonly current = inject(CurrentEvent);
  protected readonly clock = inject(SharedClock);
  protected readonly session = inject(Session);
  private readonly api = inject(EventsApi);
  private readonly toast = inject(Toast);
  private readonly router = inject(Router);
  private readonly settingsApi = inject(SettingsApi);
  private readonly sendersApi = inject(SendersApi);
  private readonly settings = rxResource({ stream: () => this.settingsApi.get() });
  protected readonly topics = computed(() => (this.settings.hasValue() ? this.settings.value().topics : []));
  private readonly datesResource = rxResource({
    params: () => (this.current.detail()?.facts.series ? this.current.id() : undefined),
    stream: ({ params }) => this.api.dates(params),
  });
  protected readonly dates = computed(() => (this.datesResource.hasValue() ? (this.datesResource.value() ?? []) : []));

  /** What is being edited, of which dates. Replies reload the event all the time: what is being typed must outlive that. */
  private readonly form = viewChild(EventForm);
  protected readonly base = signal<Base>({ facts: blankFacts, version: 0, scope: { kind: 'all' } });
  /** What the form begins with: the same, or what was typed before a reload. */
  protected readonly shown = signal<EventFacts>(blankFacts);
  protected readonly typed = signal<EventFacts | null>(null);
  protected readonly isBusy = signal(false);
  protected readonly serverProblems = signal<readonly LocatedProblem[]>([]);
  protected readonly problem = signal('');

  private readonly hasDateProblem = computed(() =>
    checkEvent(this.typed() ?? blankFacts).some(
      ({ path }) => path.startsWith('span') || path === 'zone' || path === 'endZone',
    ),
  );
  protected readonly differences = computed(() => {
    const { facts, version } = this.base();
    const typed = this.typed();
    if (!typed || version === 0 || this.hasDateProblem()) return [];
    const shared = { number: version, sequence: 0, calledOff: false };
    return differencesBetween({ ...shared, facts }, { ...shared, facts: typed });
  });
  protected readonly isEdited = computed(
    () => this.typed() !== null && this.base().version > 0 && (this.hasDateProblem() || this.differences().length > 0),
  );
  protected readonly isMaterial = computed(() => matters(this.differences()));
  protected readonly isLocked = computed(
    () => !this.session.canMarket() || this.current.detail()?.status === 'called-off',
  );
  protected readonly saveLabel = computed(() => {
    const version = (this.current.detail()?.version ?? 0) + 1;
    const words = { all: `Save version ${version}`, one: 'Save this date', following: 'Save this and following' };
    return words[this.base().scope.kind];
  });

  /** What saving does, and to whom. */
  protected readonly effect = computed(() => {
    if (!this.isMaterial()) return 'Time and place stay: calendars need no update.';
    const invited = this.current.detail()?.invited ?? 0;
    const whom = invited ? ` (${invited === 1 ? 'one person' : `${sayNumber(invited)} people`})` : '';
    return `Time or place changes: everybody who was invited must hear${whom}. After saving, send the notice from Changes. Unfired cues move along.`;
  });
  /** Somebody saved while this was being typed. */
  private readonly newer = computed(() => {
    const event = this.current.detail();
    const { version, scope } = this.base();
    return event && version > 0 && event.version !== version && this.isEdited()
      ? { id: event.id, version: event.version, theirs: factsOf(event.facts, scope) ?? event.facts }
      : null;
  });
  private readonly savedBy = rxResource({
    params: () => {
      const newer = this.newer();
      return newer ? { id: newer.id, version: newer.version } : undefined;
    },
    stream: ({ params }) =>
      this.api
        .changes(params.id)
        .pipe(map(({ versions }) => versions.find(({ number }) => number === params.version)?.by ?? '')),
  });
  protected readonly conflict = computed(() => {
    const newer = this.newer();
    const typed = this.typed();
    if (!newer || !typed) return null;
    const { facts } = this.base();
    const same = { number: 1, sequence: 0, calledOff: false };
    return {
      by: this.savedBy.hasValue() ? (this.savedBy.value() ?? '') : '',
      theirs: differencesBetween({ ...same, facts }, { ...same, facts: newer.theirs }),
      ...mergeParts(factsParts, { base: facts, mine: typed, theirs: newer.theirs }),
    };
  });

  constructor() {
    keepTyped({
      key: () => (this.base().version > 0 ? `event.${this.current.id()}` : ''),
      value: computed(() => ({ facts: this.typed() ?? blankFacts, base: this.base() })),
      isChanged: this.isEdited,
      read: (text) => kept.safeParse(text).data ?? null,
      restore: ({ facts, base }) => {
        this.base.set(base);
        this.shown.set(facts);
      },
    });
    effect(() => {
      const event = this.current.detail();
      if (event && (untracked(this.base).version === 0 || !untracked(this.isEdited))) this.take(event);
    });
    reloadOn(
      () => [this.current.topic()],
      () => this.datesResource.reload(),
    );
  }

  protected choose(scope: Scope): void {
    const event = this.current.detail();
    if (event) this.open(event, scope);
  }
  protected readonly senders = reading(() => this.sendersApi.list(), []);
  protected setSender({ id }: EventDetail, senderId: number | null): void {
    this.api.setSender(id, senderId).subscribe({
      next: () => this.current.resource.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected setReach({ id }: EventDetail, reach: EventReach): void {
    this.api.setReach(id, reach).subscribe({
      next: () => this.current.resource.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected save(): void {
    if (!this.form()?.ready()) return;
    const event = this.current.detail();
    const typed = this.typed();
    const { version, scope } = this.base();
    if (!event || !typed) return;
    this.isBusy.set(true);
    this.api.save(event.id, typed, version, scope).subscribe({
      next: (saved) => this.saved(saved),
      error: (error: unknown) => {
        this.isBusy.set(false);
        // Somebody may have saved meanwhile: then both are shown.
        this.current.resource.reload();
        this.problem.set(sayError(error));
        this.serverProblems.set(problemsOf(error));
      },
    });
  }
  protected undo(): void {
    const event = this.current.detail();
    if (event) this.open(event, this.base().scope);
  }
  /** Mine on top of what they saved; what I did not touch is theirs. */
  protected putOnTop(): void {
    const [event, conflict] = [this.current.detail(), this.conflict()];
    if (!event || !conflict) return;
    const { scope } = this.base();
    this.base.set({ facts: { ...(factsOf(event.facts, scope) ?? event.facts) }, version: event.version, scope });
    this.shown.set({ ...conflict.merged });
    this.problem.set('');
    this.serverProblems.set([]);
  }
  protected sayClash = (clashes: readonly FactsPart[]): string =>
    clashes.length
      ? `Both changed: ${clashes.map((part) => partNames[part]).join(', ')}. With yours on top, yours stands there.`
      : '';
  protected reload(): void {
    this.current.resource.reload();
    this.datesResource.reload();
  }

  private saved({ event, followingId }: SavedEvent): void {
    this.isBusy.set(false);
    this.open(event, { kind: 'all' });
    this.current.resource.set(event);
    this.datesResource.reload();
    if (followingId === null || followingId === event.id) this.toast.say(`Version ${event.version} is saved.`);
    else {
      this.toast.say('The dates from there on are a series of their own. Tell people from Changes, of both.');
      void this.router.navigate(['/events', followingId, 'details']);
    }
  }

  /** Takes a newer version over, unless what is being edited is gone from it. */
  private take(event: EventDetail): void {
    const { scope, version } = this.base();
    if (version !== event.version || untracked(this.isEdited)) this.open(event, scope);
    this.problem.set('');
    this.serverProblems.set([]);
  }
  private open({ facts, version }: EventDetail, scope: Scope): void {
    const shown = factsOf(facts, scope);
    this.base.set({ facts: { ...(shown ?? facts) }, version, scope: shown ? scope : { kind: 'all' } });
    this.shown.set(this.base().facts);
    this.problem.set('');
    this.serverProblems.set([]);
  }
}

const partNames: Readonly<Record<FactsPart, string>> = {
  title: 'the title',
  when: 'when it is',
  venue: 'the venue',
  joinLink: 'the join link',
  description: 'the description',
  topics: 'the topics',
  entry: 'the calendar entry',
  registration: 'registration',
};

const kept = z.object({
  facts: eventFacts,
  base: z.object({ facts: eventFacts, version: z.number(), scope: scopeShape }),
});

interface Base {
  readonly facts: EventFacts;
  readonly version: number;
  readonly scope: Scope;
}

/** The facts that an edit of that scope begins with; null when the series has no such date any more. */
function factsOf(facts: EventFacts, scope: Scope): EventFacts | null {
  if (scope.kind === 'all') return facts;
  const occurrence = findOccurrence(facts, scope.key);
  if (!occurrence) return null;
  return scope.kind === 'one' ? occurrence.facts : (splitSeries(facts, occurrence)?.after ?? facts);
}
