import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { sayDay, sayInstant, sayShortDay, sayShortInstant } from './say';
import { sayDistance, sayZone, wallTimeAt } from '@convite/core';
import { SharedClock } from './shared-clock';

/** An instant as people need it: relative and absolute together, always with the zone. */
@Component({
  selector: 'cv-when',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<time [attr.datetime]="at()">
    @if (!short()) {
      <span class="relative">{{ relative() }}</span> ·
    }
    {{ absolute() }}</time
  >`,
  styles: `
    time {
      white-space: nowrap;
    }
    .relative {
      font-weight: 600;
    }
  `,
})
export class When {
  private readonly clock = inject(SharedClock);
  readonly at = input.required<string>();
  readonly zone = input.required<string>();
  /** For whole days: no clock time. */
  readonly dayOnly = input(false);
  /** Leaves the relative part out, where a column says it already. */
  readonly short = input(false);
  protected readonly absolute = computed(() => {
    const atMs = Date.parse(this.at());
    const isNear = Math.abs(atMs - this.clock.nowMs()) < halfYearMs;
    if (!this.dayOnly()) return (isNear ? sayShortInstant : sayInstant)(atMs, this.zone());
    const day = wallTimeAt(atMs, this.zone()).slice(0, 10);
    return `${(isNear ? sayShortDay : sayDay)(day)} ${sayZone(this.zone())}`;
  });
  protected readonly relative = computed(() => sayDistance(this.clock.nowMs(), Date.parse(this.at()), this.zone()));
}

/** Within it the year goes without saying. */
const halfYearMs = 182 * 86_400_000;
