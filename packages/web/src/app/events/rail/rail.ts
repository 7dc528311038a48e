import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import type { CueRow, RailAround } from '@convite/contract';
import { sayInstant, sayShortDay } from '../../ui/say';
import { sayPeople } from '../../ui/people-count';
import { SharedClock } from '../../ui/shared-clock';
import { isOnPeople, momentHazards, wallTimeAt, type EventFacts, laneOf, sayLane } from '@convite/core';
import { groundOf } from './rail-ground';
import { hoursOf, layCues, type PlacedCue } from './rail-lanes';
import { hourMs, railMarks, railScale, railWidth, snapped, stepped } from './rail-scale';
import { sayMove, whyFixed } from './say-move';

/** What is being moved, and where it is by now: a cue by its number, or the start. */
interface Moving {
  readonly what: number | 'start';
  readonly atMs: number;
}

/** So far a pointer goes before a press becomes a drag. */
const dragPixels = 4;

/** A task or a call is for nobody in particular. */
const isDoneOnce = ({ act }: CueRow): boolean => act !== undefined && !isOnPeople(act);

/**
 * Time from months before to weeks after the start, hours large and weeks small, with a cue where it falls on its channel's lane.
 * Cues and the start are moved by pointing or by keys; what that means is said while it happens, and nothing is saved here.
 */
@Component({
  selector: 'cv-rail',
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './rail.html',
  styleUrl: './rail.scss',
})
export class Rail {
  protected readonly laneOf = laneOf;
  protected readonly sayLane = sayLane;
  private readonly clock = inject(SharedClock);
  readonly cues = input.required<readonly CueRow[]>();
  /** Of the event, or of the date whose start it is. */
  readonly facts = input.required<EventFacts>();
  readonly startAt = input.required<string>();
  readonly around = input<RailAround | null>(null);
  readonly chosen = input<number | null>(null);
  readonly canMove = input(false);
  /** Draws the other planned dates of a series over this one. */
  readonly allDates = input(false);
  readonly picked = output<CueRow>();
  readonly moved = output<{ readonly cue: CueRow; readonly toMs: number }>();
  readonly startMoved = output<number>();

  protected readonly width = railWidth;
  protected readonly moving = signal<Moving | null>(null);
  /** Why what somebody tried to move stays where it is. */
  private readonly stays = signal('');
  /** The click that a drag ends with opens nothing. */
  private hasJustMoved = false;
  private pressed: { readonly what: Moving['what']; readonly x: number } | null = null;

  protected readonly zone = computed(() => this.facts().zone);
  private readonly startMs = computed(() => Date.parse(this.startAt()));
  private readonly scale = computed(() => railScale(this.cues().map(({ firing }) => hoursOf(firing, this.startMs()))));
  protected readonly laid = computed(() => layCues(this.cues(), this.startMs(), this.scale()));
  protected readonly bottom = computed(() => this.laid().height - 24);
  protected readonly nowX = computed(() => this.xOf(this.clock.nowMs()));
  protected readonly startX = computed(() => this.xOf(this.startMs()));
  protected readonly marks = computed(() => {
    const { from, to, x } = this.scale();
    return railMarks.filter(([hours]) => hours > from && hours < to).map(([hours, label]) => ({ label, x: x(hours) }));
  });
  protected readonly ground = computed(() => {
    const around = this.around();
    return around ? groundOf(around, this.scale(), this.startMs(), this.zone()) : { quiet: [], free: [], changes: [] };
  });
  protected readonly others = computed(() => {
    const { lanes } = this.laid();
    const { from, to, x } = this.scale();
    return (this.around()?.others ?? []).flatMap((other) => {
      const hours = (Date.parse(other.dueAt) - this.startMs()) / hourMs;
      const lane = lanes.find(({ channel }) => channel === other.channel);
      if (!lane || hours < from || hours > to) return [];
      const title = `${other.title}${other.eventTitle ? `, ${other.eventTitle}` : ''}: ${sayInstant(Date.parse(other.dueAt), this.zone())}, ${sayPeople(other.tally, other.state)} people by ${sayLane(other.channel)}`;
      return [{ id: other.firingId, x: x(hours), y: lane.y + lane.height - 15, title }];
    });
  });
  protected readonly drawn = computed(() =>
    this.laid().placed.map((cue) => {
      const { firing, hazards } = cue.row;
      const people = sayPeople(firing.tally, firing.state);
      const moving = this.moving();
      const { gets, finishAt } = firing.tally;
      const until =
        finishAt === null
          ? cue.x
          : this.scale().x(cue.hours + (Date.parse(finishAt) - Date.parse(firing.dueAt)) / hourMs);
      return {
        ...cue,
        count: isDoneOnce(cue.row)
          ? '✓'
          : firing.state !== 'done' && gets > 9999
            ? `${Math.round(gets / 1000)}k`
            : sayPeople({ ...firing.tally, waiting: 0 }, firing.state),
        paceWidth: Math.max(0, until - cue.x),
        isAlarming: hazards.some(({ code }) => momentHazards.some((one) => one === code)),
        ghostX: moving?.what === cue.row.id ? this.xOf(moving.atMs) : null,
        title: `${cue.row.name}: ${firing.state}, ${sayInstant(Date.parse(firing.dueAt), this.zone())}, ${cue.row.does || `${people} people by ${cue.row.channel}`}`,
      };
    }),
  );
  /** The other dates of a series: where each of a cue's firings lies before its own date. */
  protected readonly otherDates = computed(() =>
    this.allDates()
      ? this.laid().placed.flatMap(({ row, y, hours }) =>
          row.ahead.flatMap((firing) => {
            if (!firing.occurrence) return [];
            const theirs = hoursOf(firing, this.startMs());
            const differs =
              Math.abs(theirs - hours) > 1 / 120 || (firing.state === 'stopped') !== (row.firing.state === 'stopped');
            const date = sayShortDay(wallTimeAt(Date.parse(firing.occurrence.startAt), this.zone()).slice(0, 10));
            return [
              {
                id: firing.id,
                x: this.scale().x(theirs),
                y,
                differs,
                title: `${row.name} for ${date}: ${firing.state}`,
              },
            ];
          }),
        )
      : [],
  );
  /** What a move would mean, as it happens; read aloud. */
  protected readonly saying = computed(() => {
    const moving = this.moving();
    const around = this.around();
    if (!moving || !around) return this.stays();
    if (moving.what === 'start') return `Starting ${sayInstant(moving.atMs, this.zone())}`;
    const cue = this.cues().find(({ id }) => id === moving.what);
    const all = { cues: this.cues(), facts: this.facts(), startMs: this.startMs(), around };
    return cue ? sayMove(cue, moving.atMs, all) : '';
  });
  protected readonly ghostStartX = computed(() => {
    const moving = this.moving();
    return moving?.what === 'start' ? this.xOf(moving.atMs) : null;
  });

