import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { sayDay, wallTimeAt } from '@convite/core';
import type { Board, BoardItem } from '@convite/contract';
import { BoardApi } from '../api/board';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { BeginningList } from './beginning';
import { BoardRow, type BoardEntry } from './board-row';
import { LoadChart } from './load-chart';
import { NeedsYou } from './needs-you';

interface Day {
  readonly day: string;
  readonly label: string;
  readonly entries: BoardEntry[];
}

/** The home view: everything due to go out, in time order, with a now-line, and beside it what needs a person. */
@Component({
  selector: 'cv-call-board',
  imports: [BeginningList, BoardRow, LoadChart, MatButtonModule, NeedsYou, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Call board</h1>
        <span class="quiet">what goes out next, and what went out last</span>
        @if (session.canMarket()) {
          <a matButton="filled" class="push" routerLink="/events/new">New event</a>
        }
      </div>
      @if (board(); as board) {
        @if (board.beginning; as beginning) {
          <cv-beginning [beginning]="beginning" (changed)="resource.reload()" />
        }
        <cv-load-chart [load]="board.load" [today]="today()" />
        <div class="columns">
          <div class="stack">
            @if (board.behind.length) {
              <section aria-label="Gone out">
                <h2>Gone out</h2>
                @for (item of behind(); track item.firingId) {
                  <cv-board-row
                    [entry]="{ kind: 'firing', item }"
                    [zone]="board.zone"
                    [withDay]="true"
                    (changed)="resource.reload()"
                  />
                }
              </section>
            }
            <div class="now" role="separator"><span>now</span></div>
            <section aria-label="Going out" class="stack">
              @for (day of days(); track day.day) {
                <div>
                  <h2>{{ day.label }}</h2>
                  @for (entry of day.entries; track $index) {
                    <cv-board-row [entry]="entry" [zone]="board.zone" (changed)="resource.reload()" />
                  }
                </div>
              } @empty {
                <div class="empty">
                  Nothing is set to go out. Add cues in an event’s countdown, or a digest.<br /><a routerLink="/events"
                    >Go to the events</a
                  >
                </div>
              }
            </section>
          </div>
          <cv-needs-you [needs]="board.needs" [zone]="board.zone" />
        </div>
      } @else if (resource.error()) {
        <p class="note alarm" role="alert">
          The call board cannot be read just now. <button class="link" (click)="resource.reload()">Try again</button>
        </p>
      } @else {
        <p class="quiet" role="status">Reading the call board …</p>
      }
    </main>
  `,
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
  protected readonly resource = rxResource({ stream: () => this.api.board() });
  protected readonly board = computed<Board | null>(() => (this.resource.hasValue() ? this.resource.value() : null));
  protected readonly today = computed(() => this.dayOf(this.board()?.now ?? ''));
  /** Oldest first, so that time runs down the page to the now-line; the last few are enough. */
  protected readonly behind = computed<BoardItem[]>(() => (this.board()?.behind ?? []).slice(0, 5).reverse());
  protected readonly days = computed(() => this.byDay());

  constructor() {
    reloadOn(
      () => ['board', 'clock', 'events'],
      () => this.resource.reload(),
    );
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
      ...board.starts.filter(({ at }) => at >= board.now).map((start): BoardEntry => ({ kind: 'start', start })),
    ];
    const at = (entry: BoardEntry): string => (entry.kind === 'firing' ? entry.item.dueAt : entry.start.at);
    const days = new Map<string, Day>();
    for (const entry of entries.sort((a, b) => at(a).localeCompare(at(b)))) {
      const day = this.dayOf(at(entry));
      const label = day === this.today() ? `Today, ${sayDay(day)}` : sayDay(day);
      const known = days.get(day) ?? { day, label, entries: [] };
      known.entries.push(entry);
      days.set(day, known);
    }
    return [...days.values()];
  }
}
