import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { OurWord } from '../ui/word';
import { sayDay, sayNumber } from '../ui/say';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatChipsModule } from '@angular/material/chips';
import type { Observable } from 'rxjs';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { wallTimeAt } from '@convite/core';
import { mostOnBoard, type Board, type BoardItem, type BoardQuery } from '@convite/contract';
import { BoardApi } from '../api/board';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { Confirm } from '../ui/confirm';
import { Toast } from '../ui/toast';
import { Chooser, type Choice } from '../ui/chooser';
import { findEventChoices } from '../ui/event-choices';
import { Filter, type FilterChoice } from '../ui/table/filter';
import { Toggle, type ToggleOption } from '../ui/toggle';
import { BeginningList } from './beginning';
import { BoardRow, type BoardEntry } from './board-row';
import { LoadChart } from './load-chart';
import { NeedsYou } from './needs-you';
import { SideBySide } from './side-by-side';

interface Day {
  readonly day: string;
  readonly label: string;
  readonly entries: BoardEntry[];
  /** More than a week ahead: one line until somebody opens it. */
  readonly isFar: boolean;
  readonly summary: string;
}

/** The home view: everything due to go out, in time order, with a now-line, and beside it what needs a person. */
@Component({
  selector: 'cv-call-board',
  imports: [
    BeginningList,
    BoardRow,
    Chooser,
    Filter,
    LoadChart,
    MatButtonModule,
    MatChipsModule,
    NeedsYou,
    OurWord,
    RouterLink,
    SideBySide,
    Toggle,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './call-board.html',
  styles: `
    .now {
      display: flex;
      align-items: center;
      gap: 10px;
      color: var(--alarm);
      font-weight: 650;
      font-size: 13px;
    }
    .now::after {
      content: '';
      flex: 1;
      border-top: 2px solid var(--alarm);
    }
    .far {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 14px;
      width: 100%;
      padding: 8px 12px;
      font: inherit;
      color: inherit;
      text-align: left;
      background: none;
      border: 1px dashed var(--line);
      border-radius: 4px;
      cursor: pointer;
    }
    .ways {
      justify-self: start;
    }
    .far:hover {
      background: var(--lead-wash);
    }
    h2 {
      margin-bottom: 6px;
    }
    cv-load-chart {
      display: block;
      margin-bottom: 20px;
    }
  `,
})
export class CallBoard {
  private readonly api = inject(BoardApi);
  protected readonly session = inject(Session);
  private readonly events = inject(EventsApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  protected readonly short = fewBehind;
  protected readonly most = mostOnBoard;
  protected readonly channels: readonly FilterChoice<BoardQuery['channel']>[] = [
    { key: 'email', label: 'by email' },
    { key: 'text', label: 'by text' },
    { key: 'act', label: 'tasks' },
  ];
  protected readonly kinds: readonly FilterChoice<BoardQuery['kind']>[] = [
    { key: 'cue', label: 'cues' },
    { key: 'digest', label: 'digests' },
    { key: 'invitation', label: 'invitations' },
    { key: 'notice', label: 'notices' },
    { key: 'answer', label: 'answers' },
    { key: 'manual', label: 'messages by hand' },
  ];
  protected readonly states: readonly FilterChoice<BoardQuery['state']>[] = [
    { key: 'draft', label: 'draft' },
    { key: 'set', label: 'set, or in standby' },
    { key: 'sending', label: 'sending' },
    { key: 'done', label: 'done' },
    { key: 'failed', label: 'failed: nobody reached' },
    { key: 'stopped', label: 'stopped' },
    { key: 'missed', label: 'missed' },
  ];
  protected readonly state = signal<BoardQuery['state']>('');
  protected readonly channel = signal<BoardQuery['channel']>('');
  protected readonly kind = signal<BoardQuery['kind']>('');
  protected readonly only = signal<Choice<number> | null>(null);
  protected readonly isNarrowed = computed(() => Boolean(this.channel() || this.kind() || this.state() || this.only()));
  protected readonly aheadCount = signal(40);
  protected readonly behindCount = signal(fewBehind);
  protected readonly findEvent = (text: string): Observable<readonly Choice<number>[]> =>
    findEventChoices((query) => this.events.list(query), text, ['coming', 'past']);
  protected readonly resource = rxResource({
    params: () => ({
      channel: this.channel(),
      kind: this.kind(),
      state: this.state(),
      event: this.only()?.value ?? 0,
      ahead: this.aheadCount(),
      behind: this.behindCount(),
    }),
    stream: ({ params }) => this.api.board(params),
  });
  /** What was read last stays while the next is on its way. */
  private readonly last = linkedSignal<Board | null, Board | null>({
    source: () => (this.resource.hasValue() ? (this.resource.value() ?? null) : null),
    computation: (read, before) => read ?? before?.value ?? null,
  });
  private readonly opened = signal<ReadonlySet<string>>(new Set());
  protected readonly board = this.last.asReadonly();
  protected readonly today = computed(() => this.dayOf(this.board()?.now ?? ''));
  /** Oldest first, so that time runs down the page to the now-line; the last few are enough. */
  protected readonly behind = computed<BoardItem[]>(() => [...(this.board()?.behind ?? [])].reverse());
  protected readonly days = computed(() => this.byDay());

  constructor() {
    reloadOn(
      () => ['board', 'clock', 'events'],
      () => this.resource.reload(),
    );
  }

  protected isOpen = (day: string): boolean => this.opened().has(day);
  protected open(day: string): void {
    this.opened.update((open) => new Set([...open, day]));
  }
  protected readonly shapes: readonly ToggleOption<boolean>[] = [
    { key: false, label: 'in time order' },
    { key: true, label: 'side by side' },
  ];
  protected readonly isBeside = signal(false);
  /** Side by side as much is shown as the board ever does. */
  protected finish(taskId: number): void {
    this.api.finishTask(taskId).subscribe({
      next: () => this.resource.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected showBeside(isBeside: boolean): void {
    this.isBeside.set(isBeside);
    if (isBeside) this.aheadCount.set(mostOnBoard);
  }
  protected moreBehind(): void {
    this.behindCount.update((count) => (count > fewBehind ? Math.min(mostOnBoard, count * 2) : 40));
  }
  protected moreAhead(): void {
    this.aheadCount.update((count) => Math.min(mostOnBoard, count * 2));
  }
  protected showAll(): void {
    this.channel.set('');
    this.kind.set('');
    this.state.set('');
    this.only.set(null);
  }
  private dayOf(at: string): string {
    const zone = this.board()?.zone;
    return at && zone ? wallTimeAt(Date.parse(at), zone).slice(0, 10) : '';
  }

  private byDay(): Day[] {
    const board = this.board();
    if (!board) return [];
    const entries: BoardEntry[] = [
      ...board.ahead.map((item): BoardEntry => ({ kind: 'firing', item })),
      ...(this.channel() || this.kind() || this.state() ? [] : board.starts)
        .filter(({ at, eventId }) => at >= board.now && (!this.only() || this.only()?.value === eventId))
        .map((start): BoardEntry => ({ kind: 'start', start })),
    ];
    const at = (entry: BoardEntry): string => (entry.kind === 'firing' ? entry.item.dueAt : entry.start.at);
    const days = new Map<string, { day: string; label: string; entries: BoardEntry[] }>();
    const far = this.dayOf(new Date(Date.parse(board.now) + farMs).toISOString());
    for (const entry of entries.sort((a, b) => at(a).localeCompare(at(b)))) {
      const day = this.dayOf(at(entry));
      const label = day === this.today() ? `Today, ${sayDay(day)}` : sayDay(day);
      const known = days.get(day) ?? { day, label, entries: [] };
      known.entries.push(entry);
      days.set(day, known);
    }
    return [...days.values()].map((day) => ({ ...day, isFar: day.day > far, summary: summaryOf(day.entries) }));
  }

  /** For when something is very wrong; each channel is let go on from the strip. */
  protected holdEverything(): void {
    this.confirm
      .ask({
        title: 'Hold everything?',
        text: 'Nothing leaves the house any more, neither email nor texts, answers and changes neither, until somebody lets each go on at the top of the screen. What is waiting goes then, but for what has become too late.',
        yes: 'Hold everything',
      })
      .subscribe(() =>
        this.api.holdEverything().subscribe({
          next: () => this.toast.say('Everything is held.'),
          error: (error: unknown) => this.toast.fail(error),
        }),
      );
  }
}

/** So many of what went out stand on the board; all of it is one press away. */
const fewBehind = 4;
/** Days beyond a week are one line each. */
const farMs = 7 * 86_400_000;

/** A day in a line: how much goes out, to how many, and what begins. */
function summaryOf(entries: readonly BoardEntry[]): string {
  const firings = entries.flatMap((entry) => (entry.kind === 'firing' ? [entry.item] : []));
  const people = firings.reduce((sum, { tally }) => sum + tally.gets, 0);
  const begins = entries.flatMap((entry) => (entry.kind === 'start' ? [entry.start.title] : []));
  return [
    firings.length &&
      `${firings.length === 1 ? '1 sending' : `${firings.length} sendings`} to about ${sayNumber(people)}`,
    begins.length && `★ ${begins.join(', ')}`,
  ]
    .filter(Boolean)
    .join(' · ');
}
