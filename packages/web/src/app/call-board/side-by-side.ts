import { ChangeDetectionStrategy, Component, computed, inject, input, signal, viewChild } from '@angular/core';
import { Router } from '@angular/router';
import { max } from 'd3-array';
import { scaleSqrt, scaleUtc } from 'd3-scale';
import type { Board, BoardItem } from '@convite/contract';
import { daysFrom, resolveWallTime } from '@convite/core';
import { ChartFrame, type ChartPoint } from '../ui/chart/chart-frame';
import { sayCount, sayDay, sayInstant, sayNumber, sayShortDay } from '../ui/say';

const rowHeight = 30;
const top = 34;
const dayMs = 86_400_000;
/** A name takes so much of the width, on a phone less. */
const nameWidth = (width: number): number => Math.min(220, Math.max(90, width * 0.28));
/** So many letters of a name fit beside its row. */
const lettersIn = (pixels: number): number => Math.floor(pixels / 7.2);
/** A day and month need so many pixels to stand beside the next. */
const labelWidth = 70;

interface Lane {
  readonly key: string;
  readonly eventId: number | null;
  readonly title: string;
  readonly items: BoardItem[];
  readonly starts: readonly string[];
}

/** What several events and digests send, each on a line of its own along one axis of days, so that crowding is seen. */
@Component({
  selector: 'cv-side-by-side',
  imports: [ChartFrame],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './side-by-side.html',
  styleUrl: './side-by-side.scss',
})
export class SideBySide {
  private readonly router = inject(Router);
  readonly board = input.required<Board>();
  protected readonly at = signal<number | null>(null);
  private readonly frame = viewChild(ChartFrame);
  protected readonly width = computed(() => this.frame()?.width() ?? 800);
  protected readonly top = top;
  protected readonly heads = ['Event or digest', 'messages', 'people', 'first', 'last'];

  /** In the order of what each sends first. */
  protected readonly lanes = computed((): Lane[] => {
    const { ahead, starts } = this.board();
    const lanes = new Map<string, Lane>();
    for (const item of ahead) {
      const key = item.eventId === null ? `digest ${item.title}` : `event ${item.eventId}`;
      const known = lanes.get(key);
      if (known) known.items.push(item);
      else
        lanes.set(key, {
          key,
          eventId: item.eventId,
          title: item.eventTitle || item.title,
          items: [item],
          starts: starts.filter(({ eventId }) => eventId === item.eventId).map(({ at }) => at),
        });
    }
    return [...lanes.values()];
  });
  protected readonly points = computed((): ChartPoint[] =>
    this.lanes().map(({ title, items }) => ({
      label: title,
      values: [
        items.length,
        sayNumber(items.reduce((sum, { tally }) => sum + tally.gets, 0)),
        this.say(items[0]?.dueAt),
        this.say(items.at(-1)?.dueAt),
      ],
    })),
  );
  protected readonly height = computed(() => top + this.lanes().length * rowHeight + 8);
  protected readonly left = computed(() => nameWidth(this.width()));
  private readonly span = computed((): readonly [number, number] => {
    const { now, ahead } = this.board();
    const nowMs = Date.parse(now);
    return [nowMs, Math.max(nowMs + 7 * dayMs, ...ahead.map(({ dueAt }) => Date.parse(dueAt))) + dayMs / 2];
  });
  private readonly x = computed(() => scaleUtc([...this.span()], [this.left(), this.width() - 14]));
  /** Days, each as dark as it is full of messages. */
  protected readonly days = computed(() => {
    const { zone, ahead } = this.board();
    const [fromMs, toMs] = this.span();
    const x = this.x();
    const days = daysFrom(fromMs, zone, Math.ceil((toMs - fromMs) / dayMs) + 1).map((day) => {
      const begins = resolveWallTime(`${day}T00:00`, zone);
      const ends = begins + dayMs;
      const of = ahead.filter(({ dueAt }) => Date.parse(dueAt) >= begins && Date.parse(dueAt) < ends);
      return { day, begins, ends, people: of.reduce((sum, { tally }) => sum + tally.gets, 0), count: of.length };
    });
    const most = max(days, ({ people }) => people) || 1;
    let labelledTo = -Infinity;
    return days
      .filter(({ begins }) => begins < toMs)
      .map(({ day, begins, ends, people, count }) => {
        const from = Math.max(this.left(), x(begins));
        const hasRoom = from >= labelledTo && from + labelWidth <= this.width();
        if (hasRoom) labelledTo = from + labelWidth;
        return {
          day,
          x: from,
          width: Math.max(0, Math.min(this.width() - 14, x(ends)) - from),
          share: people / most,
          label: hasRoom ? sayShortDay(day) : '',
          title: `${sayDay(day)}: ${sayCount(count, 'message', 'messages')} to ${sayNumber(people)} people`,
        };
      });
  });
  protected readonly rows = computed(() => {
    const x = this.x();
    const size = scaleSqrt([0, max(this.board().ahead, ({ tally }) => tally.gets) || 1], [3, rowHeight / 2 - 2]);
    const letters = lettersIn(this.left() - 10);
    return this.lanes().map((lane, index) => ({
      ...lane,
      y: top + index * rowHeight + rowHeight / 2,
      name: lane.title.length > letters ? `${lane.title.slice(0, letters - 1)}…` : lane.title,
      marks: lane.items.map(({ firingId, dueAt, channel, state, title, tally }) => ({
        firingId,
        x: x(Date.parse(dueAt)),
        r: size(tally.gets),
        channel,
        state,
        title: `${title}: ${state}, ${this.say(dueAt)}, ${sayCount(tally.gets, 'person', 'people')} by ${channel}`,
      })),
      begins: lane.starts
        .map((at) => Date.parse(at))
        .filter((atMs) => atMs >= this.span()[0] && atMs <= this.span()[1])
        .map((atMs) => ({ atMs, x: x(atMs), title: `begins ${this.say(new Date(atMs).toISOString())}` })),
    }));
  });
  protected readonly summary = computed(() => {
    const fullest = this.days().reduce((most, day) => (day.share > most.share ? day : most), { share: 0, title: '' });
    return `What ${sayCount(this.lanes().length, 'event or digest sends', 'events and digests send')}, each on its own line. The fullest day is ${fullest.title || 'none'}.`;
  });

  protected open(index: number): void {
    const lane = this.lanes()[index];
    if (!lane) return;
    void this.router.navigateByUrl(lane.eventId === null ? '/digests' : `/events/${lane.eventId}/countdown`);
  }
  private say = (at: string | undefined): string => (at ? sayInstant(Date.parse(at), this.board().zone) : '');
}