  private readonly xOf = (atMs: number): number =>
    Math.min(railWidth, Math.max(0, this.scale().x((atMs - this.startMs()) / hourMs)));

  protected press(event: PointerEvent, what: Moving['what']): void {
    if (event.button !== 0 || !this.canMove()) return;
    this.pressed = { what, x: event.clientX };
    this.hasJustMoved = false;
    this.stays.set('');
    if (event.currentTarget instanceof Element) event.currentTarget.setPointerCapture(event.pointerId);
  }
  protected drag(event: PointerEvent): void {
    const { pressed } = this;
    if (!pressed || (!this.moving() && Math.abs(event.clientX - pressed.x) < dragPixels)) return;
    if (!this.mayMove(pressed.what)) {
      this.pressed = null;
      return;
    }
    const svg = event.currentTarget instanceof SVGElement ? event.currentTarget.ownerSVGElement : null;
    const box = svg?.getBoundingClientRect();
    if (!box?.width) return;
    const hours = this.scale().hoursAt(((event.clientX - box.left) * railWidth) / box.width);
    const atMs = this.startMs() + hours * hourMs;
    this.moving.set({
      what: pressed.what,
      atMs: snapped(atMs, this.startMs(), this.placeOf(pressed.what), this.zone()),
    });
  }
  protected drop(): void {
    this.pressed = null;
    // A press that went nowhere opens the cue: its click follows.
    if (this.moving()) this.finish();
  }
  protected click(row: CueRow): void {
    if (!this.hasJustMoved) this.picked.emit(row);
    this.hasJustMoved = false;
  }
  protected key(event: KeyboardEvent, what: Moving['what'], row: CueRow | null): void {
    const direction = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : null;
    if (direction !== null && this.canMove()) {
      event.preventDefault();
      if (!this.mayMove(what)) return;
      const now = this.moving();
      const fromMs = now?.what === what ? now.atMs : this.placeOf(what);
      this.moving.set({
        what,
        atMs: stepped(fromMs, this.startMs(), this.zone(), { direction, isLarge: event.shiftKey }),
      });
    } else if (event.key === 'Escape' && this.moving()) {
      event.stopPropagation();
      this.cancel();
    } else if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      if (this.moving()?.what === what) this.finish();
      else if (row) this.picked.emit(row);
    }
    this.hasJustMoved = false;
  }
  protected cancel(): void {
    this.pressed = null;
    this.moving.set(null);
    this.stays.set('');
  }

  private mayMove(what: Moving['what']): boolean {
    const cue = this.cues().find(({ id }) => id === what);
    const reason = what === 'start' || !cue ? '' : whyFixed(cue);
    this.stays.set(reason);
    return reason === '';
  }
  /** Where it is now, on the rail's own date. */
  private placeOf(what: Moving['what']): number {
    const cue = this.cues().find(({ id }) => id === what);
    return cue ? this.startMs() + hoursOf(cue.firing, this.startMs()) * hourMs : this.startMs();
  }
  private finish(): void {
    const moving = this.moving();
    this.moving.set(null);
    this.hasJustMoved = true;
    if (!moving || moving.atMs === this.placeOf(moving.what)) return;
    if (moving.what === 'start') this.startMoved.emit(moving.atMs);
    const cue = this.cues().find(({ id }) => id === moving.what);
    if (cue) this.moved.emit({ cue, toMs: moving.atMs });
  }

  protected readonly trackPlaced = (_: number, { row }: PlacedCue): number => row.id;
}
