import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { sayInstant } from '../ui/say';
import { scaleSymlog } from 'd3-scale';
import type { CueRow } from '@convite/contract';

import { sayPeople } from '../ui/people-count';
import { SharedClock } from '../ui/shared-clock';

const width = 1300;
const height = 150;
const lanes = { email: 62, text: 102 } as const;
const hourMs = 3_600_000;
const marks: readonly [number, string][] = [
  [-8 * 168, '8 weeks'],
  [-4 * 168, '4 weeks'],
  [-2 * 168, '2 weeks'],
  [-168, '1 week'],
  [-72, '3 days'],
  [-24, '1 day'],
  [-3, '3 hours'],
  [0, 'start'],
  [24, '1 day after'],
  [168, '1 week after'],
];

/** Time from weeks before to days after the start, hours large and weeks small, with a cue where it falls on its channel's lane. */
@Component({
  selector: 'cv-rail',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + width + ' ' + height" role="group" aria-label="The countdown on a rail of time">
      <rect class="past" x="0" y="30" [attr.width]="nowX()" height="96" />
      @for (mark of marks(); track mark.label) {
        <line
          [class]="mark.label === 'start' ? 'start' : 'mark'"
          [attr.x1]="mark.x"
          [attr.x2]="mark.x"
          y1="30"
          y2="126"
        />
        <text class="label" [class.bold]="mark.label === 'start'" [attr.x]="mark.x" y="22" text-anchor="middle">
          {{ mark.label }}
        </text>
      }
      <text class="lane" x="6" [attr.y]="lanes.email - 14">email</text>
      <text class="lane" x="6" [attr.y]="lanes.text - 14">text</text>
      <line class="track" x1="0" [attr.x2]="width" [attr.y1]="lanes.email" [attr.y2]="lanes.email" />
      <line class="track" x1="0" [attr.x2]="width" [attr.y1]="lanes.text" [attr.y2]="lanes.text" />
      <line class="now" [attr.x1]="nowX()" [attr.x2]="nowX()" y1="30" y2="132" />
      <text class="now-label" [attr.x]="nowX()" y="145" [attr.text-anchor]="nowX() < 16 ? 'start' : 'middle'">now</text>
      @for (cue of placed(); track cue.id) {
        <g
          role="button"
          tabindex="0"
          [attr.aria-label]="cue.title"
          (click)="picked.emit(cue.row)"
          (keydown.enter)="picked.emit(cue.row)"
          [class]="'cue ' + cue.row.channel + ' ' + cue.row.firing.state"
          [class.chosen]="cue.id === chosen()"
        >
          <title>{{ cue.title }}</title>
          <circle [attr.cx]="cue.x" [attr.cy]="cue.y" r="13" />
          <text [attr.x]="cue.x" [attr.y]="cue.y + 4" text-anchor="middle">{{ cue.count }}</text>
        </g>
      }
    </svg>
  `,
  styles: `
    svg {
      width: 100%;
      height: auto;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 6px;
      display: block;
    }
    .past {
      fill: color-mix(in srgb, var(--line) 35%, transparent);
    }
    .mark {
      stroke: var(--line);
    }
    .start {
      stroke: var(--ink);
      stroke-width: 3;
    }
    .track {
      stroke: var(--line);
      stroke-width: 2;
    }
    .label,
    .lane {
      fill: var(--quiet);
      font: 12px var(--plain);
    }
    .label.bold {
      fill: var(--ink);
      font-weight: 700;
    }
    .now {
      stroke: var(--alarm);
      stroke-width: 2;
      stroke-dasharray: 3 3;
    }
    .now-label {
      fill: var(--alarm);
      font: 600 12px var(--plain);
    }
    .cue {
      cursor: pointer;
    }
    .cue circle {
      fill: var(--lead);
      stroke: var(--sheet);
      stroke-width: 2;
    }
    .cue.text circle {
      fill: var(--text-channel);
    }
    .cue text {
      fill: var(--on-lead);
      font: 600 10.5px var(--plain);
    }
    .cue.draft circle,
    .cue.stopped circle {
      fill: var(--sheet);
      stroke: var(--quiet);
      stroke-dasharray: 3 2;
    }
    .cue.draft text,
    .cue.stopped text {
      fill: var(--ink);
    }
    .cue.missed circle {
      fill: var(--alarm-wash);
      stroke: var(--alarm);
    }
    .cue.missed text {
      fill: var(--ink);
    }
    .cue.chosen circle,
    .cue:focus-visible circle {
      stroke: var(--standby);
      stroke-width: 4;
    }
    .cue:focus-visible {
      outline: none;
    }
  `,
})
export class Rail {
  private readonly clock = inject(SharedClock);
  readonly cues = input.required<readonly CueRow[]>();
  readonly startAt = input.required<string>();
  readonly zone = input.required<string>();
  readonly chosen = input<number | null>(null);
  readonly picked = output<CueRow>();
  protected readonly width = width;
  protected readonly height = height;
  protected readonly lanes = lanes;

  private readonly startMs = computed(() => Date.parse(this.startAt()));
  /** Hours from the start, as wide as the cues need: two weeks before to a day after at the least. */
  private readonly scale = computed(() => {
    const hours = this.cues().map(({ firing }) => (Date.parse(firing.dueAt) - this.startMs()) / hourMs);
    const from = Math.min(-14 * 24, ...hours) * 1.3;
    const to = Math.max(24, ...hours) * 1.5;
    return scaleSymlog([from, to], [40, width - 30]).constant(6);
  });
  protected readonly nowX = computed(() =>
    Math.min(width, Math.max(0, this.scale()((this.clock.nowMs() - this.startMs()) / hourMs))),
  );
  protected readonly marks = computed(() => {
    const [from = 0, to = 0] = this.scale().domain();
    return marks
      .filter(([hours]) => hours > from && hours < to)
      .map(([hours, label]) => ({ label, x: this.scale()(hours) }));
  });
  protected readonly placed = computed(() =>
    this.cues().map((row) => {
      const { state, tally } = row.firing;
      const count = state === 'done' ? tally.sent : tally.gets;
      return {
        id: row.id,
        row,
        x: this.scale()((Date.parse(row.firing.dueAt) - this.startMs()) / hourMs),
        y: lanes[row.channel],
        count: count > 9999 ? `${Math.round(count / 1000)}k` : sayPeople({ ...tally, waiting: 0 }, state),
        title: `${row.name}: ${row.firing.state}, ${sayInstant(Date.parse(row.firing.dueAt), this.zone())}, ${sayPeople(tally, state)} people by ${row.channel}`,
      };
    }),
  );
}
