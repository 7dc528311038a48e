import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import type { CueRow, EventDetail, RailAround } from '@convite/contract';
import { occurrencesBetween, postpone, sayDistance, startingAt, type EventFacts, type Scope } from '@convite/core';
import { EventsApi } from '../api/events';
import { sayError } from '../refused';
import { sayCount, sayInstant } from '../ui/say';
import { SharedClock } from '../ui/shared-clock';
import { aroundOf } from './rail/say-move';

/** What another start would do, before anything is saved: where each cue would go, what would be late, who would have to be told. */
@Component({
  selector: 'cv-start-move',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Another start">
      <h2>If it started {{ say(toMs()) }}</h2>
      <p class="quiet">It starts {{ say(startMs()) }} now. Nothing is saved yet.</p>
      <div class="scroll">
        <table>
          <thead>
            <tr>
              <th>Cue</th>
              <th>Now</th>
              <th>Then</th>
              <th>Look at</th>
            </tr>
          </thead>
          <tbody>
            @for (one of then(); track one.id) {
              <tr>
                <td>{{ one.name }}</td>
                <td>{{ say(one.fromMs) }}</td>
                <td>{{ one.toMs === one.fromMs ? 'stays' : say(one.toMs) }}</td>
                <td>
                  @if (one.isLate) {
                    <span class="alarm">too late: it would be missed ({{ distance(one.toMs) }})</span>
                  }
                </td>
              </tr>
            } @empty {
              <tr>
                <td colspan="4">No cue is still to come.</td>
              </tr>
            }
          </tbody>
        </table>
      </div>
      <p>{{ told() }}</p>
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
      <div class="row">
        <button matButton="filled" [disabled]="isBusy()" (click)="save()">{{ saveWords() }}</button>
        <button matButton (click)="closed.emit()">Leave it where it is</button>
      </div>
    </section>
  `,
  styles: `
    .scroll {
      overflow-x: auto;
    }
    table {
      border-collapse: collapse;
      width: 100%;
    }
    th,
    td {
      text-align: left;
      padding: 6px 12px 6px 0;
      border-bottom: 1px solid var(--line);
    }
  `,
})
export class StartMove {
  private readonly api = inject(EventsApi);
  private readonly router = inject(Router);
  private readonly clock = inject(SharedClock);
  readonly event = input.required<EventDetail>();
  /** Of the date that the rail shows. */
  readonly facts = input.required<EventFacts>();
  readonly cues = input.required<readonly CueRow[]>();
  readonly around = input.required<RailAround>();
  readonly toMs = input.required<number>();
  readonly closed = output();
  protected readonly isBusy = signal(false);
  protected readonly problem = signal('');

  protected readonly startMs = computed(() => Date.parse(this.event().startAt));
  protected readonly then = computed(() => {
    const alive = this.cues().filter(({ firing }) => ['draft', 'set', 'standby'].includes(firing.state));
    const names = new Map(alive.map(({ id, name }) => [id, name]));
    const { standbyMinutes } = this.around();
    return postpone(
      alive,
      this.facts(),
      this.toMs(),
      this.clock.nowMs(),
      aroundOf(this.around()),
      standbyMinutes * 60_000,
    )
      .map((one) => ({ ...one, name: names.get(one.id) ?? '' }))
      .sort((a, b) => a.toMs - b.toMs);
  });
  private readonly count = computed(() => {
    const { email, text } = this.around().toTell;
    return { email, text, all: email + text };
  });
  protected readonly told = computed(() => {
    const { email, text, all } = this.count();
    if (all === 0) return 'Nobody holds the event yet: nobody has to be told.';
    const by = [
      email ? `${sayCount(email, 'person', 'people')} by email` : '',
      text ? `${sayCount(text, 'person', 'people')} by text` : '',
    ];
    return `To be told: ${by.filter(Boolean).join(' and ')}. The notice stands ready under Changes as soon as it is moved.`;
  });
  protected readonly saveWords = computed(() => (this.count().all ? 'Move it, and look at the notice' : 'Move it'));

  protected say = (atMs: number): string => sayInstant(atMs, this.facts().zone);
  protected distance = (atMs: number): string => sayDistance(this.clock.nowMs(), atMs, this.facts().zone);

  protected save(): void {
    const { id, version, facts } = this.event();
    this.isBusy.set(true);
    this.problem.set('');
    const [date] = facts.series ? occurrencesBetween(facts, this.startMs(), this.startMs() + 1) : [];
    const scope: Scope = date ? { kind: 'one', key: date.key } : { kind: 'all' };
    this.api.save(id, startingAt(this.facts(), this.toMs()), version, scope).subscribe({
      next: () => {
        this.closed.emit();
        if (this.count().all) void this.router.navigate(['/events', id, 'changes']);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(sayError(error));
      },
    });
  }
}
