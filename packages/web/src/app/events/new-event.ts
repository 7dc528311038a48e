import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { addDays, blankFacts, wallTimeAt, type EventFacts } from '@convite/core';
import type { EventReach, LocatedProblem } from '@convite/contract';
import { problemsOf, sayError } from '../refused';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { SharedClock } from '../ui/shared-clock';
import { EventForm } from './event-form';
import { ReachChoice } from './reach-choice';

@Component({
  selector: 'cv-new-event',
  imports: [EventForm, MatButtonModule, ReachChoice],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>New event</h1>
        <span class="quiet">It begins as a draft: nobody hears of it before you publish it.</span>
      </div>
      <div class="sheet">
        <cv-event-form
          #form
          [facts]="initial"
          [topics]="topics()"
          [serverProblems]="serverProblems()"
          (factsChange)="facts.set($event)"
        />
        <div class="reach"><cv-reach-choice [reach]="reach()" (chosen)="reach.set($event)" /></div>
        @if (problem()) {
          <p class="note alarm" role="alert">{{ problem() }}</p>
        }
        <button matButton="filled" (click)="form.ready() && create()" [disabled]="reach() === null">
          Make the draft
        </button>
        @if (reach() === null) {
          <span class="quiet small">Choose who may see it.</span>
        }
      </div>
    </main>
  `,
  styles: `
    .reach {
      margin: 4px 0 16px;
    }
  `,
})
export class NewEvent {
  private readonly api = inject(EventsApi);
  private readonly router = inject(Router);
  private readonly settingsApi = inject(SettingsApi);
  private readonly settings = rxResource({ stream: () => this.settingsApi.get() });
  private readonly zone = inject(Session).me()?.organisation.zone ?? 'UTC';
  protected readonly initial = emptyFacts(this.zone, inject(SharedClock).nowMs());
  protected readonly facts = signal<EventFacts>(this.initial);
  protected readonly topics = computed(() => (this.settings.hasValue() ? this.settings.value().topics : []));
  /** Nobody is shown an event because nobody was asked. */
  protected readonly reach = signal<EventReach | null>(null);
  protected readonly problem = signal('');
  protected readonly serverProblems = signal<readonly LocatedProblem[]>([]);

  protected create(): void {
    const reach = this.reach();
    if (reach === null) return;
    this.api.create(this.facts(), reach).subscribe({
      next: ({ id }) => void this.router.navigate(['/events', id]),
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.serverProblems.set(problemsOf(error));
      },
    });
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
