import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { PlanFollower } from '@convite/contract';
import { PlansApi } from '../api/plans';
import { reading } from '../api/reading';
import { sayError } from '../refused';
import { ReadingProblem } from '../ui/reading-problem';
import { sayCount, sayInstant } from '../ui/say';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';

/** Keeps the countdown of an event as a plan, new or in place of one; then asks which events follow the change. */
@Component({
  selector: 'cv-plan-keep',
  imports: [MatButtonModule, MatCheckboxModule, MatFormFieldModule, MatInputModule, ReadingProblem],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Keep as a plan">
      <div class="row">
        <h2>Keep as a plan</h2>
        <button matButton class="push" (click)="closed.emit()">Close</button>
      </div>
      @if (followers(); as rows) {
        <p>Which of these events follow? What somebody changed there by hand stays as it is.</p>
        <ul>
          @for (one of rows; track one.eventId) {
            <li>
              <mat-checkbox [checked]="chosen().has(one.eventId)" (change)="choose(one.eventId, $event.checked)"
                ><strong>{{ one.title }}</strong
                >&ngsp;<span class="quiet">{{ about(one) }}</span></mat-checkbox
              >
            </li>
          }
        </ul>
        @if (hasMore()) {
          <p class="note">More events use this plan than are shown; once these follow, keep it again for the others.</p>
        }
        <div class="row">
          <button matButton="filled" [disabled]="isBusy() || chosen().size === 0" (click)="follow()">
            {{ followWords() }}
          </button>
          <button matButton (click)="closed.emit()">None of them</button>
        </div>
      } @else {
        <cv-reading-problem [of]="plans" what="The plans" />
        <div class="row">
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><select matNativeControl aria-label="Which plan" (change)="pick(typed($event))">
              <option value="0" [selected]="id() === null">a new plan</option>
              @for (plan of own(); track plan.id) {
                <option [value]="plan.id" [selected]="plan.id === id()">in place of {{ plan.name }}</option>
              }
            </select></mat-form-field
          >
          <mat-form-field class="grow" subscriptSizing="dynamic"
            ><mat-label>Name</mat-label
            ><input matInput maxlength="80" [value]="name()" (input)="name.set(typed($event))"
          /></mat-form-field>
        </div>
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>What it is good for</mat-label
          ><input matInput maxlength="200" [value]="says()" (input)="says.set(typed($event))"
        /></mat-form-field>
        <div class="row">
          <button matButton="filled" [disabled]="isBusy() || !name().trim()" (click)="keep()">Keep it</button>
          <span class="small quiet">Its cues are kept with moments, audiences and words, without dates.</span>
        </div>
      }
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
    </section>
  `,
  styles: `
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
  `,
})
export class PlanKeep {
  private readonly api = inject(PlansApi);
  private readonly toast = inject(Toast);
  readonly eventId = input.required<number>();
  readonly closed = output();
  protected readonly typed = typed;
  protected readonly plans = reading(() => this.api.list(), []);
  protected readonly own = computed(() =>
    this.plans
      .value()
      .flatMap(({ source, name, says }) => (source.kind === 'plan' ? [{ id: source.id, name, says }] : [])),
  );
  protected readonly id = signal<number | null>(null);
  protected readonly name = signal('');
  protected readonly says = signal('');
  protected readonly isBusy = signal(false);
  protected readonly problem = signal('');
  /** The events to ask about, once it is kept; null before. */
  protected readonly followers = signal<readonly PlanFollower[] | null>(null);
  protected readonly hasMore = signal(false);
  protected readonly chosen = signal<ReadonlySet<number>>(new Set());
  protected readonly followWords = computed(() => `Let ${sayCount(this.chosen().size, 'event', 'events')} follow`);

  protected pick(text: string): void {
    const plan = this.own().find(({ id }) => id === Number(text));
    this.id.set(plan?.id ?? null);
    if (!plan) return;
    this.name.set(plan.name);
    this.says.set(plan.says);
  }
  protected about = ({ startAt, zone, cues, changed }: PlanFollower): string =>
    [sayInstant(Date.parse(startAt), zone), sayCount(cues, 'cue', 'cues'), changed ? `${changed} changed by hand` : '']
      .filter(Boolean)
      .join(' · ');
  protected choose(id: number, isChosen: boolean): void {
    this.chosen.update((chosen) => new Set(isChosen ? [...chosen, id] : [...chosen].filter((one) => one !== id)));
  }

  protected keep(): void {
    this.isBusy.set(true);
    this.problem.set('');
    const was = this.id();
    this.api.keep({ eventId: this.eventId(), id: was, name: this.name().trim(), says: this.says().trim() }).subscribe({
      next: ({ id }) => {
        this.toast.say(`“${this.name().trim()}” is kept as a plan.`);
        if (was === null) this.closed.emit();
        else this.askWhoFollows(id);
      },
      error: (error: unknown) => this.fail(error),
    });
  }
  private askWhoFollows(id: number): void {
    this.api.followers(id).subscribe({
      next: ({ rows, hasMore }) => {
        this.isBusy.set(false);
        const others = rows.filter(({ eventId }) => eventId !== this.eventId());
        if (others.length === 0) return this.closed.emit();
        this.hasMore.set(hasMore);
        this.followers.set(others);
        this.chosen.set(new Set(others.map(({ eventId }) => eventId)));
      },
      error: (error: unknown) => this.fail(error),
    });
  }
  protected follow(): void {
    const id = this.id();
    if (id === null) return;
    this.isBusy.set(true);
    this.api.follow(id, [...this.chosen()]).subscribe({
      next: ({ changed, added, removed, drafts }) => {
        const words = [
          changed ? `${changed} changed` : '',
          added ? `${added} added` : '',
          removed ? `${removed} removed` : '',
          drafts ? `${drafts} of them drafts to finish` : '',
        ].filter(Boolean);
        this.toast.say(words.length ? `Cues: ${words.join(', ')}.` : 'They stood so already.');
        this.closed.emit();
      },
      error: (error: unknown) => this.fail(error),
    });
  }
  private fail(error: unknown): void {
    this.isBusy.set(false);
    this.problem.set(sayError(error));
  }
}
