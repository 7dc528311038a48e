import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, input, output, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import type { Subscription } from 'rxjs';
import type { List, PourList, PourProgress } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { sayError } from '../refused';
import { sayCount, sayNumber } from '../ui/say';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';

/** Copies a list, or puts it together with another: all its members go onto that one, and this one is put away. */
@Component({
  selector: 'cv-pour-list',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule, MatProgressBarModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="stack tight" aria-label="Copy it, or put it together with another">
      <h3>Copy it, or put it together with another</h3>
      @if (progress(); as it) {
        <div class="row" role="status">
          <mat-progress-bar class="grow" mode="determinate" [value]="it.total ? (it.done / it.total) * 100 : 100" />
          <span class="small">{{ sayNumber(it.done) }} of {{ sayNumber(it.total) }}</span>
          <button class="link" type="button" (click)="stop()">Stop</button>
        </div>
      } @else {
        <form class="row" (submit)="copy($event, name.value)">
          <mat-form-field class="grow" subscriptSizing="dynamic"
            ><input
              matInput
              #name
              aria-label="Name of the copy"
              placeholder="Name of the copy"
              maxlength="120" /></mat-form-field
          ><button matButton="outlined">Copy</button>
        </form>
        @if (others().length) {
          <div class="row">
            <mat-form-field class="grow" subscriptSizing="dynamic"
              ><select matNativeControl aria-label="Onto which list" (change)="target.set(+typed($event))">
                <option value="0" [selected]="target() === 0">onto which list</option>
                @for (one of others(); track one.id) {
                  <option [value]="one.id" [selected]="target() === one.id">{{ one.name }}</option>
                }
              </select></mat-form-field
            >
            <button matButton="outlined" type="button" [disabled]="target() === 0" (click)="merge()">
              Put together
            </button>
          </div>
          <p class="small quiet">
            All its members go onto that list, each once; this one is put away, and stays as it is for what uses it.
          </p>
        }
      }
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
    </section>
  `,
})
export class PourListPanel {
  protected readonly typed = typed;
  protected readonly sayNumber = sayNumber;
  private readonly api = inject(AudienceApi);
  private readonly toast = inject(Toast);
  private readonly destroyed = inject(DestroyRef);
  readonly listId = input.required<number>();
  readonly lists = input.required<readonly List[]>();
  readonly done = output();
  protected readonly target = signal(0);
  protected readonly progress = signal<PourProgress | null>(null);
  protected readonly problem = signal('');
  protected readonly others = computed(() =>
    this.lists().filter(({ id, isArchived }) => id !== this.listId() && !isArchived),
  );
  private running: Subscription | null = null;

  protected copy(submit: Event, name: string): void {
    submit.preventDefault();
    if (!name.trim()) return this.problem.set('Give the copy a name.');
    this.pour({ into: 'copy', name: name.trim() });
  }
  protected merge(): void {
    this.pour({ into: 'list', listId: this.target() });
  }
  protected stop(): void {
    this.running?.unsubscribe();
    this.progress.set(null);
    this.toast.say('Stopped. Who was put on it by then stays there.');
    this.done.emit();
  }
  private pour(how: PourList): void {
    this.problem.set('');
    this.running = this.api
      .pourList(this.listId(), how)
      .pipe(takeUntilDestroyed(this.destroyed))
      .subscribe({
        next: (progress) => {
          if (!progress.isOver) return this.progress.set(progress);
          this.progress.set(null);
          this.toast.say(`${sayCount(progress.joined, 'person', 'people')} joined it.`);
          this.done.emit();
        },
        error: (error: unknown) => {
          this.progress.set(null);
          this.problem.set(sayError(error));
        },
      });
  }
}
