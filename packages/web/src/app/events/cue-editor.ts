import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { rxResource, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { debounceTime } from 'rxjs';
import type { CueCountRequest, CueFields, LocatedProblem } from '@convite/contract';
import type { Channel } from '@convite/core';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { problemsOf, sayError } from '../refused';
import { FieldProblem } from '../ui/field-problem';
import { Toast } from '../ui/toast';
import { WordingFields } from '../ui/wording-fields';
import { CueAudience } from './cue-audience';
import { CueMoment } from './cue-moment';
import { CuePreviewPane } from './cue-preview';
import { typed } from '../ui/typed';

/** One cue: its moment, its audience, its words, and beside them what a chosen person would get. */
@Component({
  selector: 'cv-cue-editor',
  imports: [CueAudience, CueMoment, CuePreviewPane, FieldProblem, MatButtonModule, WordingFields],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet columns wide" aria-label="Cue">
      <div class="stack">
        <div class="row">
          <label class="grow"
            >Name <input class="plain" [value]="draft().name" (input)="change({ name: typed($event) })"
          /></label>
          <div class="choice" role="group" aria-label="By">
            <button type="button" [attr.aria-pressed]="draft().channel === 'email'" (click)="by('email')">email</button>
            <button type="button" [attr.aria-pressed]="draft().channel === 'text'" (click)="by('text')">text</button>
          </div>
        </div>
        <cv-field-problem [problems]="problems()" path="name" />
        <cv-cue-moment [moment]="draft().moment" [zone]="zone()" (momentChange)="change({ moment: $event })" />
        <cv-field-problem [problems]="allProblems()" path="moment" />
        <cv-cue-audience [audience]="draft().audience" (audienceChange)="change({ audience: $event })" />
        <cv-field-problem [problems]="allProblems()" path="audience" />
        <cv-wording-fields
          [channel]="draft().channel"
          [wording]="draft()"
          [problems]="problems()"
          (wordingChange)="change($event)"
        />
        @if (problem()) {
          <p class="note alarm" role="alert">{{ problem() }}</p>
        }
        <div class="row">
          @if (hasFired()) {
            <p class="note">This cue has fired; what was sent cannot be changed.</p>
          } @else if (session.canMarket()) {
            <button matButton="filled" (click)="save(false)">Set the cue</button>
            <button matButton="outlined" (click)="save(true)">Keep as a draft</button>
            @if (cueId() !== null) {
              <button matButton (click)="remove()">Remove</button>
            }
          }
          <button matButton (click)="closed.emit()">Close</button>
        </div>
      </div>
      <cv-cue-preview
        [preview]="previewed()"
        [counted]="counted()"
        [channel]="draft().channel"
        [zone]="zone()"
        (person)="personId.set($event)"
      />
    </section>
  `,
  styles: `
    .plain {
      width: 100%;
    }
    label {
      font-weight: 600;
    }
  `,
})
export class CueEditor {
  protected readonly typed = typed;
  private readonly api = inject(EventsApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  readonly eventId = input.required<number>();
  readonly cueId = input.required<number | null>();
  readonly fields = input.required<CueFields>();
  readonly hasFired = input(false);
  readonly zone = input.required<string>();
  readonly closed = output();

  protected readonly draft = signal<CueFields>(blank);
  protected readonly personId = signal<number | null>(null);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  private readonly settled = toSignal(toObservable(this.draft).pipe(debounceTime(250)));
  protected readonly preview = rxResource({
    params: () => {
      const fields = this.settled();
      return fields && fields !== blank ? { id: this.eventId(), fields, personId: this.personId() } : undefined;
    },
    stream: ({ params }) => this.api.previewCue(params.id, params.fields, params.personId),
  });
  /** What decides who gets it: words may change without counting anew. */
  private readonly audience = computed(
    () => {
      const fields = this.settled();
      return fields && fields !== blank ? { id: this.eventId(), asked: askedOf(fields) } : undefined;
    },
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );
  /** A newer count ends the one before it. */
  private readonly count = rxResource({
    params: () => this.audience(),
    stream: ({ params }) => this.api.countCue(params.id, params.asked),
  });
  protected readonly counted = computed(() => (this.count.hasValue() ? (this.count.value() ?? null) : null));
  protected readonly previewed = computed(() => (this.preview.hasValue() ? (this.preview.value() ?? null) : null));
  /** What the preview found, except for wording problems, which stand beside the words already. */
  protected readonly allProblems = computed(() =>
    [...this.problems(), ...(this.previewed()?.problems ?? [])].filter(
      (problem, index, all) =>
        all.findIndex(({ code, path }) => code === problem.code && path === problem.path) === index,
    ),
  );

  constructor() {
    effect(() => {
      const fields = this.fields();
      untracked(() => this.draft.set(fields));
    });
  }

  protected change(part: Partial<CueFields>): void {
    this.draft.update((draft) => ({ ...draft, ...part }));
  }
  protected by(channel: Channel): void {
    this.change({ channel });
  }
  protected save(isDraft: boolean): void {
    this.api.saveCue(this.eventId(), this.cueId(), { ...this.draft(), isDraft }).subscribe({
      next: () => {
        this.toast.say(isDraft ? 'Kept as a draft; it does not go out.' : 'The cue is set.');
        this.closed.emit();
      },
      error: (error: unknown) => this.fail(error),
    });
  }
  protected remove(): void {
    const id = this.cueId();
    if (id === null) return;
    this.api
      .removeCue(this.eventId(), id)
      .subscribe({ next: () => this.closed.emit(), error: (error: unknown) => this.fail(error) });
  }
  private fail(error: unknown): void {
    this.problem.set(sayError(error));
    this.problems.set(problemsOf(error));
  }
}

const askedOf = ({ channel, moment, audience }: CueFields): CueCountRequest => ({ channel, moment, audience });

const blank: CueFields = {
  name: '',
  channel: 'email',
  moment: { kind: 'fixed', wall: '' },
  audience: { invitees: [], lists: [], exceptLists: [], exceptReplies: [], topics: null },
  subject: '',
  body: '',
  isDraft: true,
};
