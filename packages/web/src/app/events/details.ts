import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { checkEvent, differencesBetween, matters, type EventFacts } from '@convite/core';
import type { EventDetail, LocatedProblem } from '@convite/contract';
import { problemsOf, sayError } from '../refused';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { Toast } from '../ui/toast';
import { CurrentEvent } from './current-event';
import { Differences } from './differences';
import { EventForm } from './event-form';

/** The facts; beside them what saving would change, and for whom that matters. */
@Component({
  selector: 'cv-details',
  imports: [Differences, EventForm, MatButtonModule, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (current.detail(); as event) {
      <div class="columns">
        <div class="sheet">
          <cv-event-form
            [facts]="base().facts"
            [topics]="topics()"
            [serverProblems]="serverProblems()"
            [disabled]="isLocked()"
            (factsChange)="typed.set($event)"
          />
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
                <button matButton="filled" (click)="save()" [disabled]="hasProblems()">
                  Save version {{ event.version + 1 }}</button
                ><button matButton (click)="undo()">Undo</button>
              </div>
            </div>
          } @else {
            <div class="sheet">
              <h2>Version {{ event.version }}</h2>
              <p class="quiet">Saved. Change a field to see what a new version would say.</p>
              <a routerLink="../changes">All versions</a>
            </div>
          }
          <div class="sheet small">
            <h3>For calendars</h3>
            <dl class="facts">
              <dt>UID</dt>
              <dd class="mono">{{ event.uid }}</dd>
              <dt>Sequence</dt>
              <dd>{{ event.sequence }}</dd>
            </dl>
          </div>
        </aside>
      </div>
    }
  `,
})
export class Details {
  protected readonly current = inject(CurrentEvent);
  private readonly session = inject(Session);
  private readonly api = inject(EventsApi);
  private readonly toast = inject(Toast);
  private readonly settingsApi = inject(SettingsApi);
  private readonly settings = rxResource({ stream: () => this.settingsApi.get() });
  protected readonly topics = computed(() => (this.settings.hasValue() ? this.settings.value().topics : []));

  /** The version being edited. Replies reload the event all the time: what is being typed must outlive that. */
  protected readonly base = signal<{ readonly facts: EventFacts; readonly version: number }>({
    facts: blank,
    version: 0,
  });
  protected readonly typed = signal<EventFacts | null>(null);
  protected readonly serverProblems = signal<readonly LocatedProblem[]>([]);
  protected readonly problem = signal('');

  private readonly hasDateProblem = computed(() =>
    checkEvent(this.typed() ?? blank).some(({ path }) => path.startsWith('span') || path === 'zone'),
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
  protected readonly hasProblems = computed(() => checkEvent(this.typed() ?? blank).length > 0);
  protected readonly isLocked = computed(
    () => !this.session.canMarket() || this.current.detail()?.status === 'called-off',
  );

  constructor() {
    effect(() => {
      const event = this.current.detail();
      if (event && (untracked(this.base).version === 0 || !untracked(this.isEdited))) this.take(event);
    });
  }

  protected save(): void {
    const event = this.current.detail();
    const typed = this.typed();
    if (!event || !typed) return;
    this.api.save(event.id, typed, this.base().version).subscribe({
      next: (saved) => {
        this.take(saved);
        this.current.resource.set(saved);
        this.toast.say(`Version ${saved.version} is saved.`);
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.serverProblems.set(problemsOf(error));
      },
    });
  }
  protected undo(): void {
    const event = this.current.detail();
    if (event) this.take(event);
  }

  private take({ facts, version }: EventDetail): void {
    if (this.base().version !== version || untracked(this.isEdited)) this.base.set({ facts: { ...facts }, version });
    this.problem.set('');
    this.serverProblems.set([]);
  }
}

const blank: EventFacts = {
  title: '',
  description: '',
  zone: 'UTC',
  span: { kind: 'timed', start: '', end: '' },
  venue: '',
  joinLink: '',
  topics: [],
};
