import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  inject,
  input,
  model,
  output,
  signal,
} from '@angular/core';
import { NgTemplateOutlet } from '@angular/common';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { map, of, type Subscription } from 'rxjs';
import { sayProblem, type BulkAct, type BulkProgress, type List, type PeopleSelection } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { reading } from '../api/reading';
import { SettingsApi } from '../api/settings';
import { problemsOf, sayError } from '../refused';
import { Confirm } from '../ui/confirm';
import { sayCount, sayNumber } from '../ui/say';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';

type Kind = BulkAct['act'];
/** Common practice: above this many people, ask again. */
const askAbove = 100;

const kinds: readonly { readonly key: Kind; readonly label: string }[] = [
  { key: 'to-list', label: 'put on a list' },
  { key: 'off-list', label: 'take off a list' },
  { key: 'give-topic', label: 'give a topic' },
  { key: 'take-topic', label: 'take a topic away' },
  { key: 'set-field', label: 'set a field' },
  { key: 'opt-out', label: 'opt out of everything' },
  { key: 'erase', label: 'erase for good' },
];

/** What can be done to all who are picked: said, asked about where it matters, with how far it is and a way to stop. */
@Component({
  selector: 'cv-bulk-people',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule, MatProgressBarModule, NgTemplateOutlet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (progress(); as it) {
      <mat-progress-bar [mode]="share() === null ? 'indeterminate' : 'determinate'" [value]="share() ?? 0" />
      <span role="status">{{ sayNumber(it.done) }} looked at, {{ sayNumber(it.changed) }} changed</span>
      <button class="link" type="button" (click)="stop()">Stop</button>
    } @else {
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><select matNativeControl aria-label="What to do with them" (change)="choose(typed($event))">
          <option value="">do something with them</option>
          @for (one of kinds; track one.key) {
            <option [value]="one.key" [selected]="one.key === kind()">{{ one.label }}</option>
          }
        </select></mat-form-field
      >
      @switch (kind()) {
        @case ('to-list') {
          <ng-container [ngTemplateOutlet]="listChoice" />
        }
        @case ('off-list') {
          <ng-container [ngTemplateOutlet]="listChoice" />
        }
        @case ('give-topic') {
          <ng-container [ngTemplateOutlet]="topicChoice" />
        }
        @case ('take-topic') {
          <ng-container [ngTemplateOutlet]="topicChoice" />
        }
        @case ('set-field') {
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><select matNativeControl aria-label="Which field" (change)="which.set(typed($event))">
              <option value="">which field</option>
              @for (field of fields.value(); track field.id) {
                <option [value]="field.id" [selected]="'' + field.id === which()">{{ field.name }}</option>
              }
            </select></mat-form-field
          >
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><input
              matInput
              aria-label="Value"
              placeholder="value; nothing empties it"
              maxlength="1000"
              [value]="words()"
              (input)="words.set(typed($event))"
          /></mat-form-field>
        }
        @case ('opt-out') {
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><input
              matInput
              aria-label="How did they say so?"
              placeholder="how did they say so?"
              maxlength="300"
              [value]="words()"
              (input)="words.set(typed($event))"
          /></mat-form-field>
        }
      }
      @if (!kind()) {
        <button matButton="outlined" type="button" (click)="written.emit()">Write to them …</button>
      }
      @if (kind()) {
        <button matButton="filled" type="button" [disabled]="what() === null" (click)="ask()">
          Do it to {{ people() }}
        </button>
      }
    }
    @if (problem()) {
      <span class="alarm" role="alert">{{ problem() }}</span>
    }
    <ng-template #listChoice>
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><select matNativeControl aria-label="Which list" (change)="which.set(typed($event))">
          <option value="">which list</option>
          @for (list of offered(); track list.id) {
            <option [value]="list.id" [selected]="'' + list.id === which()">{{ list.name }}</option>
          }
        </select></mat-form-field
      >
    </ng-template>
    <ng-template #topicChoice>
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><select matNativeControl aria-label="Which topic" (change)="which.set(typed($event))">
          <option value="">which topic</option>
          @for (topic of topics.value(); track topic) {
            <option [value]="topic" [selected]="topic === which()">{{ topic }}</option>
          }
        </select></mat-form-field
      >
    </ng-template>
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 6px 12px;
      flex: 1;
    }
    mat-progress-bar {
      width: 160px;
    }
  `,
})
export class BulkPeople {
  protected readonly sayNumber = sayNumber;
  protected readonly typed = typed;
  protected readonly kinds = kinds;
  private readonly api = inject(AudienceApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  private readonly untilGone = takeUntilDestroyed<BulkProgress>(inject(DestroyRef));
  readonly selection = input.required<PeopleSelection>();
  readonly count = input.required<number>();
  readonly lists = input.required<readonly List[]>();
  /** It goes on whatever is picked meanwhile. */
  readonly isRunning = model(false);
  /** Something changed, all of it or as far as it went. */
  readonly done = output();
  /** They are to be written to. */
  readonly written = output();
  private readonly settings = inject(SettingsApi);
  protected readonly topics = reading(() => this.settings.get().pipe(map(({ topics }) => topics)), []);
  protected readonly fields = reading(() => this.api.fields(), []);

  protected readonly offered = computed(() => this.lists().filter(({ isArchived }) => !isArchived));
  protected readonly kind = signal<Kind | null>(null);
  /** The list, topic or field that is meant. */
  protected readonly which = signal('');
  protected readonly words = signal('');
  protected readonly progress = signal<BulkProgress | null>(null);
  protected readonly problem = signal('');
  protected readonly people = computed(() => sayCount(this.count(), 'person', 'people'));
  /** How many it is done to, as it began. */
  private readonly whole = signal(0);
  protected readonly share = computed(() => {
    const progress = this.progress();
    return progress && this.whole() ? Math.min(100, (100 * progress.done) / this.whole()) : null;
  });
  /** Null while something is not said yet. */
  protected readonly what = computed((): BulkAct | null => {
    const [kind, which, words] = [this.kind(), this.which(), this.words().trim()];
    switch (kind) {
      case 'to-list':
      case 'off-list':
        return which ? { act: kind, listId: Number(which) } : null;
      case 'give-topic':
      case 'take-topic':
        return which ? { act: kind, topic: which } : null;
      case 'set-field':
        return which ? { act: kind, fieldId: Number(which), value: words } : null;
      case 'opt-out':
        return words ? { act: kind, how: words } : null;
      case 'erase':
        return { act: kind };
      case null:
        return null;
    }
  });
  private running: Subscription | null = null;

  protected choose(kind: string): void {
    this.kind.set(kinds.find(({ key }) => key === kind)?.key ?? null);
    this.which.set('');
    this.words.set('');
    this.problem.set('');
  }
  /** Asks where many are meant, or where it cannot be taken back. */
  protected ask(): void {
    const what = this.what();
    if (!what) return;
    const isForGood = what.act === 'erase' || what.act === 'opt-out';
    const question = {
      title: `${this.sayWhat(what)}: ${this.people()}?`,
      text:
        what.act === 'erase'
          ? 'Names, addresses, fields, lists and all that was said go for good, also from what was sent. Counts stay. This cannot be undone.'
          : what.act === 'opt-out'
            ? 'Nothing but answers goes to them any more. It is taken down of each, with how they said so.'
            : 'All of them, not only those that are shown.',
      yes: this.sayWhat(what),
    };
    (isForGood || this.count() > askAbove ? this.confirm.ask(question) : of(true)).subscribe(() =>
      this.run(this.selection(), what),
    );
  }
  protected stop(): void {
    this.running?.unsubscribe();
    const progress = this.progress();
    this.over();
    this.toast.say(`Stopped: ${sayCount(progress?.changed ?? 0, 'person was', 'people were')} changed before.`);
  }

  private run(selection: PeopleSelection, what: BulkAct): void {
    this.problem.set('');
    this.whole.set(this.count());
    this.isRunning.set(true);
    this.progress.set({ done: 0, changed: 0, isOver: false, changedIds: null });
    this.running = this.api
      .bulk({ selection, what })
      .pipe(this.untilGone)
      .subscribe({
        next: (progress) => {
          this.progress.set(progress);
          if (progress.isOver) this.tell(what, progress);
        },
        error: (error: unknown) => {
          const [problem] = problemsOf(error);
          this.problem.set(problem ? sayProblem(problem) : sayError(error));
          this.progress.set(null);
          this.isRunning.set(false);
        },
      });
  }
  private tell(what: BulkAct, { changed, changedIds }: BulkProgress): void {
    const text = `${this.sayWhat(what)}: ${sayCount(changed, 'person', 'people')}.`;
    const back = inverseOf(what);
    if (back && changedIds?.length) this.toast.offerUndo(text, () => this.undo(changedIds, back));
    else this.toast.say(text);
    this.over();
  }
  private undo(ids: readonly number[], what: BulkAct): void {
    this.api.bulk({ selection: { ids: [...ids] }, what }).subscribe({
      complete: () => this.done.emit(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  private over(): void {
    this.progress.set(null);
    this.isRunning.set(false);
    this.choose('');
    this.done.emit();
  }
  private sayWhat(what: BulkAct): string {
    switch (what.act) {
      case 'to-list':
        return `Put on ${this.nameOf(what.listId)}`;
      case 'off-list':
        return `Take off ${this.nameOf(what.listId)}`;
      case 'give-topic':
        return `Give the topic ${what.topic}`;
      case 'take-topic':
        return `Take the topic ${what.topic} away`;
      case 'set-field':
        return `Set ${this.fields.value().find(({ id }) => id === what.fieldId)?.name ?? 'the field'}`;
      case 'opt-out':
        return 'Opt out';
      case 'erase':
        return 'Erase for good';
    }
  }
  private nameOf = (listId: number): string => this.lists().find(({ id }) => id === listId)?.name ?? 'the list';
}

function inverseOf(what: BulkAct): BulkAct | null {
  switch (what.act) {
    case 'to-list':
      return { ...what, act: 'off-list' };
    case 'off-list':
      return { ...what, act: 'to-list' };
    case 'give-topic':
      return { ...what, act: 'take-topic' };
    case 'take-topic':
      return { ...what, act: 'give-topic' };
    default:
      return null;
  }
}
