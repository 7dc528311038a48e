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
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import {
  blankFacts,
  checkEvent,
  differencesBetween,
  findOccurrence,
  matters,
  splitSeries,
  type EventFacts,
  type Scope,
} from '@convite/core';
import type { EventDetail, EventReach, LocatedProblem, SavedEvent } from '@convite/contract';
import { problemsOf, sayError } from '../refused';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
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
  imports: [Dates, Differences, EventForm, MatButtonModule, ReachChoice, RouterLink, ScopeChoice],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (current.detail(); as event) {
      <div class="columns">
        <div class="stack">
          @if (event.facts.series && !isLocked()) {
            <cv-scope-choice
              [scope]="base().scope"
              [dates]="dates()"
              [invited]="event.invited"
              [nowMs]="clock.nowMs()"
              (scopeChange)="choose($event)"
            />
          }
          <div class="sheet">
            <cv-event-form
              [facts]="base().facts"
              [topics]="topics()"
              [serverProblems]="serverProblems()"
              [disabled]="isLocked()"
              [canRepeat]="base().scope.kind !== 'one'"
              (factsChange)="typed.set($event)"
            />
          </div>
          @if (event.facts.series) {
            <cv-dates
              [event]="event"
              [dates]="dates()"
              [nowMs]="clock.nowMs()"
              (edited)="choose({ kind: 'one', key: $event })"
              (changed)="reload()"
            />
          }
        </div>
        <aside class="stack">
          @if (isLocked()) {
            <p class="note">
              {{
                event.status === 'called-off'
                  ? 'This event was called off; its facts stand as they were.'
                  : 'You may look; a marketer may change this.'
              }}
            </p>
          } @else if (differences().length) {
            <div class="sheet stack">
              <h2>Not saved yet</h2>
              <cv-differences [differences]="differences()" />
              <p class="small">
                {{
                  isMaterial()
                    ? 'Time or place changes: everybody who was invited must hear. After saving, send the notice from Changes. Unfired cues move along.'
                    : 'Time and place stay: calendars need no update.'
                }}
              </p>
              @if (problem()) {
                <p class="note alarm" role="alert">{{ problem() }}</p>
              }
              <div class="row">
                <button matButton="filled" (click)="save()">{{ saveLabel() }}</button><button
                  matButton
                  (click)="undo()"
                >
                  Undo
                </button>
              </div>
            </div>
          } @else {
            <div class="sheet">
              <h2>Version {{ event.version }}</h2>
              <p class="quiet">Saved. Change a field to see what a new version would say.</p>
              <a routerLink="../changes">All versions</a>
            </div>
          }
          <div class="sheet">
            <cv-reach-choice
              [reach]="event.reach"
              [disabled]="!session.canMarket()"
              (chosen)="setReach(event, $event)"
            />
          </div>
          <div class="sheet small">
            <h3>For calendars</h3>
            <dl class="facts">
              <dt>UID</dt>
              <dd class="mono">{{ event.uid }}</dd>
              <dt>Sequence</dt>
              <dd>{{ event.sequence }}</dd>
              @if (event.feedUrl) {
                <dt>Feed</dt>
                <dd>
                  <a [href]="event.feedUrl">{{ event.feedUrl }}</a>
                </dd>
              }
            </dl>
          </div>
        </aside>
      </div>
    }
  `,
})
export class Details {
  protected readonly current = inject(CurrentEvent);
  protected readonly clock = inject(SharedClock);
  protected readonly session = inject(Session);
  private readonly api = inject(EventsApi);
  private readonly toast = inject(Toast);
  private readonly router = inject(Router);
  private readonly settingsApi = inject(SettingsApi);
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
  protected readonly typed = signal<EventFacts | null>(null);
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
  private readonly isEdited = computed(
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

  constructor() {
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
    this.api.save(event.id, typed, version, scope).subscribe({
      next: (saved) => this.saved(saved),
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.serverProblems.set(problemsOf(error));
      },
    });
  }
  protected undo(): void {
    const event = this.current.detail();
    if (event) this.open(event, this.base().scope);
  }
  protected reload(): void {
    this.current.resource.reload();
    this.datesResource.reload();
  }

  private saved({ event, followingId }: SavedEvent): void {
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
    this.problem.set('');
    this.serverProblems.set([]);
  }
}

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
