import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { RouterLink } from '@angular/router';
import { map, of, switchMap, tap, type Subscription } from 'rxjs';
import type { ConsentWords, PeopleImport, PeopleImportFields, TakeImport } from '@convite/contract';
import { isDay } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { reading } from '../api/reading';
import { SettingsApi } from '../api/settings';
import { sayError } from '../refused';
import { Fold } from '../ui/fold';
import { Section } from '../ui/form/section';
import { sayCount, sayNumber } from '../ui/say';
import { TimeField } from '../ui/time/time-field';
import { Toast } from '../ui/toast';
import { Toggle } from '../ui/toggle';
import { typed } from '../ui/typed';
import { BringColumns, type ChosenColumn } from './bring-columns';
import { BringPreview } from './bring-preview';
import { BringSource, type Opened } from './bring-source';
import { columnsOf } from './columns-of';
import { handIn } from './hand-in';

type Step = 'source' | 'columns' | 'looking' | 'seen' | 'taking' | 'taken';

/** From a file to a list: what it is, where its columns go, how people agreed, what would happen; and only then it happens. */
@Component({
  selector: 'cv-bring-in',
  imports: [
    BringColumns,
    BringPreview,
    BringSource,
    Fold,
    MatButtonModule,
    MatFormFieldModule,
    MatInputModule,
    MatProgressBarModule,
    ReactiveFormsModule,
    RouterLink,
    Section,
    TimeField,
    Toggle,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './bring-in.html',
})
export class BringIn {
  protected readonly typed = typed;
  protected readonly sayNumber = sayNumber;
  private readonly api = inject(AudienceApi);
  private readonly settingsApi = inject(SettingsApi);
  private readonly toast = inject(Toast);
  protected readonly lists = reading(() => this.api.lists(), []);
  protected readonly fields = reading(() => this.api.fields(), []);
  protected readonly topics = reading(() => this.settingsApi.get().pipe(map(({ topics }) => topics)), []);
  protected readonly offered = computed(() => this.lists.value().filter(({ isArchived }) => !isArchived));

  protected readonly step = signal<Step>('source');
  protected readonly opened = signal<Opened | null>(null);
  protected readonly sheet = signal(0);
  protected readonly columns = signal<readonly ChosenColumn[]>([]);
  protected readonly wasRemembered = signal(false);
  /** A list's number; `new` for one that is made of it; empty for none yet, `none` for none at all. */
  protected readonly target = signal<string>('');
  protected readonly newName = signal('Subscribers');
  protected readonly emailHow = signal('');
  protected readonly textHow = signal('');
  protected readonly emailOn = new FormControl('', { nonNullable: true });
  protected readonly textOn = new FormControl('', { nonNullable: true });
  protected readonly spelled = signal<TakeImport['spelled']>('known');
  protected readonly seen = signal<PeopleImport | null>(null);
  /** How far it is, from 0 to 100. */
  protected readonly share = signal(0);
  protected readonly problem = signal('');
  private readonly importId = signal<number | null>(null);
  private running: Subscription | null = null;
  private readonly days = toSignal(this.emailOn.valueChanges, { initialValue: '' });
  private readonly textDays = toSignal(this.textOn.valueChanges, { initialValue: '' });

  protected readonly spelledOptions = [
    { key: 'known', label: 'the people whom we know' },
    { key: 'new', label: 'somebody else' },
  ] as const;
  protected readonly rowCount = computed(() => this.opened()?.sheets[this.sheet()]?.rowCount ?? 0);
  protected readonly hasNumbers = computed(() => this.columns().some(({ target }) => target.to === 'mobile'));
  protected readonly hasDoubts = computed(() =>
    this.columns().some(({ doubts }) => doubts.some((one) => one !== 'empty')),
  );
  /** Why it cannot be looked through yet; empty when it can. */
  protected readonly missing = computed(() => {
    const goesTo = (fact: string): boolean => this.columns().some(({ target }) => target.to === fact);
    if (!goesTo('email') && !goesTo('mobile')) return 'Say which column holds the email address, or the mobile number.';
    if (this.target() === '') return 'Choose the list that they go on.';
    if (this.target() === 'new' && !this.newName().trim()) return 'Give the new list a name.';
    if (this.emailHow().trim() && !isDay(this.days())) return 'Say on which day they agreed to email.';
    if (this.textHow().trim() && !isDay(this.textDays())) return 'Say on which day they agreed to texts.';
    return '';
  });
  protected readonly summary = computed(() => {
    const named = this.columns().filter(({ target }) => target.to !== 'nothing').length;
    return `${sayCount(this.rowCount(), 'row', 'rows')}, ${named} of ${sayCount(this.columns().length, 'column', 'columns')} taken`;
  });
  protected readonly takes = computed(() => sayCount(this.seen()?.total ?? 0, 'person', 'people'));

  constructor() {
    inject(DestroyRef).onDestroy(() => this.opened()?.file.close());
  }

  protected open(opened: Opened): void {
    this.opened()?.file.close();
    this.opened.set(opened);
    this.problem.set('');
    this.useSheet(
      Math.max(
        0,
        opened.sheets.findIndex(({ rowCount }) => rowCount > 0),
      ),
    );
    this.step.set('columns');
  }
  protected useSheet(sheet: number): void {
    this.sheet.set(sheet);
    const seen = this.opened()?.sheets[sheet];
    if (!seen) return;
    const around = { lists: this.lists.value().map(({ name }) => name), topics: this.topics.value() };
    this.columns.set(columnsOf(seen.columns, around, null));
    this.wasRemembered.set(false);
    if (this.opened()?.isPlain) return;
    this.api.remembered(seen.columns.map(({ heading }) => heading)).subscribe(({ columns }) => {
      if (!columns || this.opened()?.sheets[sheet] !== seen) return;
      this.columns.set(columnsOf(seen.columns, around, columns));
      this.wasRemembered.set(true);
    });
  }
  protected startAgain(): void {
    this.discard();
    this.opened()?.file.close();
    this.opened.set(null);
    this.seen.set(null);
    this.problem.set('');
    this.step.set('source');
  }

  /** Hands all rows in, to see what would happen. */
  protected look(): void {
    const opened = this.opened();
    if (!opened || this.missing()) return;
    this.problem.set('');
    this.share.set(0);
    this.step.set('looking');
    const rowCount = this.rowCount();
    this.running = this.listId()
      .pipe(
        switchMap((listId) => this.api.beginImport(this.fieldsWith(opened.name, listId))),
        tap(({ id }) => this.importId.set(id)),
        switchMap(({ id }) => handIn(this.api, id, opened.file, { sheet: this.sheet(), rowCount })),
      )
      .subscribe({
        next: ({ done, seen }) => {
          this.share.set((done / rowCount) * 100);
          this.seen.set(seen);
        },
        complete: () => this.step.set('seen'),
        error: (error: unknown) => this.fail(error, 'columns'),
      });
  }
  protected stopLooking(): void {
    this.running?.unsubscribe();
    this.back();
  }
  /** To the columns, to say something else; nobody was touched. */
  protected back(): void {
    this.discard();
    this.seen.set(null);
    this.step.set('columns');
  }
  protected take(): void {
    const id = this.importId();
    if (id === null) return;
    this.share.set(0);
    this.step.set('taking');
    this.running = this.api
      .takeImport(id, { rows: this.rowCount(), spelled: this.spelled() })
      .pipe(
        tap(({ position, total }) => this.share.set(total ? (position / total) * 100 : 100)),
        takeUntilDestroyed(this.destroyed),
      )
      .subscribe({ complete: () => this.finish(id), error: (error: unknown) => this.fail(error, 'seen') });
  }
  protected stop(): void {
    const id = this.importId();
    if (id !== null) this.api.changeImport(id, 'stop').subscribe({ error: (error: unknown) => this.toast.fail(error) });
  }
  protected undo(): void {
    const id = this.importId();
    if (id === null) return;
    this.api.changeImport(id, 'undo').subscribe({
      next: () => {
        this.toast.say('All of it is taken back.');
        this.startAgain();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }

  private readonly destroyed = inject(DestroyRef);
  private finish(id: number): void {
    this.api.import(id).subscribe({
      next: (seen) => {
        this.seen.set(seen);
        this.step.set('taken');
      },
      error: (error: unknown) => this.fail(error, 'seen'),
    });
  }
  /** Made once: when the people cannot be taken, they are for the list that there is now. */
  private listId() {
    const target = this.target();
    if (target !== 'new') return of(target === 'none' ? null : Number(target));
    return this.api.createList(this.newName().trim()).pipe(
      tap(({ id }) => {
        this.lists.reload();
        this.target.set(String(id));
      }),
      map(({ id }) => id),
    );
  }
  private fieldsWith(name: string, listId: number | null): PeopleImportFields {
    return {
      name,
      headings: this.columns().map(({ heading }) => heading),
      columns: this.columns().map(({ target }) => target),
      listId,
      emailConsent: wordsOf(this.emailHow(), this.emailOn.value),
      textConsent: this.hasNumbers() ? wordsOf(this.textHow(), this.textOn.value) : null,
    };
  }
  private discard(): void {
    const id = this.importId();
    this.importId.set(null);
    // What nobody takes is forgotten after a day in any case.
    if (id !== null && this.step() !== 'taken')
      this.api.changeImport(id, 'discard').subscribe({ error: () => undefined });
  }
  private fail(error: unknown, step: Step): void {
    this.problem.set(sayError(error));
    if (step === 'columns') this.discard();
    this.step.set(step);
  }
}

const wordsOf = (how: string, on: string): ConsentWords => (how.trim() ? { how: how.trim(), on } : null);
