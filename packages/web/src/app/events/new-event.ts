import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { map, of, switchMap, tap, type Observable } from 'rxjs';
import { addDays, blankFacts, isSame, wallTimeAt, type EventFacts } from '@convite/core';
import { eventFacts, eventReach, type EventReach, type LocatedProblem } from '@convite/contract';
import * as z from 'zod';
import { problemsOf, sayError } from '../refused';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { FormBar } from '../ui/form/form-bar';
import { Section } from '../ui/form/section';
import { keepTyped } from '../ui/form/unsaved';
import { SharedClock } from '../ui/shared-clock';
import { Toast } from '../ui/toast';
import { EventForm } from './event-form';
import { PeopleToInvite } from './people-to-invite';
import { ReachChoice } from './reach-choice';

const kept = z.object({
  facts: eventFacts,
  reach: eventReach,
  lists: z.array(z.number()),
  segments: z.array(z.number()).default([]),
  pasted: z.string(),
  how: z.string(),
  isMore: z.boolean(),
});

/** What, when, where and who: everything else has a sensible beginning and waits. */
@Component({
  selector: 'cv-new-event',
  imports: [EventForm, FormBar, MatButtonModule, PeopleToInvite, ReachChoice, Section],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>New event</h1>
        <span class="quiet">It begins as a draft: nobody hears of it before you send.</span>
      </div>
      <div class="sheet">
        <cv-event-form
          [facts]="initial()"
          [topics]="topics()"
          [isShort]="!isMore()"
          [serverProblems]="serverProblems()"
          (factsChange)="facts.set($event)"
        />
        <cv-section heading="Who" about="Can wait; you find it again under Guests.">
          <div>
            <cv-people-to-invite [(chosen)]="lists" [(segments)]="segments" [(pasted)]="pasted" [(how)]="how" />
          </div>
        </cv-section>
        @if (isMore()) {
          <cv-section heading="Seen by">
            <div><cv-reach-choice [reach]="reach()" (chosen)="reach.set($event)" /></div>
          </cv-section>
        } @else {
          <p class="more">
            <button matButton (click)="isMore.set(true)">
              More: description, topics, repeats, registration, who may see it
            </button>
          </p>
        }
      </div>
      <cv-form-bar
        [save]="hasPeople() ? 'Go on to sending' : 'Make the draft'"
        [discard]="isChanged() ? 'Begin anew' : ''"
        [problem]="problem()"
        [isBusy]="isBusy()"
        (saved)="create()"
        (discarded)="begin()"
        ><span class="quiet small">{{
          hasPeople()
            ? 'Makes the draft; next you see who gets what, tested, before anything is sent.'
            : 'Makes the draft. People can be added later.'
        }}</span></cv-form-bar
      >
    </main>
  `,
  styles: `
    .more {
      margin: 16px 0 0;
    }
  `,
})
export class NewEvent {
  private readonly api = inject(EventsApi);
  private readonly router = inject(Router);
  private readonly toast = inject(Toast);
  private readonly settingsApi = inject(SettingsApi);
  private readonly settings = rxResource({ stream: () => this.settingsApi.get() });
  private readonly form = viewChild.required(EventForm);
  private readonly blank = emptyFacts(inject(Session).zone(), inject(SharedClock).nowMs());
  protected readonly initial = signal<EventFacts>(this.blank);
  protected readonly facts = signal<EventFacts>(this.blank);
  protected readonly topics = computed(() => (this.settings.hasValue() ? this.settings.value().topics : []));
  /** Nobody is shown an event because nobody was asked. */
  protected readonly reach = signal<EventReach>('invited');
  protected readonly lists = signal<readonly number[]>([]);
  protected readonly segments = signal<readonly number[]>([]);
  protected readonly pasted = signal('');
  protected readonly how = signal('');
  protected readonly isMore = signal(false);
  protected readonly problem = signal('');
  protected readonly serverProblems = signal<readonly LocatedProblem[]>([]);
  protected readonly isBusy = signal(false);
  protected readonly hasPeople = computed(
    () => this.lists().length + this.segments().length > 0 || this.pasted().trim() !== '',
  );
  private readonly typed = computed(() => ({
    facts: this.facts(),
    reach: this.reach(),
    lists: [...this.lists()],
    segments: [...this.segments()],
    pasted: this.pasted(),
    how: this.how(),
    isMore: this.isMore(),
  }));
  protected readonly isChanged = computed(
    () => !this.isDone() && (this.hasPeople() || !isSame(this.facts(), this.blank)),
  );
  private readonly isDone = signal(false);
  /** The draft, where it was made and its people could not be taken. */
  private made: number | null = null;

  constructor() {
    keepTyped({
      key: () => 'new-event',
      value: this.typed,
      isChanged: this.isChanged,
      read: (text) => kept.safeParse(text).data ?? null,
      restore: (before) => {
        this.initial.set(before.facts);
        this.reach.set(before.reach);
        this.lists.set(before.lists);
        this.segments.set(before.segments);
        this.pasted.set(before.pasted);
        this.how.set(before.how);
        this.isMore.set(before.isMore);
      },
    });
  }

  protected begin(): void {
    this.initial.set({ ...this.blank });
    this.reach.set('invited');
    this.lists.set([]);
    this.segments.set([]);
    this.pasted.set('');
    this.how.set('');
    this.problem.set('');
    this.serverProblems.set([]);
  }

  protected create(): void {
    if (!this.form().ready()) return;
    if (this.pasted().trim() && !this.how().trim())
      return this.problem.set('Say how those whom you pasted agreed to hear from you.');
    this.isBusy.set(true);
    const draft: Observable<number> =
      this.made === null ? this.api.create(this.facts(), this.reach()).pipe(map(({ id }) => id)) : of(this.made);
    draft
      .pipe(
        switchMap((id) => {
          this.made = id;
          return this.takePeople(id).pipe(map(() => id));
        }),
      )
      .subscribe({
        next: (id) => {
          this.isDone.set(true);
          void this.router.navigate(['/events', id, this.hasPeople() ? 'guests' : 'details']);
        },
        error: (error: unknown) => {
          this.isBusy.set(false);
          this.problem.set(sayError(error));
          this.serverProblems.set(problemsOf(error));
        },
      });
  }
  private takePeople(id: number): Observable<unknown> {
    const chosen =
      this.lists().length + this.segments().length
        ? this.api.chooseToInvite(id, this.lists(), this.segments())
        : of(null);
    if (!this.pasted().trim()) return chosen;
    return chosen.pipe(
      switchMap(() => this.api.pasteToInvite(id, this.pasted(), this.how().trim())),
      tap(({ problems }) => {
        if (problems.length)
          this.toast.say(
            `${problems.length} ${problems.length === 1 ? 'line was' : 'lines were'} no address, and left out.`,
          );
      }),
    );
  }
}

/** Two weeks ahead at half past seven: a start to change, not an empty box. */
function emptyFacts(zone: string, nowMs: number): EventFacts {
  const day = addDays(wallTimeAt(nowMs, zone).slice(0, 10), 14);
  return {
    ...blankFacts,
    zone,
    span: { kind: 'timed', start: `${day}T19:30`, end: `${day}T21:30` },
  };
}
