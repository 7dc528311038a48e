import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormControl, NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import * as z from 'zod';
import {
  countedMessage,
  digestFields,
  nobodyChosen,
  type DigestFields,
  type DigestRow,
  type LocatedProblem,
} from '@convite/contract';
import { isSame, letter, sayWeekday } from '@convite/core';
import { DigestsApi } from '../api/digests';
import { reading } from '../api/reading';
import { SendersApi } from '../api/senders';
import { Session } from '../api/session';
import { problemsOf, sayError } from '../refused';
import { followStored } from '../ui/form/follow-stored';
import { SenderChoice } from '../ui/sender-choice';
import { FormBar } from '../ui/form/form-bar';
import { Meanwhile, type PartWords } from '../ui/form/meanwhile';
import { Section } from '../ui/form/section';
import { keepTyped } from '../ui/form/unsaved';
import { AudienceEditor } from '../ui/audience/audience-editor';
import { AudienceSource } from '../ui/audience/audience-source';
import { FieldProblem, FormProblems } from '../ui/field-problem';
import { ClockField } from '../ui/time/clock-field';
import { WordingEditor } from '../ui/wording/wording-editor';
import { ZoneField } from '../ui/time/zone-field';
import { digestPartNames, digestParts, sayDigestPart, type DigestPart } from './digest-parts';

/** A digest's rhythm, window, list and words. */
@Component({
  selector: 'cv-digest-form',
  imports: [
    AudienceEditor,
    ClockField,
    FieldProblem,
    FormProblems,
    FormBar,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    MatSelectModule,
    Meanwhile,
    ReactiveFormsModule,
    Section,
    SenderChoice,
    WordingEditor,
    ZoneField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './digest-form.html',
})
export class DigestForm {
  private readonly api = inject(DigestsApi);
  private readonly source = inject(AudienceSource);
  private readonly sendersApi = inject(SendersApi);
  readonly digest = input.required<DigestRow | null>();
  readonly closed = output();
  /** It was refused: what is stored may be newer than what stands here. */
  readonly refused = output();
  protected readonly weekdays = [1, 2, 3, 4, 5, 6, 7].map((number) => ({ number, name: sayWeekday(number) }));
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly form = inject(NonNullableFormBuilder).group({
    name: '',
    whom: nobodyChosen,
    weekday: 5,
    at: '13:00',
    zone: inject(Session).zone(),
    windowDays: 10,
    wording: letter('', 'Dear {{person.firstName|friend}},\n\nthis is coming up.'),
    isOn: true,
    senderId: new FormControl<number | null>(null),
  });

  private readonly changes = toSignal(this.form.valueChanges);
  protected readonly senders = reading(() => this.sendersApi.list(), []);
  protected readonly typed = computed(() => {
    this.changes();
    return this.form.getRawValue();
  });
  /** Who would get the next issue, once it can be said when that is. */
  protected readonly counted = computed(() => countedMessage.safeParse({ kind: 'digest', ...this.typed() }).data);
  private readonly blank = this.form.getRawValue();
  private readonly stored = computed(
    () => {
      const digest = this.digest();
      return digest ? digestFields.parse(digest) : this.blank;
    },
    { equal: isSame },
  );
  protected readonly followed = followStored(this.stored, {
    typed: this.typed,
    show: (fields) => this.form.setValue(fields),
  });
  private readonly isDone = signal(false);
  protected readonly isBusy = signal(false);
  protected readonly isChanged = computed(() => !this.isDone() && this.followed.isChanged());
  private readonly lists = reading(() => this.source.lists(), []);
  private readonly segments = reading(() => this.source.segments(), []);
  protected readonly words: PartWords<DigestFields, DigestPart> = {
    parts: digestParts,
    names: digestPartNames,
    say: (digest, part) => sayDigestPart(digest, part, this.lists.value(), this.segments.value(), this.senders.value()),
  };

  constructor() {
    keepTyped({
      key: () => `digest.${this.digest()?.id ?? 'new'}`,
      value: computed(() => ({ base: this.followed.base() ?? this.blank, value: this.typed() })),
      isChanged: this.isChanged,
      read: (text) => kept.safeParse(text).data ?? null,
      restore: (before) => this.followed.restore(before),
    });
  }

  protected clear(): void {
    this.problem.set('');
    this.problems.set([]);
  }

  protected close(): void {
    this.isDone.set(true);
    this.closed.emit();
  }
  protected save(): void {
    this.isBusy.set(true);
    const id = this.digest()?.id ?? null;
    const was = id === null ? null : this.followed.base();
    this.api.save(id, { ...this.form.getRawValue(), ...(was && { was }) }).subscribe({
      next: () => {
        this.close();
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
        this.refused.emit();
      },
    });
  }
}

/** What is typed may not be whole yet. */
const typedDigest = digestFields.extend({
  name: z.string().max(120),
  at: z.string().max(60),
  zone: z.string().max(60),
  windowDays: z.number(),
});
const kept = z.object({ base: typedDigest, value: typedDigest });
