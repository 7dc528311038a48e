import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import { sayDay } from '@convite/core';
import type { Board } from '@convite/contract';

const width = 1300;
const height = 118;
const margin = { top: 18, right: 8, bottom: 22, left: 44 };

/** Messages a day by channel over four weeks, the starts of events marked above. */
@Component({
  selector: 'cv-load-chart',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <figure>
      <figcaption class="small quiet">
        <span class="email">▮ email</span> &ngsp;<span class="text">▮ text</span> messages a day, a week back and three
        ahead · ★ an event begins
      </figcaption>
      <div class="wide">
        <svg [attr.viewBox]="'0 0 ' + width + ' ' + height" role="img" [attr.aria-label]="summary()">
          @for (tick of ticks(); track tick.value) {
            <line
              class="grid"
              [attr.x1]="margin.left"
              [attr.x2]="width - margin.right"
              [attr.y1]="tick.y"
              [attr.y2]="tick.y"
            />
            <text class="axis" text-anchor="end" [attr.x]="margin.left - 8" [attr.y]="tick.y + 4">
              {{ tick.value }}
            </text>
          }
          @for (bar of bars(); track bar.day) {
            <g>
              <title>{{ bar.title }}</title>
              @if (bar.isToday) {
                <rect
                  class="today"
                  [attr.x]="bar.x - 3"
                  [attr.y]="margin.top - 4"
                  [attr.width]="bar.width + 6"
                  [attr.height]="height - margin.top - margin.bottom + 4"
                />
              }
              <rect
                class="email"
                [attr.x]="bar.x"
                [attr.y]="bar.emailY"
                [attr.width]="bar.width"
                [attr.height]="bar.emailHeight"
              />
              <rect
                class="text"
                [attr.x]="bar.x"
                [attr.y]="bar.textY"
                [attr.width]="bar.width"
                [attr.height]="bar.textHeight"
              />
              @if (bar.starts) {
                <text class="star" text-anchor="middle" [attr.x]="bar.x + bar.width / 2" [attr.y]="margin.top - 6">
                  ★
                </text>
              }
              <text
                class="axis"
                [class.here]="bar.isToday"
                text-anchor="middle"
                [attr.x]="bar.x + bar.width / 2"
                [attr.y]="height - 6"
              >
                {{ bar.label }}
              </text>
            </g>
          }
        </svg>
      </div>
    </figure>
  `,
  styles: `
    figure {
      margin: 0;
    }
    .wide {
      overflow-x: auto;
    }
    svg {
      min-width: 1000px;
      width: 100%;
      height: auto;
      display: block;
    }
    .email {
      fill: var(--lead);
      color: var(--lead);
    }
    .text {
      fill: var(--text-channel);
      color: var(--text-channel);
    }
    .grid {
      stroke: var(--line);
    }
    .axis {
      fill: var(--quiet);
      font: 11px var(--plain);
    }
    .axis.here {
      fill: var(--ink);
      font-weight: 700;
    }
    .star {
      fill: #a8720a;
      font-size: 13px;
    }
    .today {
      fill: var(--lead-wash);
    }
  `,
})
export class LoadChart {
  readonly load = input.required<Board['load']>();
  readonly today = input.required<string>();
  protected readonly width = width;
  protected readonly height = height;
  protected readonly margin = margin;

  private readonly y = computed(() =>
    scaleLinear(
      [0, max(this.load(), ({ email, text }) => email + text) || 10],
      [height - margin.bottom, margin.top],
    ).nice(3),
  );
  protected readonly ticks = computed(() =>
    this.y()
      .ticks(3)
      .map((value) => ({ value, y: this.y()(value) })),
  );
  protected readonly bars = computed(() => {
    const y = this.y();
    const x = scaleBand(
      this.load().map(({ day }) => day),
      [margin.left, width - margin.right],
    ).padding(0.3);
    return this.load().map(({ day, email, text, starts }) => ({
      day,
      x: x(day) ?? 0,
      width: x.bandwidth(),
      emailY: y(email),
      emailHeight: y(0) - y(email),
      textY: y(email + text),
      textHeight: y(email) - y(email + text),
      starts: starts.length,
      isToday: day === this.today(),
      label: sayDay(day).split(' ').slice(0, 2).join(' '),
      title: [sayDay(day), `${email} emails, ${text} texts`, ...starts].join('\n'),
    }));
  });
  protected readonly summary = computed(() => {
    const busiest = this.load().reduce((most, day) => (day.email + day.text > most.email + most.text ? day : most), {
      day: '',
      email: 0,
      text: 0,
      starts: [],
    });
    return busiest.day
      ? `Messages a day over four weeks. The busiest is ${sayDay(busiest.day)} with ${busiest.email} emails and ${busiest.text} texts.`
      : 'No messages';
  });
}
