import { ChangeDetectionStrategy, Component, computed, input, signal, viewChild } from '@angular/core';
import { sayDay, sayNumber, sayShortDay } from '../ui/say';
import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';

import type { Board } from '@convite/contract';
import { ChartFrame, type ChartPoint } from '../ui/chart/chart-frame';

const height = 118;
const margin = { top: 18, right: 8, bottom: 22, left: 44 };
/** A day and month need so many pixels to stand beside the next. */
const labelWidth = 62;

/** Messages a day by channel over four weeks, the starts of events marked above. */
@Component({
  selector: 'cv-load-chart',
  imports: [ChartFrame],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './load-chart.html',
  styleUrl: './load-chart.scss',
})
export class LoadChart {
  readonly load = input.required<Board['load']>();
  readonly today = input.required<string>();
  protected readonly height = height;
  protected readonly margin = margin;
  protected readonly heads = ['Day', 'emails', 'texts', 'begins'];
  protected readonly at = signal<number | null>(null);
  private readonly frame = viewChild(ChartFrame);
  protected readonly width = computed(() => this.frame()?.width() ?? 800);
  protected readonly points = computed((): ChartPoint[] =>
    this.load().map(({ day, email, text, starts }) => ({
      label: sayDay(day),
      values: [sayNumber(email), sayNumber(text), starts.join(', ') || '—'],
    })),
  );
  protected readonly todayIndex = computed(() =>
    Math.max(
      0,
      this.load().findIndex(({ day }) => day === this.today()),
    ),
  );

  private readonly y = computed(() =>
    scaleLinear(
      [0, max(this.load(), ({ email, text }) => email + text) || 10],
      [height - margin.bottom, margin.top],
    ).nice(3),
  );
  protected readonly ticks = computed(() =>
    this.y()
      .ticks(3)
      .map((value) => ({ value: sayNumber(value), y: this.y()(value) })),
  );
  protected readonly bars = computed(() => {
    const y = this.y();
    const x = scaleBand(
      this.load().map(({ day }) => day),
      [margin.left, this.width() - margin.right],
    ).padding(0.3);
    // Where there is no room for every day, today is named, and as many around it as fit.
    const every = Math.max(1, Math.ceil(labelWidth / x.step()));
    return this.load().map(({ day, email, text, starts }, index) => ({
      day,
      x: x(day) ?? 0,
      width: x.bandwidth(),
      emailY: y(email),
      emailHeight: y(0) - y(email),
      textY: y(email + text),
      textHeight: y(email) - y(email + text),
      starts: starts.length,
      isToday: day === this.today(),
      label:
        (index - this.todayIndex()) % every === 0 && (x(day) ?? 0) + labelWidth / 2 < this.width()
          ? sayShortDay(day)
          : '',
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
      : 'No messages.';
  });
}
