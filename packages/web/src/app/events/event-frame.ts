import { ChangeDetectionStrategy, Component, computed, effect, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { sayRepeats } from '@convite/core';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { Confirm } from '../ui/confirm';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { CurrentEvent } from './current-event';
import { reachSentences, reachWords } from './reach-choice';

const sections = ['details', 'guests', 'invitation', 'countdown', 'changes'] as const;

/** One event: its title and time, and its sections in the order in which the work is done. */
@Component({
  selector: 'cv-event-frame',
  imports: [MatButtonModule, RouterLink, RouterLinkActive, RouterOutlet, When],
  providers: [CurrentEvent],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      @if (current.detail(); as event) {
        <div class="head">
          <h1 class="rtl-safe">{{ event.facts.title }}</h1>
          <span
            ><cv-when [at]="event.startAt" [zone]="event.facts.zone" [dayOnly]="event.facts.span.kind === 'all-day'"
          /></span>
          @if (repeats()) {
            <span class="quiet">{{ repeats() }}</span>
          }
          @switch (event.status) {
            @case ('draft') {
              <span class="quiet">draft</span>
            }
            @case ('called-off') {
              <span class="alarm"><strong>called off</strong></span>
            }
            @default {
              @if (event.pageUrl) {
                <a [href]="event.pageUrl" target="_blank" rel="noopener">event page</a>
              }
              <span class="quiet">{{ reachWords[event.reach] }}</span>
            }
          }
          @if (event.status === 'draft' && session.canMarket()) {
            <button matButton="filled" class="push" (click)="publish()">Publish</button>
          }
        </div>
        <nav aria-label="Sections of the event">
          @for (section of sections; track section) {
            <a [routerLink]="section" routerLinkActive="here" ariaCurrentWhenActive="page">{{ section }}</a>
          }
        </nav>
        <router-outlet />
      } @else if (current.resource.error()) {
        <h1>There is no such event</h1>
        <p><a routerLink="/events">Go to the events</a></p>
      } @else {
        <p class="quiet" role="status">Reading the event …</p>
      }
    </main>
  `,
  styles: `
    nav {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 4px;
      border-bottom: 1px solid var(--line);
      margin-bottom: 20px;
    }
    nav a {
      padding: 7px 14px;
      color: var(--ink);
      text-decoration: none;
      border-bottom: 3px solid transparent;
      text-transform: capitalize;
      font-weight: 500;
    }
    nav a.here {
      border-color: var(--lead);
      color: var(--lead);
      font-weight: 650;
    }
    h1 {
      max-width: 800px;
      overflow-wrap: anywhere;
    }
    .head {
      margin-bottom: 10px;
    }
  `,
})
export class EventFrame {
  protected readonly current = inject(CurrentEvent);
  protected readonly session = inject(Session);
  private readonly api = inject(EventsApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  readonly id = input.required<string>();
  protected readonly sections = sections;
  protected readonly reachWords = reachWords;
  private readonly numericId = computed(() => Number(this.id()) || 0);

  protected readonly repeats = computed(() => {
    const event = this.current.detail();
    return event ? sayRepeats(event.facts) : '';
  });

  constructor() {
    effect(() => this.current.id.set(this.numericId()));
  }

  protected publish(): void {
    const question = {
      title: 'Publish this event?',
      text: `${reachSentences[this.current.detail()?.reach ?? 'invited']} Cues that are ready are set, and invitations can be sent.`,
      yes: 'Publish',
    };
    this.confirm.ask(question).subscribe(() => {
      this.confirm
        .sendAsking(({ isSure }) => this.api.publish(this.numericId(), isSure), '')
        .subscribe({ next: () => this.current.resource.reload(), error: (error: unknown) => this.toast.fail(error) });
    });
  }
}
