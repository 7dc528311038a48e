import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { oddityOf } from '@convite/core';

/** Says what a clock change makes of a time that is typed: that it never comes, or comes twice. Else shows nothing. */
@Component({
  selector: 'cv-clock-note',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (words(); as words) {
      <p class="small quiet" role="status">{{ words }}</p>
    }
  `,
  styles: `
    p {
      margin: 2px 0 0;
    }
  `,
})
export class ClockNote {
  /** A clock reading as it is typed; may be unfinished. */
  readonly wall = input.required<string>();
  readonly zone = input.required<string>();
  protected readonly words = computed(() => {
    const odd = oddityOf(this.wall(), this.zone());
    if (!odd) return '';
    return odd.kind === 'twice'
      ? 'Clocks are put back: this time comes twice. The first is meant.'
      : `Clocks are put forward over this time: it means ${odd.means.slice(11)}.`;
  });
}
