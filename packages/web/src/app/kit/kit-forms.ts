import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import { of } from 'rxjs';
import type { AudienceCount as Count, List } from '@convite/contract';
import { AudienceCount, type PeopleBehind } from '../ui/audience-count';
import { ChartFrame } from '../ui/chart/chart-frame';
import { EventState } from '../ui/event-state';
import { Conflict } from '../ui/form/conflict';
import { FormBar } from '../ui/form/form-bar';
import { Section } from '../ui/form/section';
import { ListsField } from '../ui/lists-field';
import { Toast } from '../ui/toast';
import { OurWord } from '../ui/word';
import { Fold } from '../ui/fold';
import { ClockField } from '../ui/time/clock-field';
import { optionsOf, Toggle } from '../ui/toggle';

const height = 80;

/** Pieces of forms, counts and charts, in their states. */
@Component({
  selector: 'cv-kit-forms',
  imports: [
    AudienceCount,
    ChartFrame,
    ClockField,
    Conflict,
    EventState,
    Fold,
    FormBar,
    ListsField,
    MatFormFieldModule,
    MatInputModule,
    OurWord,
    Section,
    Toggle,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './kit-forms.html',
})
export class KitForms {
  private readonly toast = inject(Toast);
  protected readonly height = height;
  protected readonly isBusy = signal(false);
  protected readonly views = optionsOf(['entry', 'email', 'links']);
  protected readonly view = signal('email');
  protected readonly lists: readonly List[] = [
    { id: 1, name: 'Night sky news', count: 1289, isArchived: false },
    { id: 2, name: 'Members', count: 240, isArchived: false },
    {
      id: 3,
      name: 'A list whose name goes on and on until nobody reads it any more',
      count: 1_000_000,
      isArchived: false,
    },
  ];
  protected readonly chosen = signal<readonly number[]>([1, 3]);
  protected readonly count: Count = {
    gets: 4312,
    without: [
      { reason: 'opted-out', count: 101 },
      { reason: 'bounced', count: 87 },
    ],
  };
  protected readonly behind: PeopleBehind = (_reason, after) =>
    of({
      rows: Array.from({ length: 30 }, (_, index) => ({
        id: after + index + 1,
        name: `Somebody ${after + index + 1}`,
        email: `somebody${after + index + 1}@people.example`,
        mobile: '',
      })),
      next: after < 90 ? after + 30 : null,
    });
  protected readonly at = signal<number | null>(null);
  protected readonly heads = ['Day', 'messages'];
  protected readonly points = [12, 40, 7, 0, 93, 31, 55].map((value, index) => ({
    label: `Day ${index + 1}`,
    values: [value],
  }));

  protected bars(width: number) {
    const x = scaleBand(
      this.points.map(({ label }) => label),
      [0, width],
    ).padding(0.3);
    const y = scaleLinear([0, max(this.points, ({ values }) => values[0] ?? 0) ?? 1], [0, height - 4]);
    return this.points.map(({ label, values }) => {
      const tall = y(values[0] ?? 0);
      return { label, x: x(label) ?? 0, width: x.bandwidth(), y: height - tall, tall };
    });
  }
  protected save(): void {
    this.isBusy.set(true);
    setTimeout(() => this.isBusy.set(false), 1500);
  }
  protected undoable(): void {
    this.toast.offerUndo('Twelve guests removed.', () => this.toast.say('They are back.'));
  }
}
