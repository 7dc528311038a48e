import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { rxResource, takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { RouterLink } from '@angular/router';
import {
  segmentFields,
  type SegmentFields,
  type SegmentPeople,
  type SegmentRow,
  type Subscriber,
} from '@convite/contract';
import { isGroup, isSame, pitfallsOf, saySegment, type SegmentNames } from '@convite/core';
import { catchError, debounceTime, EMPTY, map, of, switchMap, type Observable } from 'rxjs';
import * as z from 'zod';
import { SegmentsApi } from '../api/segments';
import { Session } from '../api/session';
import { sayError } from '../refused';
import { followStored } from '../ui/form/follow-stored';
import { Meanwhile, type PartWords } from '../ui/form/meanwhile';
import { keepTyped } from '../ui/form/unsaved';
import { PersonPicker } from '../ui/person-picker';
import { sayCount, sayNumber } from '../ui/say';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';
import { ConditionGroup, type Group } from './condition-group';
import type { SegmentAround } from './segment-around';

export const blankSegment: SegmentFields = {
  name: '',
  description: '',
  conditions: { kind: 'all', of: [{ kind: 'list', lists: [] }] },
};
/** What is typed may not be whole yet. */
const typedSegment = segmentFields.extend({ name: z.string().max(120), description: z.string().max(500) });
const kept = z.object({ base: typedSegment, value: typedSegment });
const sampleSize = 10;

/** A segment as it is put together: its sentence, how many are in it, some of them, and why somebody is not. */
@Component({
  selector: 'cv-segment-editor',
  imports: [
    ConditionGroup,
    MatButtonModule,
    MatFormFieldModule,
    MatInputModule,
    MatProgressBarModule,
    Meanwhile,
    PersonPicker,
    RouterLink,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './segment-editor.html',
  styles: `
    .sentence {
      font-size: 17px;
      line-height: 1.5;
    }
    .below {
      margin-top: 20px;
    }
    ul {
      margin: 0;
      padding-left: 18px;
    }
  `,
})
export class SegmentEditor {
  protected readonly typed = typed;
  protected readonly sayNumber = sayNumber;
  private readonly api = inject(SegmentsApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  /** Null for a new one. */
  readonly segment = input.required<SegmentRow | null>();
  readonly around = input.required<SegmentAround>();
  readonly saved = output<number>();
  readonly removed = output();

  private readonly stored = computed(
    () => {
      const segment = this.segment();
      return segment
        ? { name: segment.name, description: segment.description, conditions: segment.conditions }
        : blankSegment;
    },
    { equal: isSame },
  );
  protected readonly edit = signal<SegmentFields>(blankSegment);
  protected readonly followed = followStored(this.stored, { typed: this.edit, show: (edit) => this.edit.set(edit) });
  protected readonly problem = signal('');
  protected readonly words: PartWords<SegmentFields, keyof SegmentFields> = {
    parts: { name: ['name'], description: ['description'], conditions: ['conditions'] },
    names: { name: 'Name', description: 'What it is for', conditions: 'Conditions' },
    say: (segment, part) =>
      part === 'conditions' ? saySegment(segment.conditions, this.names()) : segment[part] || 'nothing',
  };
  protected readonly names = computed((): SegmentNames => {
    const { lists, fields, segments, events } = this.around();
    const nameOf = (some: readonly { id: number; name: string }[], id: number): string =>
      some.find((one) => one.id === id)?.name ?? 'something that is gone';
    return {
      list: (id) => nameOf(lists, id),
      field: (id) => nameOf(fields, id),
      segment: (id) => nameOf(segments, id),
      event: (id) => events.get(id) ?? 'an event that is gone',
    };
  });
  /** The outermost is always a group: there is something to add to. */
  protected readonly group = computed((): Group => {
    const { conditions } = this.edit();
    return isGroup(conditions) ? conditions : { kind: 'all', of: [conditions] };
  });
  protected readonly sentence = computed(() => saySegment(this.edit().conditions, this.names()));
  protected readonly pitfalls = computed(() => pitfallsOf(this.edit().conditions));
  protected readonly isUnfinished = computed(() => this.pitfalls().some(({ kind }) => kind === 'unfinished'));
  protected readonly warnings = computed(() =>
    this.pitfalls().flatMap((pitfall) => {
      if (pitfall.kind === 'everybody') return ['Everybody is in it: this leaves nobody out.'];
      if (pitfall.kind === 'nobody')
        return [
          pitfall.path.length
            ? 'A part of it asks what nobody can be.'
            : 'Nobody can be in it: it asks what cannot be so at once.',
        ];
      if (pitfall.kind === 'outcome')
        return [
          `Who had to do with ${this.names().event(pitfall.event)} agreed to hear about that event. Those who agreed to nothing else are left out of what you send about others, and counted.`,
        ];
      return [];
    }),
  );

  private readonly asked = computed(() => (this.isUnfinished() ? null : this.edit().conditions), { equal: isSame });
  /** Counted while one composes; what is overtaken is stopped. */
  protected readonly count = toSignal(
    toObservable(this.asked).pipe(
      debounceTime(300),
      switchMap((conditions) =>
        conditions === null ? of(null) : this.api.count(conditions).pipe(catchError(() => of(null))),
      ),
      takeUntilDestroyed(),
    ),
    { initialValue: null },
  );
  protected readonly sample = toSignal(
    toObservable(this.asked).pipe(
      debounceTime(300),
      switchMap((conditions): Observable<SegmentPeople['rows']> =>
        conditions === null
          ? of([])
          : this.api.people(conditions, 0, sampleSize).pipe(
              map(({ rows }) => rows),
              catchError(() => of([])),
            ),
      ),
      takeUntilDestroyed(),
    ),
    { initialValue: [] },
  );
  /** Whom somebody asks about. */
  protected readonly person = signal<Subscriber | null>(null);
  private readonly why = toSignal(
    toObservable(computed(() => ({ person: this.person(), conditions: this.asked() }), { equal: isSame })).pipe(
      switchMap(({ person, conditions }) =>
        person === null || conditions === null
          ? of(null)
          : this.api.why(conditions, person.id).pipe(
              map(({ parts }) => new Map(parts.map(({ path, isSo }) => [path.join(), isSo]))),
              catchError(() => EMPTY),
            ),
      ),
      takeUntilDestroyed(),
    ),
    { initialValue: null },
  );
  protected readonly marks = computed(() => {
    const why = this.why();
    // A single condition stands in a group here, though it is none where it is stored.
    return why && !isGroup(this.edit().conditions) ? new Map([['0', why.get('') ?? false]]) : why;
  });
  protected readonly isIn = computed(() => this.why()?.get('') ?? null);
  private readonly used = rxResource({
    params: () => this.segment()?.id,
    stream: ({ params }) => this.api.use(params),
  });
  protected readonly use = computed(() => (this.used.hasValue() ? (this.used.value() ?? null) : null));
  protected readonly counted = computed(() => {
    const count = this.count();
    return count ? sayCount(count.people, 'person', 'people') : '';
  });

  constructor() {
    keepTyped({
      key: () => (this.followed.base() ? `segment.${this.segment()?.id ?? 'new'}` : ''),
      value: computed(() => ({ base: this.followed.base() ?? blankSegment, value: this.edit() })),
      isChanged: this.followed.isChanged,
      read: (text) => kept.safeParse(text).data ?? null,
      restore: (before) => this.followed.restore(before),
    });
  }

  protected change(part: Partial<SegmentFields>): void {
    this.edit.update((edit) => ({ ...edit, ...part }));
  }
  protected save(submit: Event): void {
    submit.preventDefault();
    const fields = this.edit();
    if (!fields.name.trim()) return this.problem.set('Give the segment a name.');
    if (this.isUnfinished())
      return this.problem.set('A condition is not finished yet: choose what it asks for, or take it out.');
    const id = this.segment()?.id ?? null;
    const was = id === null ? null : this.followed.base();
    this.api.save(id, { ...fields, ...(was && { was }) }).subscribe({
      next: (saved) => {
        this.problem.set('');
        this.followed.wasSaved(fields);
        this.toast.say('Saved. Whoever is in it when something goes out gets it.');
        this.saved.emit(saved);
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
  protected remove(): void {
    const id = this.segment()?.id;
    if (id === undefined) return;
    this.api.remove(id).subscribe({
      next: () => {
        this.toast.say('The segment is taken out. Nobody who was in it is touched.');
        this.removed.emit();
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
}
