import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { rxResource, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { debounceTime } from 'rxjs';
import type { RehearsalForAll } from '@convite/contract';
import { EventsApi } from '../api/events';
import { sayCount, sayInstant, sayNumber } from '../ui/say';
import { typed } from '../ui/typed';
import { RehearsalWorker } from '../workers/rehearsal';

const dayMs = 86_400_000;
const mostDays = 365;
const shown = 60;

/** The countdown rehearsed for all its people: how many get what and when, who would get too much, and what would be otherwise. */
@Component({
  selector: 'cv-rehearsal-all',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (found(); as it) {
      <p role="status">
        <strong>{{ count(it.reached) }}</strong> get <strong>{{ messages(it.messages) }}</strong> in all;
        {{ it.ofMost === 1 ? 'one of them gets' : number(it.ofMost) + ' of them get' }} as many as
        {{ number(it.most) }} within a week.
        @if (all().perWeek; as limit) {
          <strong [class.alarm]="it.over > 0">{{ over(it.over, limit) }}</strong>
        }
      </p>
      <div class="row">
        <span>What if</span>
        <mat-form-field class="inline number" subscriptSizing="dynamic"
          ><input
            matInput
            type="number"
            min="0"
            max="100000"
            aria-label="So many more register"
            [value]="more()"
            (input)="more.set(whole(typed($event), 100000))"
        /></mat-form-field>
        <span>more register</span>
        @if (isChanged()) {
          <button matButton (click)="reset()">As it stands</button>
        }
      </div>
      <table>
        <thead>
          <tr>
            <th scope="col">Cue</th>
            <th scope="col">by</th>
            <th scope="col" class="number">people</th>
            <th scope="col" class="number">times</th>
            <th scope="col">moved by days</th>
          </tr>
        </thead>
        <tbody>
          @for (cue of all().cues; track cue.id) {
            <tr>
              <th scope="row">{{ cue.name }}</th>
              <td>{{ cue.channel }}</td>
              <td class="number">{{ number(it.people.get(cue.id) ?? 0) }}{{ cue.hasMore ? ' and more' : '' }}</td>
              <td class="number">{{ cue.dueAt.length }}</td>
              <td>
                <input
                  type="number"
                  min="-365"
                  max="365"
                  [attr.aria-label]="'Days by which ' + cue.name + ' is moved'"
                  [value]="moved().get(cue.id) ?? 0"
                  (input)="move(cue.id, whole(typed($event), 365))"
                />
              </td>
            </tr>
          } @empty {
            <tr>
              <td colspan="5">There is no cue with a moment for everybody.</td>
            </tr>
          }
        </tbody>
      </table>
      <h3>In their order</h3>
      <ol class="course">
        @for (one of course(); track $index) {
          <li>
            <span class="at">{{ one.at }}</span>
            <span class="bar" [style.width.%]="one.share"></span>
            <span>{{ one.name }} → {{ number(one.count) }}</span>
          </li>
        }
      </ol>
      @if (it.course.length > course().length) {
        <p class="quiet small">and {{ number(it.course.length - course().length) }} later ones</p>
      }
      <p class="quiet small">
        Who gets a cue is asked as it stands now; later dates of a series are taken to go to the same people.
        {{ apart() }}
      </p>
    } @else if (result.error()) {
      <p class="note alarm" role="alert">It cannot be gone through here.</p>
    } @else {
      <p class="quiet" role="status">Going through it for everybody …</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 12px;
    }
    p,
    h3 {
      margin: 0;
    }
    table {
      border-collapse: collapse;
      max-width: 820px;
    }
    th,
    td {
      padding: 4px 12px 4px 0;
      text-align: left;
      border-bottom: 1px solid var(--line);
    }
    .number {
      text-align: right;
      font-variant-numeric: tabular-nums;
    }
    .inline.number {
      width: 110px;
    }
    td input {
      width: 80px;
      font: inherit;
      color: inherit;
      background: var(--sheet);
      border: 1px solid var(--quiet);
      border-radius: 3px;
      padding: 4px 6px;
    }
    .course {
      list-style: none;
      margin: 0;
      padding: 0;
      display: grid;
      gap: 2px;
    }
    .course li {
      display: grid;
      grid-template-columns: 240px minmax(0, 1fr) minmax(0, 1.4fr);
      gap: 10px;
      align-items: center;
      font-variant-numeric: tabular-nums;
    }
    .bar {
      height: 10px;
      min-width: 2px;
      background: var(--lead);
      border-radius: 2px;
    }
    @media (max-width: 700px) {
      .course li {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class RehearsalAll {
  private readonly api = inject(EventsApi);
  private readonly worker = inject(RehearsalWorker);
  readonly eventId = input.required<number>();
  protected readonly typed = typed;
  protected readonly number = sayNumber;
  protected readonly more = signal(0);
  protected readonly moved = signal<ReadonlyMap<number, number>>(new Map());
  protected readonly isChanged = computed(() => this.more() !== 0 || [...this.moved().values()].some(Boolean));
  private readonly read = rxResource({
    params: () => this.eventId() || undefined,
    stream: ({ params }) => this.api.rehearsalForAll(params),
  });
  protected readonly all = computed((): RehearsalForAll =>
    this.read.hasValue() ? (this.read.value() ?? nothing) : nothing,
  );
  private readonly wished = computed(() => ({ more: this.more(), moved: this.moved() }));
  /** Whoever types is not answered at each letter. */
  private readonly settled = toSignal(toObservable(this.wished).pipe(debounceTime(150)), {
    initialValue: { more: 0, moved: new Map<number, number>() },
  });
  protected readonly result = rxResource({
    params: () => {
      if (!this.read.hasValue()) return undefined;
      const { more, moved } = this.settled();
      const { cues, perWeek } = this.all();
      return {
        cues: cues.map(({ id, dueAt, people, reachesNew }) => ({
          ...{ id, people, reachesNew },
          dueMs: dueAt.map((at) => Date.parse(at)),
        })),
        perWeek,
        whatIf: {
          moreRegister: more,
          movedMs: new Map([...moved].map(([id, days]) => [id, days * dayMs])),
        },
      };
    },
    stream: ({ params }) => this.worker.run(params),
  });
  protected readonly found = computed(() => (this.result.hasValue() ? (this.result.value() ?? null) : null));
  protected readonly course = computed(() => {
    const { cues, zone } = this.all();
    const names = new Map(cues.map(({ id, name, channel }) => [id, `${name}, ${channel}`]));
    const course = (this.found()?.course ?? []).slice(0, shown);
    const most = Math.max(1, ...course.map(({ count }) => count));
    return course.map(({ atMs, cueId, count }) => ({
      at: sayInstant(atMs, zone),
      name: names.get(cueId) ?? '',
      count,
      share: (100 * count) / most,
    }));
  });
  protected readonly apart = computed(() => {
    const { apart } = this.all();
    return apart === 0
      ? ''
      : `${sayCount(apart, 'cue goes', 'cues go')} by something of each person’s own, and are not counted here.`;
  });

  protected count = (people: number): string => sayCount(people, 'person', 'people');
  protected messages = (count: number): string => sayCount(count, 'message', 'messages');
  protected over = (people: number, limit: number): string =>
    people === 0
      ? `Nobody gets more than ${limit} a week.`
      : `${sayCount(people, 'person', 'people')} would get more than ${limit} in a week: what is over is held back.`;
  protected whole = (text: string, most: number): number =>
    Math.max(-most, Math.min(most, Math.round(Number(text) || 0)));
  protected move(id: number, days: number): void {
    this.moved.update((moved) => new Map(moved).set(id, Math.max(-mostDays, Math.min(mostDays, days))));
  }
  protected reset(): void {
    this.more.set(0);
    this.moved.set(new Map());
  }
}

const nothing: RehearsalForAll = { zone: 'UTC', perWeek: null, cues: [], apart: 0 };
