import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { RouterLink } from '@angular/router';
import { forkJoin, map } from 'rxjs';
import type { ClockState, MoveClock } from '@convite/contract';
import { BackstageApi } from '../api/backstage';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { Confirm } from '../ui/confirm';
import { sayInstant } from '../ui/say';
import { SharedClock } from '../ui/shared-clock';
import { StateMark } from '../ui/state-mark';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';
import { When } from '../ui/when';
import { CountdownRail } from './countdown-rail';
import { CueMoves } from './cue-moves';
import { CurrentEvent } from './current-event';

/** So much time passes in one beat, and a beat is a second. */
const speeds = [
  { minutes: 60, says: 'an hour a second' },
  { minutes: 360, says: 'six hours a second' },
  { minutes: 1440, says: 'a day a second' },
] as const;
const beatMs = 1000;
/** It runs until so long after the event. */
const afterMs = 3 * 86_400_000;
const shown = 12;

interface Arrived {
  readonly id: string;
  readonly at: string;
  readonly to: string;
  readonly says: string;
  readonly by: 'email' | 'text';
  /** So many more of the same came with it, of those that are looked at. */
  readonly others: number;
}

/** The countdown played ahead in the demonstration: its clock runs, and what arrives in mailboxes and phones stands beside the rail. */
@Component({
  selector: 'cv-run-through',
  providers: [CueMoves],
  imports: [CountdownRail, MatButtonModule, MatFormFieldModule, MatInputModule, RouterLink, StateMark, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (current.detail(); as event) {
      <div class="row">
        <h2>Run through</h2>
        <strong class="clock" aria-live="off">{{ now() }}</strong>
        <span class="row push">
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><select matNativeControl aria-label="Speed" (change)="pick(typed($event))">
              @for (speed of speeds; track speed.minutes) {
                <option [value]="speed.minutes" [selected]="speed.minutes === minutes()">{{ speed.says }}</option>
              }
            </select></mat-form-field
          >
          @if (isPlaying()) {
            <button matButton="filled" (click)="stop()">Stop</button>
          } @else {
            <button matButton="filled" [disabled]="isBusy()" (click)="play()">Play</button>
          }
          <button matButton="outlined" [disabled]="isPlaying() || isBusy()" (click)="step()">To what is next</button>
          <button matButton [disabled]="isPlaying() || isBusy() || aheadMs() === 0" (click)="back()">
            Back to now
          </button>
        </span>
      </div>
      <p class="quiet small">
        The demonstration’s clock runs ahead: whatever is due on the way goes, of this event and of all others, to the
        invented mailboxes and phones. <a [routerLink]="['/events', event.id, 'countdown']">The countdown</a> ·
        <a routerLink="/backstage">Backstage</a>
      </p>
      <cv-countdown-rail [event]="event" [cues]="rows()" [around]="around()" />
      <div class="columns">
        <section aria-label="Cues" class="sheet stack">
          <h3>Cues</h3>
          @for (cue of rows(); track cue.id) {
            <div class="row">
              <span class="grow"
                ><strong>{{ cue.name }}</strong
                >&ngsp;<span class="quiet small">{{ cue.does || 'by ' + cue.channel }}</span></span
              >
              <span class="small"><cv-when [at]="cue.firing.dueAt" [zone]="event.facts.zone" /></span>
              <cv-state [state]="cue.firing.state" />
            </div>
          } @empty {
            <p class="quiet">This event has no cue yet.</p>
          }
        </section>
        <section aria-label="What arrived" class="sheet stack" aria-live="polite">
          <h3>What arrived</h3>
          @for (one of arrived(); track one.by + one.id) {
            <div class="arrived" [class.text]="one.by === 'text'">
              <strong class="rtl-safe">{{ one.says }}</strong>
              <span class="quiet small"
                >{{ one.to }}{{ one.others ? ' and ' + one.others + ' others' : '' }} · {{ say(one.at) }}</span
              >
            </div>
          } @empty {
            <p class="quiet">Nothing yet. Play it, or step to what is next.</p>
          }
        </section>
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 14px;
    }
    p {
      margin: 0;
    }
    .clock {
      font-variant-numeric: tabular-nums;
    }
    .arrived {
      display: grid;
      border-left: 3px solid var(--lead);
      padding-left: 8px;
      overflow-wrap: anywhere;
    }
    .arrived.text {
      border-left-color: var(--text-channel);
    }
  `,
})
export class RunThrough {
  protected readonly current = inject(CurrentEvent);
  private readonly events = inject(EventsApi);
  private readonly backstage = inject(BackstageApi);
  private readonly clock = inject(SharedClock);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  private readonly zone = inject(Session).zone();
  protected readonly typed = typed;
  protected readonly speeds = speeds;
  protected readonly minutes = signal<number>(speeds[1].minutes);
  protected readonly isPlaying = signal(false);
  protected readonly isBusy = signal(false);
  protected readonly aheadMs = signal(0);
  private timer: ReturnType<typeof setTimeout> | null = null;
  /** What lay there before is not of this run. */
  private readonly begunAt = signal(new Date().toISOString());
  protected readonly now = computed(() => sayInstant(this.clock.nowMs(), this.zone));

  private readonly cues = rxResource({
    params: () => this.current.id() || undefined,
    stream: ({ params }) => this.events.cues(params),
  });
  protected readonly rows = computed(() => (this.cues.hasValue() ? (this.cues.value() ?? []) : []));
  private readonly rail = rxResource({
    params: () => this.current.id() || undefined,
    stream: ({ params }) => this.events.rail(params),
  });
  protected readonly around = computed(() => (this.rail.hasValue() ? (this.rail.value() ?? null) : null));
  private readonly outside = rxResource({
    stream: () => forkJoin([this.backstage.latest(''), this.backstage.phones()]).pipe(map(arrivals)),
  });
  protected readonly arrived = computed(() => {
    const all = this.outside.hasValue() ? this.outside.value() : [];
    return folded(all.filter(({ at }) => at >= this.begunAt())).slice(0, shown);
  });

  constructor() {
    this.backstage.clock().subscribe({
      next: (state) => {
        this.take(state);
        this.begunAt.set(state.now);
      },
      error: (error: unknown) => this.toast.fail(error),
    });
    reloadOn(
      () => [...this.current.topics(), 'board', 'clock'],
      () => this.refresh(),
    );
    inject(DestroyRef).onDestroy(() => this.stop());
  }

  protected say = (at: string): string => sayInstant(Date.parse(at), this.zone);
  protected pick(text: string): void {
    this.minutes.set(speeds.find(({ minutes }) => String(minutes) === text)?.minutes ?? speeds[1].minutes);
  }
  protected play(): void {
    this.isPlaying.set(true);
    this.beat();
  }
  protected stop(): void {
    this.isPlaying.set(false);
    if (this.timer !== null) clearTimeout(this.timer);
    this.timer = null;
  }
  protected step(): void {
    this.move({ to: 'next' });
  }
  protected back(): void {
    this.confirm
      .ask({
        title: 'Back to now?',
        text: 'The clock shows real time again. What went out meanwhile stays gone out.',
        yes: 'Back to now',
      })
      .subscribe(() => this.move({ to: 'now' }));
  }
  private beat(): void {
    this.move({ minutes: this.minutes() }, (state) => {
      if (!this.isPlaying()) return;
      if (Date.parse(state.now) > this.endMs()) return this.stop();
      this.timer = setTimeout(() => this.beat(), beatMs);
    });
  }
  private endMs(): number {
    const { facts, startAt = '' } = this.current.detail() ?? {};
    if (!facts) return 0;
    // Of a series the date that is next; however long it lasts, that is within these days.
    return Date.parse(startAt) + afterMs;
  }
  private move(to: MoveClock, then: (state: ClockState) => void = () => undefined): void {
    this.isBusy.set(true);
    this.backstage.moveClock(to).subscribe({
      next: (state) => {
        this.take(state);
        this.refresh();
        then(state);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.stop();
        this.toast.fail(error);
      },
    });
  }
  private take(state: ClockState): void {
    this.clock.setTo(state.now);
    this.aheadMs.set(state.offsetMs);
    this.isBusy.set(false);
  }
  private refresh(): void {
    this.cues.reload();
    this.outside.reload();
  }
}

/** Mails and texts together, the newest first. */
function arrivals([mails, phones]: [
  readonly { id: string; at: string; to: string; subject: string }[],
  readonly { number: string; lastAt: string; lastText: string }[],
]): Arrived[] {
  return [
    ...mails.map(({ id, at, to, subject }): Arrived => ({ id, at, to, says: subject, by: 'email', others: 0 })),
    ...phones.map(({ number, lastAt, lastText }): Arrived => ({
      id: `${number} ${lastAt}`,
      at: lastAt,
      to: number,
      says: lastText,
      by: 'text',
      others: 0,
    })),
  ].sort((a, b) => b.at.localeCompare(a.at));
}

/** The same words to many people are one line. */
function folded(all: readonly Arrived[]): Arrived[] {
  const lines = new Map<string, Arrived>();
  for (const one of all) {
    const key = `${one.by} ${one.says}`;
    const known = lines.get(key);
    lines.set(key, known ? { ...known, others: known.others + 1 } : one);
  }
  return [...lines.values()];
}
