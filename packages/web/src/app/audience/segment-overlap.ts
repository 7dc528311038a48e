import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import type { List, SegmentRow } from '@convite/contract';
import type { Segment } from '@convite/core';
import { catchError, of, switchMap } from 'rxjs';
import { SegmentsApi } from '../api/segments';
import { sayNumber } from '../ui/say';
import { typed } from '../ui/typed';

/** Two lists or segments beside each other: who is in both, and who in one alone, before both are written to. */
@Component({
  selector: 'cv-segment-overlap',
  imports: [MatFormFieldModule, MatInputModule, MatProgressBarModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      @for (side of sides; track side.key) {
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><select matNativeControl [attr.aria-label]="side.label" (change)="choose(side.key, typed($event))">
            <option value="" [selected]="chosen()[side.key] === ''">{{ side.label }}</option>
            <optgroup label="Segments">
              @for (one of segments(); track one.id) {
                <option [value]="'segment ' + one.id" [selected]="chosen()[side.key] === 'segment ' + one.id">
                  {{ one.name }}
                </option>
              }
            </optgroup>
            <optgroup label="Lists">
              @for (one of lists(); track one.id) {
                <option [value]="'list ' + one.id" [selected]="chosen()[side.key] === 'list ' + one.id">
                  {{ one.name }}
                </option>
              }
            </optgroup>
          </select></mat-form-field
        >
      }
    </div>
    @if (counts(); as it) {
      <p role="status">
        <strong>{{ sayNumber(it.both) }}</strong> in both · <strong>{{ sayNumber(it.onlyLeft) }}</strong> only in
        {{ nameOf(chosen().left) }} · <strong>{{ sayNumber(it.onlyRight) }}</strong> only in
        {{ nameOf(chosen().right) }}
        @if (it.share < 1) {
          <span class="quiet">so far</span>
        }
      </p>
      @if (it.share < 1) {
        <mat-progress-bar mode="determinate" [value]="it.share * 100" />
      }
    }
  `,
})
export class SegmentOverlap {
  protected readonly typed = typed;
  protected readonly sayNumber = sayNumber;
  private readonly api = inject(SegmentsApi);
  readonly segments = input.required<readonly SegmentRow[]>();
  readonly lists = input.required<readonly List[]>();
  protected readonly sides = [
    { key: 'left', label: 'The one' },
    { key: 'right', label: 'The other' },
  ] as const;
  protected readonly chosen = signal({ left: '', right: '' });
  private readonly asked = computed(() => {
    const [left, right] = [segmentOf(this.chosen().left), segmentOf(this.chosen().right)];
    return left && right ? { left, right } : null;
  });
  protected readonly counts = toSignal(
    toObservable(this.asked).pipe(
      switchMap((asked) =>
        asked ? this.api.overlap(asked.left, asked.right).pipe(catchError(() => of(null))) : of(null),
      ),
      takeUntilDestroyed(),
    ),
    { initialValue: null },
  );

  protected choose(side: 'left' | 'right', key: string): void {
    this.chosen.update((chosen) => ({ ...chosen, [side]: key }));
  }
  protected nameOf(key: string): string {
    const [kind, id] = key.split(' ');
    const some = kind === 'list' ? this.lists() : this.segments();
    return some.find((one) => String(one.id) === id)?.name ?? '';
  }
}

function segmentOf(key: string): Segment | null {
  const [kind, id] = key.split(' ');
  if (!id) return null;
  return kind === 'list' ? { kind: 'list', lists: [Number(id)] } : { kind: 'segment', segments: [Number(id)] };
}
