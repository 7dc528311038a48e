import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { sayDay, sayInstant } from '../ui/say';
import { RouterLink } from '@angular/router';
import { max } from 'd3-array';
import { scaleLinear, scaleTime } from 'd3-scale';
import { addDays, wallTimeAt } from '@convite/core';
import type { EventYear } from '@convite/contract';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { readingOf } from '../api/reading';
import { ChartFrame, type ChartPoint } from '../ui/chart/chart-frame';
import { SharedClock } from '../ui/shared-clock';

const height = 74;
const margin = { top: 16, right: 10, bottom: 18, left: 10 };
const weekMs = 7 * 86_400_000;
const none: EventYear = { from: '', to: '', zone: 'UTC', dates: [], clashes: [], isCut: false };
const mostNamed = 6;
const mostShown = 3;

/** Twelve months as a ribbon: how many dates each week has, and which of them want one venue at one time. */
@Component({
  selector: 'cv-year-ribbon',
  imports: [ChartFrame, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './year-ribbon.html',
  styleUrl: './year-ribbon.scss',
})
export class YearRibbon {
  private readonly api = inject(EventsApi);
  private readonly clock = inject(SharedClock);
  private readonly read = readingOf(
    () => 'year',
    () => this.api.year(),
    none,
  );
  protected readonly year = this.read.value;
  protected readonly height = height;
  protected readonly margin = margin;
  protected readonly mostShown = mostShown;
  protected readonly heads = ['Week from', 'dates', 'begins', 'clashes'];
  protected readonly at = signal<number | null>(null);
  private readonly frame = viewChild(ChartFrame);
  protected readonly width = computed(() => this.frame()?.width() ?? 800);

  /** Weeks from Monday, by the house's zone. */
  private readonly weeks = computed(() => {
    const { from, to, zone, dates, clashes } = this.year();
    if (!from) return [];
    const first = wallTimeAt(Date.parse(from), zone).slice(0, 10);
    const startMs = Date.parse(`${first}T00:00Z`);
    const monday = addDays(first, -((new Date(startMs).getUTCDay() + 6) % 7));
    const count = Math.ceil((Date.parse(to) - Date.parse(`${monday}T00:00Z`)) / weekMs);
    const weekOf = (at: string): number =>
      Math.floor(
        (Date.parse(`${wallTimeAt(Date.parse(at), zone).slice(0, 10)}T00:00Z`) - Date.parse(`${monday}T00:00Z`)) /
          weekMs,
      );
    const weeks = Array.from({ length: count }, (_, index) => ({
      day: addDays(monday, index * 7),
      dates: [] as EventYear['dates'],
      clashes: [] as EventYear['clashes'],
    }));
    for (const date of dates) weeks[weekOf(date.at)]?.dates.push(date);
    for (const clash of clashes) weeks[weekOf(clash.at)]?.clashes.push(clash);
    return weeks;
  });
  protected readonly points = computed((): ChartPoint[] =>
    this.weeks().map(({ day, dates, clashes }) => ({
      label: sayDay(day),
      values: [dates.length, namesOf(dates.map(({ title }) => title)), clashes.length || '—'],
    })),
  );
  private readonly x = computed(() => {
    const weeks = this.weeks();
    const [first = '2000-01-01', last = '2001-01-01'] = [weeks[0]?.day, weeks.at(-1)?.day];
    return scaleTime(
      [Date.parse(`${first}T00:00Z`), Date.parse(`${last}T00:00Z`) + weekMs],
      [margin.left, this.width() - margin.right],
    );
  });
  protected readonly bars = computed(() => {
    const x = this.x();
    const y = scaleLinear(
      [0, max(this.weeks(), ({ dates }) => dates.length) || 1],
      [0, height - margin.top - margin.bottom],
    );
    return this.weeks().map(({ day, dates, clashes }) => {
      const left = x(Date.parse(`${day}T00:00Z`));
      const tall = Math.max(dates.length ? 3 : 0, y(dates.length));
      const drafts = y(dates.filter(({ isDraft }) => isDraft).length);
      return {
        day,
        left,
        width: Math.max(2, x(Date.parse(`${day}T00:00Z`) + weekMs) - left - 2),
        top: height - margin.bottom - tall,
        tall,
        drafts,
        hasClash: clashes.length > 0,
        title: [
          `Week from ${sayDay(day)}`,
          ...dates.slice(0, mostNamed).map(({ title }) => title),
          ...clashes.map(({ titles, venue }) => `Clash at ${venue}: ${titles.join(' and ')}`),
        ].join('\n'),
      };
    });
  });
  protected readonly months = computed(() =>
    this.x()
      .ticks(this.width() > 700 ? 12 : 4)
      .map((date) => ({ x: this.x()(date), label: monthName.format(date) }))
      .filter(({ x }) => x < this.width() - 30),
  );
  protected readonly now = computed(() => this.x()(Math.floor(this.clock.nowMs() / 3_600_000) * 3_600_000));
  protected readonly nowIndex = computed(() =>
    Math.max(
      0,
      this.weeks().findIndex(({ day }) => Date.parse(`${day}T00:00Z`) + weekMs > this.clock.nowMs()),
    ),
  );
  /** Those still to come, which somebody can do something about. */
  protected readonly clashes = computed(() => {
    const { clashes, zone } = this.year();
    return clashes
      .filter(({ at }) => Date.parse(at) > this.clock.nowMs())
      .map((clash) => ({ ...clash, when: sayInstant(Date.parse(clash.at), zone) }));
  });
  protected readonly summary = computed(() => {
    const { dates, clashes } = this.year();
    const twice = clashes.length === 1 ? ' Once two want one venue.' : ` ${clashes.length} times two want one venue.`;
    return `${dates.length} dates in twelve months.${clashes.length ? twice : ''}`;
  });

  constructor() {
    reloadOn(
      () => ['events'],
      () => this.read.reload(),
    );
  }
}

const monthName = new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' });

function namesOf(titles: readonly string[]): string {
  const names = [...new Set(titles)];
  const more = names.length - mostNamed;
  return `${names.slice(0, mostNamed).join(', ')}${more > 0 ? ` and ${more} more` : ''}` || '—';
}
