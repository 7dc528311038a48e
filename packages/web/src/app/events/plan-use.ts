import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { map, of, type Observable } from 'rxjs';
import { sayProblem, type PlanFit, type PlanRow, type PlanSource } from '@convite/contract';
import { sayMoment } from '@convite/core';
import { EventsApi } from '../api/events';
import { PlansApi } from '../api/plans';
import { reading, readingOf } from '../api/reading';
import { sayError } from '../refused';
import { Chooser, type Choice } from '../ui/chooser';
import { Confirm } from '../ui/confirm';
import { ReadingProblem } from '../ui/reading-problem';
import { sayCount, sayInstant } from '../ui/say';
import { OurWord } from '../ui/word';
import { Toast } from '../ui/toast';

type FitCue = PlanFit['cues'][number];

/** Takes a whole countdown over, from a plan or from another event: first what it would be, date by date, then what is chosen of it. */
@Component({
  selector: 'cv-plan-use',
  imports: [Chooser, MatButtonModule, MatCheckboxModule, OurWord, ReadingProblem],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Use a plan">
      <div class="row">
        <h2>Use a plan</h2>
        <cv-word class="small quiet" word="plan">what a plan is</cv-word>
        <button matButton class="push" (click)="closed.emit()">Close</button>
      </div>
      <div class="columns">
        <div class="stack">
          <cv-reading-problem [of]="plans" what="The plans" />
          <ul class="plans">
            @for (plan of plans.value(); track name(plan)) {
              <li [class.chosen]="isChosen(plan)">
                <button class="link" [attr.aria-pressed]="isChosen(plan)" (click)="choose(plan.source)">
                  <strong>{{ plan.name }}</strong>
                </button>
                <span class="small quiet">{{ cues(plan.cues) }}</span>
                @if (plan.source.kind === 'plan') {
                  <button class="link small" [attr.aria-label]="'Remove the plan ' + plan.name" (click)="remove(plan)">
                    Remove
                  </button>
                }
                @if (plan.says) {
                  <div class="small quiet">{{ plan.says }}</div>
                }
              </li>
            }
          </ul>
          <cv-chooser
            label="Or the cues of another event"
            placeholder="Or the cues of another event"
            [find]="findEvents"
            (chosen)="choose({ kind: 'event', id: $event.value })"
          />
        </div>
        <div class="stack">
          @if (fit.value(); as it) {
            <h3>{{ it.name }}</h3>
            <ul class="cues">
              @for (cue of it.cues; track cue.key) {
                <li>
                  <mat-checkbox
                    [checked]="isTaken(cue)"
                    [disabled]="!cue.canBeKept"
                    (change)="take(cue.key, $event.checked)"
                    ><strong>{{ cue.name }}</strong
                    >&ngsp;<span class="quiet"
                      >by {{ cue.hasText ? 'email and text' : cue.channel }}</span
                    ></mat-checkbox
                  >
                  <div class="small quiet">{{ say(cue) }}</div>
                  @for (problem of cue.problems; track problem.code) {
                    <div class="small alarm">{{ sayProblem(problem) }}</div>
                  }
                </li>
              } @empty {
                <li>There is no cue in it.</li>
              }
            </ul>
            @if (problem()) {
              <p class="note alarm" role="alert">{{ problem() }}</p>
            }
            <div class="row">
              <button matButton="filled" [disabled]="isBusy() || keys().length === 0" (click)="apply(false)">
                Set {{ cues(keys().length) }}
              </button>
              <button matButton="outlined" [disabled]="isBusy() || keys().length === 0" (click)="apply(true)">
                Keep as drafts
              </button>
            </div>
            <p class="small quiet">What does not fit whole becomes a draft in any case. Nothing goes out now.</p>
          } @else {
            <cv-reading-problem [of]="fit" what="The plan" />
            <p class="quiet">Choose a plan, and see when each of its cues would go for this event.</p>
          }
        </div>
      </div>
    </section>
  `,
  styles: `
    .columns {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(min(100%, 320px), 1fr));
      gap: 24px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      padding: 8px 10px;
      border-bottom: 1px solid var(--line);
    }
    .plans li.chosen {
      box-shadow: inset 3px 0 var(--lead);
    }
    .plans .small {
      margin-left: 8px;
    }
    .plans div.small,
    .cues div.small {
      margin: 2px 0 0;
    }
    .cues div.small {
      padding-left: 40px;
    }
  `,
})
export class PlanUse {
  private readonly api = inject(PlansApi);
  private readonly events = inject(EventsApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  readonly eventId = input.required<number>();
  readonly zone = input.required<string>();
  readonly closed = output();
  /** Cues were taken over. */
  readonly applied = output();

  protected readonly sayProblem = sayProblem;
  protected readonly plans = reading(() => this.api.list(), []);
  protected readonly source = signal<PlanSource | null>(null);
  protected readonly fit = readingOf(
    () => this.source(),
    // What is taken over is what stands there, whatever was chosen meanwhile.
    (source) =>
      source === null ? of(null) : this.api.fit(this.eventId(), source).pipe(map((found) => ({ ...found, source }))),
    null,
  );
  /** What somebody ticked otherwise than at first. */
  private readonly ticked = signal<ReadonlyMap<number, boolean>>(new Map());
  protected readonly isBusy = signal(false);
  protected readonly problem = signal('');
  protected readonly keys = computed(() =>
    (this.fit.value()?.cues ?? []).filter((cue) => this.isTaken(cue)).map(({ key }) => key),
  );
  protected readonly findEvents = (search: string): Observable<readonly Choice<number>[]> =>
    this.events
      .withCues({ search })
      .pipe(
        map((found) =>
          found.filter(({ id }) => id !== this.eventId()).map(({ id, title }) => ({ value: id, name: title })),
        ),
      );

  protected name = ({ source, name }: PlanRow): string => `${source.kind} ${name}`;
  protected cues = (count: number): string => sayCount(count, 'cue', 'cues');
  protected isChosen = ({ source }: PlanRow): boolean => JSON.stringify(source) === JSON.stringify(this.source());
  protected isTaken = ({ key, canBeKept }: FitCue): boolean => canBeKept && (this.ticked().get(key) ?? true);
  protected say = ({ moment, dueAt }: FitCue): string =>
    [sayMoment(moment), dueAt === null ? '' : sayInstant(Date.parse(dueAt), this.zone())].filter(Boolean).join(' · ');

  protected choose(source: PlanSource): void {
    this.source.set(source);
    this.ticked.set(new Map());
    this.problem.set('');
  }
  protected take(key: number, isTaken: boolean): void {
    this.ticked.update((ticked) => new Map(ticked).set(key, isTaken));
  }
  protected apply(isDraft: boolean): void {
    const source = this.fit.value()?.source;
    if (!source) return;
    this.isBusy.set(true);
    this.api.apply(this.eventId(), { source, keys: this.keys(), isDraft }).subscribe({
      next: ({ set, drafts }) => {
        this.isBusy.set(false);
        this.toast.say(
          [set ? `${this.cues(set)} set.` : '', drafts ? `${sayCount(drafts, 'draft', 'drafts')} to finish.` : '']
            .filter(Boolean)
            .join(' '),
        );
        this.applied.emit();
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(sayError(error));
      },
    });
  }
  protected remove({ source, name }: PlanRow): void {
    if (source.kind !== 'plan') return;
    this.confirm
      .ask({ title: `Remove the plan “${name}”?`, text: 'The cues that were made of it stay.', yes: 'Remove it' })
      .subscribe(() =>
        this.api.remove(source.id).subscribe({
          next: () => {
            if (JSON.stringify(this.source()) === JSON.stringify(source)) this.source.set(null);
            this.plans.reload();
          },
          error: (error: unknown) => this.toast.fail(error),
        }),
      );
  }
}
