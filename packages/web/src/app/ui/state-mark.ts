import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { FiringState } from '@convite/core';

/** Lamps of a stage: what each state looks like, drawn in a 16 by 16 square. Always beside the word. */
const lamps: Readonly<Record<FiringState, string>> = {
  draft:
    'M8 2.5a5.5 5.5 0 0 1 3.9 1.6M13.5 8a5.5 5.5 0 0 1-1.6 3.9M8 13.5a5.5 5.5 0 0 1-3.9-1.6M2.5 8a5.5 5.5 0 0 1 1.6-3.9',
  set: 'M8 2.5a5.5 5.5 0 1 0 0 11a5.5 5.5 0 1 0 0-11M8 6.6a1.4 1.4 0 1 0 0 2.8a1.4 1.4 0 1 0 0-2.8',
  standby: 'M8 2.5a5.5 5.5 0 1 0 0 11a5.5 5.5 0 1 0 0-11M8 2.5v11M10 3.5v9M12 5v6',
  sending: 'M2 8h9M8 4.5L11.5 8L8 11.5M14 3v10',
  done: 'M8 2.5a5.5 5.5 0 1 0 0 11a5.5 5.5 0 1 0 0-11M5.3 8.2l2 2l3.6-4.2',
  failed: 'M8 2.8L14 13.2H2ZM8 6.6v3.1M8 11.3v.4',
  stopped: 'M8 2.5a5.5 5.5 0 1 0 0 11a5.5 5.5 0 1 0 0-11M5.5 8h5',
  missed: 'M8 2.5a5.5 5.5 0 1 0 0 11a5.5 5.5 0 1 0 0-11M4.1 4.1l7.8 7.8',
};

/** The state of a firing: its lamp and its word. */
@Component({
  selector: 'cv-state',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<span [class]="'state ' + look()"
    ><svg viewBox="0 0 16 16" width="16" height="16" aria-hidden="true"><path [attr.d]="lamp()" /></svg
    >{{ word() }}</span
  >`,
  styleUrl: './mark.scss',
})
export class StateMark {
  readonly state = input.required<FiringState>();
  /** How many were not reached: done is not all there is to say then. */
  readonly missing = input(0);
  protected readonly look = computed(() => (this.state() === 'done' && this.missing() ? 'failed' : this.state()));
  protected readonly word = computed(() =>
    this.look() === this.state() ? this.state() : `${this.missing()} not reached`,
  );
  protected readonly lamp = computed(() => lamps[this.look()]);
}
