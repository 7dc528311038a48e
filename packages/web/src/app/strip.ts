import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { sayInstant } from './ui/say';
import type { Strip as Known } from '@convite/contract';
import { sayDistance, type Channel } from '@convite/core';
import { BoardApi } from './api/board';
import { reloadOn } from './api/live';
import { Session } from './api/session';
import { PeopleCount } from './ui/people-count';
import { SharedClock } from './ui/shared-clock';
import { Toast } from './ui/toast';

/** The slim line at the very top: what fires next, the way to hold it, and the organisation's clock. */
@Component({
  selector: 'cv-strip',
  imports: [PeopleCount],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (trouble of troubles(); track trouble.text) {
      <div class="strip trouble" role="alert">
        <span class="what" [title]="trouble.text"><strong aria-hidden="true">▲</strong> {{ trouble.text }}</span>
        @if (trouble.channel; as channel) {
          @if (session.canMarket()) {
            <button (click)="resume(channel)">Let it go on</button>
          }
        }
      </div>
    }
    <div class="strip" [class.standby]="isStandby()" role="status">
      @if (next(); as it) {
        <span class="what">
          @if (it.state === 'sending') {
            <strong>Sending</strong>
          } @else if (isStandby()) {
            <strong>Standby in {{ left() }}</strong>
          } @else {
            <strong>Next {{ distance() }}</strong>
          }
          — <em>{{ it.title }}</em>
          @if (it.eventTitle) {
            <span class="event">, {{ it.eventTitle }}</span>
          }
          @if (it.channel === 'act') {
            → a task
          } @else {
            → <cv-people-count [tally]="it.tally" [state]="it.state" /> {{ it.tally.gets === 1 ? 'person' : 'people' }},
            {{ it.channel }}
          }
        </span>
        @if (session.canMarket()) {
          <button (click)="hold()">Hold</button>
        }
      } @else if (known()) {
        <span class="what">Nothing is set to go out.</span>
      }
      <span class="clock">{{ clockText() }}</span>
    </div>
  `,
  styles: `
    .strip {
      display: flex;
      align-items: center;
      gap: 14px;
      min-height: 34px;
      padding: 3px 28px;
      background: #1d2433;
      color: #fbf8f3;
      font-size: 13px;
    }
    .strip.trouble {
      background: var(--alarm-ground, #c2402a);
      color: #fff;
    }
    .strip.standby {
      background: var(--standby);
      color: var(--on-standby);
    }
    .what {
      min-width: 0;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      unicode-bidi: plaintext;
    }
    em {
      font-style: normal;
      font-weight: 600;
    }
    .clock {
      margin-left: auto;
      white-space: nowrap;
    }
    button {
      font: 600 13px var(--plain);
      padding: 2px 14px;
      min-height: 26px;
      border-radius: 4px;
      border: 1px solid currentColor;
      background: transparent;
      color: inherit;
      cursor: pointer;
    }
    button:focus-visible {
      outline-color: currentColor;
    }
    @media (max-width: 700px) {
      .strip {
        flex-wrap: wrap;
        padding: 6px 16px;
      }
      .what {
        flex: 1 1 100%;
        white-space: normal;
      }
      /* A thumb holds it. */
      button {
        min-height: 40px;
        padding: 2px 22px;
      }
    }
  `,
})
export class Strip {
  private readonly api = inject(BoardApi);
  private readonly clock = inject(SharedClock);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly known = signal<Known | null>(null);
  protected readonly next = computed(() => this.known()?.next ?? null);
  protected readonly troubles = computed(() => this.known()?.troubles ?? []);
  private readonly leftMs = computed(() => {
    const next = this.next();
    return next ? Date.parse(next.dueAt) - this.clock.nowMs() : Infinity;
  });
  protected readonly isStandby = computed(
    () => this.next()?.state !== 'sending' && this.leftMs() <= (this.known()?.standbyMs ?? 0),
  );
  protected readonly left = computed(() => {
    const seconds = Math.max(0, Math.round(this.leftMs() / 1000));
    return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
  });
  protected readonly distance = computed(() =>
    sayDistance(this.clock.nowMs(), this.clock.nowMs() + this.leftMs(), this.known()?.zone ?? 'UTC'),
  );
  protected readonly clockText = computed(() => {
    const known = this.known();
    return known ? sayInstant(this.clock.nowMs(), known.zone) : '';
  });

  constructor() {
    reloadOn(
      () => ['board', 'clock'],
      () => this.refresh(),
    );
    this.refresh();
    // What counts down to nothing has fired, or is about to say why not.
    const timer = setInterval(() => {
      if (this.leftMs() < -1500) this.refresh();
    }, 2000);
    // What is not there tells nobody so: it is asked about.
    const watch = setInterval(() => this.refresh(), 10_000);
    inject(DestroyRef).onDestroy(() => [timer, watch].forEach(clearInterval));
  }

  protected hold(): void {
    const next = this.next();
    if (!next) return;
    this.api.stop(next.firingId).subscribe({
      next: () => this.toast.say(`Held: “${next.title}” will not go out. Set it again from its countdown.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }

  protected resume(channel: Channel): void {
    this.api.resume(channel).subscribe({
      next: () => this.refresh(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }

  private refresh(): void {
    this.api.strip().subscribe({
      next: (strip) => {
        this.clock.setTo(strip.now);
        this.known.set(strip);
      },
      error: () => undefined,
    });
  }
}
