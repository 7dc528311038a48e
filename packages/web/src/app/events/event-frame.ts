import { ChangeDetectionStrategy, Component, computed, effect, inject, input, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import { Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { sayRepeats } from '@convite/core';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { Confirm } from '../ui/confirm';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { CurrentEvent } from './current-event';
import { Readiness, type Unfinished } from './readiness';
import { reachSentences, reachWords } from './reach-choice';

const sections = ['details', 'guests', 'invitation', 'countdown', 'changes'] as const;

/** One event: its title and time, and its sections in the order in which the work is done. */
@Component({
  selector: 'cv-event-frame',
  imports: [MatButtonModule, MatMenuModule, Readiness, RouterLink, RouterLinkActive, RouterOutlet, When],
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
          @if (session.canMarket()) {
            <span class="row push">
              <button matButton [matMenuTriggerFor]="menu">
                {{ event.status === 'draft' ? 'Copy or delete' : 'Copy' }}
              </button>
              <mat-menu #menu="matMenu">
                <button mat-menu-item (click)="copy(true)">Copy it with its countdown</button>
                <button mat-menu-item (click)="copy(false)">Copy it alone</button>
                @if (event.status === 'draft') {
                  <button mat-menu-item (click)="remove()">Delete the draft</button>
                }
              </mat-menu>
              @if (event.status === 'draft') {
                <button matButton="outlined" (click)="publish(ready()?.unfinished() ?? [])">Publish</button>
              }
            </span>
          }
        </div>
        <nav aria-label="Sections of the event">
          @for (section of sections; track section) {
            <a [routerLink]="section" routerLinkActive="here" ariaCurrentWhenActive="page">{{ section }}</a>
          }
        </nav>
        <cv-readiness />
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
  private readonly router = inject(Router);
  readonly id = input.required<string>();
  protected readonly ready = viewChild(Readiness);
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

  protected copy(withCountdown: boolean): void {
    this.api.copy(this.numericId(), withCountdown).subscribe({
      next: ({ id }) => {
        this.toast.say('A draft with the same facts. Say when it is.');
        void this.router.navigate(['/events', id, 'details']);
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected remove(): void {
    const title = this.current.detail()?.facts.title ?? '';
    this.confirm
      .ask({ title: 'Delete this draft?', text: `${title}, with its cues. Nobody has heard of it.`, yes: 'Delete it' })
      .subscribe(() =>
        this.api.deleteDraft(this.numericId()).subscribe({
          next: () => {
            this.toast.say(`The draft “${title}” is deleted.`);
            void this.router.navigate(['/events']);
          },
          error: (error: unknown) => this.toast.fail(error),
        }),
      );
  }
  protected publish(unfinished: readonly Unfinished[]): void {
    const rest = unfinished.length
      ? `\n\nNot finished yet:\n${unfinished.map(({ words }) => `– ${words}`).join('\n')}`
      : '';
    const question = {
      title: 'Publish this event?',
      text: `${reachSentences[this.current.detail()?.reach ?? 'invited']} Cues that are ready are set, and invitations can be sent.${rest}`,
      yes: 'Publish',
    };
    this.confirm.ask(question).subscribe(() => {
      this.confirm
        .sendAsking(({ isSure }) => this.api.publish(this.numericId(), isSure), '')
        .subscribe({ next: () => this.current.resource.reload(), error: (error: unknown) => this.toast.fail(error) });
    });
  }
}
