import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { sayZone, units, type Moment } from '@convite/core';
import { SaidTime } from '../ui/said-time';

type Relative = Extract<Moment, { kind: 'relative' }>;

/** When a cue fires, as a sentence with boxes. */
@Component({
  selector: 'cv-cue-moment',
  imports: [SaidTime],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset>
      <legend>When</legend>
      <select aria-label="Kind of moment" [value]="moment().kind" (change)="kind($any($event.target).value)">
        <option value="relative">counted from the event</option>
        <option value="fixed">at a fixed date and time</option>
      </select>
      @if (relative(); as it) {
        <input
          type="number"
          min="0"
          max="1000"
          aria-label="How many"
          [value]="it.amount"
          (input)="change({ amount: whole($any($event.target).value) })"
        />
        <select aria-label="Unit" [value]="it.unit" (change)="change({ unit: $any($event.target).value })">
          @for (unit of units; track unit) {
            <option [value]="unit" [selected]="unit === it.unit">{{ unit }}</option>
          }
        </select>
        <select
          aria-label="Before or after"
          [value]="it.direction"
          (change)="change({ direction: $any($event.target).value })"
        >
          <option [selected]="it.direction === 'before'" value="before">before</option>
          <option [selected]="it.direction === 'after'" value="after">after</option>
        </select>
        <select aria-label="Of what" [value]="it.anchor" (change)="change({ anchor: $any($event.target).value })">
          <option [selected]="it.anchor === 'start'" value="start">the start</option>
          <option [selected]="it.anchor === 'end'" value="end">the end</option>
          <option [selected]="it.anchor === 'deadline'" value="deadline">registration closes</option>
        </select>
        <label class="check"
          ><input
            type="checkbox"
            [checked]="it.at !== null"
            (change)="change({ at: $any($event.target).checked ? '10:00' : null })"
          />
          at a set time</label
        >
        @if (it.at !== null) {
          <input
            type="time"
            aria-label="Clock time"
            [value]="it.at"
            (input)="change({ at: $any($event.target).value || '10:00' })"
          />
        }
      } @else {
        <input
          type="datetime-local"
          aria-label="Date and time"
          [value]="wall()"
          (input)="momentChange.emit({ kind: 'fixed', wall: $any($event.target).value })"
        />
        <cv-said-time [wall]="wall()" [zone]="zone()" />
      }
      <span class="quiet small"
        >{{ city() }} time. Days and weeks keep the clock time across a clock change; hours and minutes are exact.</span
      >
    </fieldset>
  `,
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      display: flex;
      flex-wrap: wrap;
      gap: 6px 8px;
      align-items: center;
    }
    legend {
      font-weight: 600;
      padding: 0 0 4px;
    }
    input[type='number'] {
      width: 76px;
    }
    .small {
      flex-basis: 100%;
    }
  `,
})
export class CueMoment {
  readonly moment = input.required<Moment>();
  readonly zone = input.required<string>();
  readonly momentChange = output<Moment>();
  protected readonly units = units;
  protected readonly city = computed(() => sayZone(this.zone()));
  protected readonly relative = computed<Relative | null>(() => {
    const moment = this.moment();
    return moment.kind === 'relative' ? moment : null;
  });
  protected readonly wall = computed(() => {
    const moment = this.moment();
    return moment.kind === 'fixed' ? moment.wall : '';
  });

  protected kind(kind: string): void {
    this.momentChange.emit(
      kind === 'fixed'
        ? { kind, wall: '' }
        : { kind: 'relative', amount: 1, unit: 'days', direction: 'before', anchor: 'start', at: null },
    );
  }
  protected change(part: Partial<Relative>): void {
    const relative = this.relative();
    if (relative) this.momentChange.emit({ ...relative, ...part });
  }
  protected whole(text: string): number {
    return Math.min(1000, Math.max(0, Math.round(Number(text) || 0)));
  }
}
