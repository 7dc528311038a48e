import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { rxResource, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { debounceTime } from 'rxjs';
import * as z from 'zod';
import { cueFields, noWording, type CountedMessage, type CueFields, type LocatedProblem } from '@convite/contract';
import {
  isOnPeople,
  mayNeedJoinLink,
  sayMinutes,
  type Channel,
  type PlaceKind,
  type WordingDocument,
} from '@convite/core';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { problemsOf, sayError } from '../refused';
import { followStored } from '../ui/form/follow-stored';
import { FormBar } from '../ui/form/form-bar';
import { Meanwhile, type PartWords } from '../ui/form/meanwhile';
import { keepTyped } from '../ui/form/unsaved';
import { FieldProblem } from '../ui/field-problem';
import { Toast } from '../ui/toast';
import { Toggle, type ToggleOption } from '../ui/toggle';
import { WordingEditor } from '../ui/wording/wording-editor';
import { CueActChoice } from './cue-act';
import { CueAudience } from './cue-audience';
import { CueMoment } from './cue-moment';
import { cueParts, partNames, sayCuePart, type CuePart } from './cue-parts';
import { CuePreviewPane } from './cue-preview';
import { goingBy, sideOf, wayOf, ways, type Way } from './cue-ways';
import { typed } from '../ui/typed';

/** One cue: its moment, its audience, its words, and beside them what a chosen person would get. */
@Component({
  selector: 'cv-cue-editor',
  imports: [
    CueActChoice,
    CueAudience,
    CueMoment,
    CuePreviewPane,
    FieldProblem,
    FormBar,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    Meanwhile,
    Toggle,
    WordingEditor,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './cue-editor.html',
})
export class CueEditor {
  protected readonly typed = typed;
  private readonly api = inject(EventsApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  readonly eventId = input.required<number>();
  readonly cueId = input.required<number | null>();
  /** As they are stored; of a new cue, what it begins with. */
  readonly fields = input.required<CueFields>();
  /** The text that goes with it, as a cue; null where it has none, or is not kept yet. */
  readonly textCueId = input<number | null>(null);
  readonly hasFired = input(false);
  readonly zone = input.required<string>();
  /** What the event tells apart of its places. */
  readonly placesOf = input<readonly PlaceKind[]>([]);
  readonly closed = output();
  /** Another like it is wanted. */
  readonly copied = output<CueFields>();
  /** It was refused: what is stored may be newer than what stands here. */
  readonly refused = output();

  protected readonly draft = signal<CueFields>(blank);
  protected readonly personId = signal<number | null>(null);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  private readonly settled = toSignal(toObservable(this.draft).pipe(debounceTime(250)));
  protected readonly preview = rxResource({
    params: () => {
      const fields = this.settled();
      return fields && fields !== blank && !fields.act
        ? { id: this.eventId(), fields: sideOf(fields, this.side()), personId: this.personId() }
        : undefined;
    },
    stream: ({ params }) => this.api.previewCue(params.id, params.fields, params.personId),
  });
  /** What decides who gets it: other words change without counting again. */
  protected readonly counted = computed((): CountedMessage | undefined => {
    const fields = this.settled();
    if (!fields || fields === blank) return undefined;
    const { channel, moment, audience, act, wording } = sideOf(fields, this.side());
    const says = !act && mayNeedJoinLink(wording) ? { wording } : {};
    return { kind: 'cue', eventId: this.eventId(), channel, moment, audience, ...(act && { act }), ...says };
  });
  protected readonly previewed = computed(() => (this.preview.hasValue() ? (this.preview.value() ?? null) : null));
  /** What the preview found, except for wording problems, which stand beside the words already. */
  protected readonly allProblems = computed(() =>
    [...this.problems(), ...(this.previewed()?.problems ?? [])].filter(
      (problem, index, all) =>
        all.findIndex(({ code, path }) => code === problem.code && path === problem.path) === index,
    ),
  );

  /** What is done once is for nobody in particular. */
  protected readonly isForPeople = computed(() => {
    const { act } = this.draft();
    return !act || isOnPeople(act);
  });
  protected readonly sides: readonly ToggleOption<Channel>[] = [
    { key: 'email', label: 'Words of the email' },
    { key: 'text', label: 'Words of the text' },
  ];
  protected readonly ways = ways;
  protected readonly way = computed(() => wayOf(this.draft()));
  /** Which of the two words are written, where it goes as both; one that is opened by its text begins with that. */
  readonly opensWith = input<Channel>('email');
  private readonly chosenSide = linkedSignal(() => this.opensWith());
  protected readonly hasBoth = computed(() => this.draft().textWording !== undefined);
  protected readonly side = computed((): Channel => (this.hasBoth() ? this.chosenSide() : this.draft().channel));
  protected readonly sideCueId = computed(() =>
    this.hasBoth() && this.side() === 'text' ? this.textCueId() : this.cueId(),
  );
  protected readonly words = computed(() => sideOf(this.draft(), this.side()).wording);
  /** Of the words that stand open. */
  protected readonly wordProblems = computed(() =>
    this.hasBoth() && this.side() === 'text'
      ? this.problems().flatMap((one) =>
          one.path.startsWith(ofText) ? [{ ...one, path: one.path.slice(ofText.length) }] : [],
        )
      : this.problems(),
  );
  /** What stands in the way lies behind the other words. */
  protected readonly otherProblem = computed(() => {
    const ofOther = this.problems().filter(
      ({ path }) => path.startsWith(ofText) || path.endsWith('body') || path.endsWith('subject'),
    );
    const hides = ofOther.some(({ path }) => path.startsWith(ofText) !== (this.side() === 'text'));
    return this.hasBoth() && hides ? this.otherSide[this.side()] : '';
  });
  private readonly otherSide = {
    email: 'Look at the words of the text too.',
    text: 'Look at the words of the email too.',
  };

  private readonly isDone = signal(false);
  protected readonly isBusy = signal(false);
  protected readonly followed = followStored(this.fields, {
    typed: this.draft,
    show: (fields) => this.draft.set(fields),
  });
  protected readonly isChanged = computed(() => !this.isDone() && this.followed.isChanged());
  protected readonly partWords: PartWords<CueFields, CuePart> = {
    parts: cueParts,
    names: partNames,
    say: (fields, part) => sayCuePart(fields, part),
  };

  constructor() {
    keepTyped({
      key: () => `cue.${this.eventId()}.${this.cueId() ?? 'new'}`,
      value: computed(() => ({ base: this.followed.base() ?? blank, value: this.draft() })),
      isChanged: this.isChanged,
      read: (text) => kept.safeParse(text).data ?? null,
      restore: (before) => this.followed.restore(before),
    });
  }

  protected readonly lateChoices = computed(() =>
    [...new Set([0, 1, 6, 24, 72, 168, this.draft().lateHours ?? 0])]
      .sort((a, b) => a - b)
      .map((hours) => ({
        hours,
        says: hours === 0 ? 'gets nothing' : `still gets it, if it was no more than ${sayMinutes(hours * 60)} ago`,
      })),
  );
  protected hoursOf = (text: string): number | undefined => Number(text) || undefined;

  protected clear(): void {
    this.problem.set('');
    this.problems.set([]);
  }

  protected close(): void {
    this.isBusy.set(false);
    this.isDone.set(true);
    this.closed.emit();
  }

  protected change(part: Partial<CueFields>): void {
    this.draft.update((draft) => ({ ...draft, ...part }));
  }
  protected goBy(way: Way): void {
    this.draft.update((draft) => goingBy(draft, way));
  }
  protected write(side: Channel): void {
    this.chosenSide.set(side);
  }
  protected word(wording: WordingDocument): void {
    this.change(this.hasBoth() && this.side() === 'text' ? { textWording: wording } : { wording });
  }
  protected save(isDraft: boolean): void {
    this.isBusy.set(true);
    const was = this.cueId() === null ? undefined : (this.followed.base() ?? undefined);
    this.api.saveCue(this.eventId(), this.cueId(), { ...this.draft(), isDraft, ...(was && { was }) }).subscribe({
      next: () => {
        this.toast.say(isDraft ? 'Kept as a draft; it does not go out.' : 'The cue is set.');
        this.close();
      },
      error: (error: unknown) => this.fail(error),
    });
  }
  protected remove(): void {
    const id = this.cueId();
    if (id === null) return;
    this.api
      .removeCue(this.eventId(), id)
      .subscribe({ next: () => this.close(), error: (error: unknown) => this.fail(error) });
  }
  private fail(error: unknown): void {
    this.isBusy.set(false);
    this.problem.set(sayError(error));
    this.problems.set(problemsOf(error));
    this.refused.emit();
  }
}

/** Before the path of a problem in the text that goes with an email. */
const ofText = 'text.';

const blank: CueFields = {
  name: '',
  channel: 'email',
  moment: { kind: 'fixed', wall: '' },
  audience: { invitees: [], lists: [], exceptLists: [], exceptReplies: [], topics: null },
  wording: noWording,
  isDraft: true,
};

/** What is typed may not be whole yet. */
const typedCue = cueFields.extend({ name: z.string().max(120) });
const kept = z.object({ base: typedCue, value: typedCue });
