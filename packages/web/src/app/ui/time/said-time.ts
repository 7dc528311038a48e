import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { sayClock, sayDay } from '../say';
import { isDay, isWallTime, oddityOf } from '@convite/core';

/**
 * Says a day or time that is typed as people say it, with its weekday, since browsers write dates in an order of their
 * own; and what a clock change makes of it. Shows nothing while it is unfinished.
 */
@Component({
  selector: 'cv-said-time',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (!isBrief() && words(); as words) {
      <p class="small quiet">{{ words }}</p>
    }
    @if (odd(); as odd) {
      <p class="small odd" role="status">{{ odd }}</p>
    }
  `,
  styles: `
    p {
      margin: 2px 0 0;
    }
    .odd {
      font-weight: 600;
    }
  `,
})
export class SaidTime {
  /** A day or a clock reading. */
  readonly wall = input.required<string>();
  readonly zone = input('UTC');
  /** It is said already: only what a clock change makes of it. */
  readonly isBrief = input(false);
  protected readonly words = computed(() => {
    const wall = this.wall();
    if (isDay(wall)) return sayDay(wall);
    return isWallTime(wall) ? `${sayDay(wall.slice(0, 10))} ${sayClock(wall.slice(11))}` : '';
  });
  protected readonly odd = computed(() => {
    const odd = oddityOf(this.wall(), this.zone());
    if (!odd) return '';
    return odd.kind === 'twice'
      ? 'Clocks are put back: this time comes twice. The first is meant.'
      : `Clocks are put forward over this time: it means ${sayClock(odd.means.slice(11))}.`;
  });
}
