import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { sayInstant } from '../ui/say';
import { MatButtonModule } from '@angular/material/button';
import type { ClockState, MoveClock } from '@convite/contract';
import { sayDistance } from '@convite/core';
import { BackstageApi } from '../api/backstage';
import { Session } from '../api/session';
import { SharedClock } from '../ui/shared-clock';
import { Toast } from '../ui/toast';

/** Moves the clock that server and workers share; it never jumps over a firing. */
@Component({
  selector: 'cv-clock-panel',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet" aria-label="Clock">
      <div class="row">
        <h2>Clock</h2>
        <strong>{{ nowText() }}</strong>
        @if (aheadText()) {
          <span class="quiet small">{{ aheadText() }} of real time</span>
        }
        @if (session.canMarket()) {
          <span class="row push">
            <button matButton="filled" (click)="move({ to: 'next' })" [disabled]="isBusy()">To the next cue</button>
            <button matButton="outlined" (click)="move({ minutes: 10 })" [disabled]="isBusy()">+10 minutes</button>
            <button matButton="outlined" (click)="move({ minutes: 60 })" [disabled]="isBusy()">+1 hour</button>
            <button matButton="outlined" (click)="move({ minutes: 1440 })" [disabled]="isBusy()">+1 day</button>
          </span>
        }
      </div>
      @if (state()?.stoppedFor; as why) {
        <p class="small note" role="status">The clock stopped for {{ why }}.</p>
      }
    </section>
  `,
})
export class ClockPanel {
  private readonly api = inject(BackstageApi);
  private readonly clock = inject(SharedClock);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly state = signal<ClockState | null>(null);
  protected readonly isBusy = signal(false);
  protected readonly nowText = computed(() => {
    const state = this.state();
    return state ? sayInstant(this.clock.nowMs(), state.zone) : '';
  });
  protected readonly aheadText = computed(() => {
    const offsetMs = this.state()?.offsetMs ?? 0;
    return offsetMs < 60_000 ? '' : `${sayDistance(0, offsetMs, 'UTC').replace('in ', '')} ahead`;
  });

  constructor() {
    this.api
      .clock()
      .subscribe({ next: (state) => this.take(state), error: (error: unknown) => this.toast.fail(error) });
  }

  protected move(to: MoveClock): void {
    this.isBusy.set(true);
    this.api.moveClock(to).subscribe({
      next: (state) => this.take(state),
      error: (error: unknown) => {
        this.toast.fail(error);
        this.isBusy.set(false);
      },
    });
  }
  private take(state: ClockState): void {
    this.clock.setTo(state.now);
    this.state.set(state);
    this.isBusy.set(false);
  }
}
