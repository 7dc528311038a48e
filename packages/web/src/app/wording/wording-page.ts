import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { rxResource, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import { Router, RouterLink } from '@angular/router';
import { debounceTime, map, type Observable } from 'rxjs';
import * as z from 'zod';
import { keptFields, noWording, type KeptFields, type KeptPreview, type LocatedProblem } from '@convite/contract';
import { isSame, plainDocument, plainTextOf, purposes, type Channel } from '@convite/core';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { WordingsApi } from '../api/wordings';
import { problemsOf, sayError } from '../refused';
import { Chooser, type Choice } from '../ui/chooser';
import { Confirm } from '../ui/confirm';
import { FieldProblem } from '../ui/field-problem';
import { followStored } from '../ui/form/follow-stored';
import { FormBar } from '../ui/form/form-bar';
import { Meanwhile, type PartWords } from '../ui/form/meanwhile';
import { keepTyped } from '../ui/form/unsaved';
import { PersonPicker } from '../ui/person-picker';
import { sayCount } from '../ui/say';
import { Toast } from '../ui/toast';
import { optionsOf, Toggle } from '../ui/toggle';
import { typed } from '../ui/typed';
import { AsRead } from '../ui/wording/as-read';
import type { Tried } from '../ui/wording/send-test';
import { WordingEditor } from '../ui/wording/wording-editor';
import { purposeWords } from './purpose-words';
import { WordingVersions } from './wording-versions';

const blank: KeptFields = { name: '', purpose: 'reminder', channel: 'email', wording: noWording };
/** What is typed may not be whole yet. */
const typedWording = keptFields.extend({ name: z.string().max(120) });
const kept = z.object({ base: typedWording, value: typedWording });

/** One wording that is kept: its words, and beside them how somebody reads it of an event; what it said before, and what says it. */
@Component({
  selector: 'cv-wording-page',
  imports: [
    AsRead,
    Chooser,
    FieldProblem,
    FormBar,
    MatButtonModule,
    MatFormFieldModule,
    MatInputModule,
    MatSelectModule,
    Meanwhile,
    PersonPicker,
    RouterLink,
    Toggle,
    WordingEditor,
    WordingVersions,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './wording-page.html',
  styles: `
    .for {
      width: 190px;
    }
    main {
      display: grid;
      gap: 16px;
    }
    .head {
      margin: 0;
    }
  `,
})
export class WordingPage {
  protected readonly typed = typed;
  private readonly api = inject(WordingsApi);
  private readonly events = inject(EventsApi);
  private readonly confirm = inject(Confirm);
  private readonly router = inject(Router);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  /** From the address; `new` for one that is not kept yet. */
  readonly key = input.required<string>();
  /** Of which a new one is a copy. */
  readonly copyOf = input<string>();
  protected readonly isNew = computed(() => this.key() === 'new');
  protected readonly resource = rxResource({
    params: () => (this.isNew() ? this.copyOf() : this.key()),
    stream: ({ params }) => this.api.find(params),
  });
  /** As it is kept; null for a new one. */
  protected readonly it = computed(() =>
    !this.isNew() && this.resource.hasValue() ? (this.resource.value() ?? null) : null,
  );
  private readonly stored = computed(
    (): KeptFields | null => {
      if (this.isNew() && !this.copyOf()) return blank;
      const found = this.resource.hasValue() ? this.resource.value() : undefined;
      if (!found) return null;
      const { name, purpose, channel, wording } = found;
      return { name: this.isNew() ? `Copy of ${name}` : name, purpose, channel, wording };
    },
    { equal: isSame },
  );
  protected readonly draft = signal<KeptFields>(blank);
  protected readonly followed = followStored(this.stored, { typed: this.draft, show: (it) => this.draft.set(it) });
  private readonly isDone = signal(false);
  protected readonly isChanged = computed(() => !this.isDone() && this.followed.isChanged());
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly isBusy = signal(false);
  protected readonly channels = optionsOf(['email', 'text'] as const);
  protected readonly purposes = purposes.map((key) => ({ key, name: purposeWords[key] }));
  protected readonly words: PartWords<KeptFields, 'name' | 'purpose' | 'words'> = {
    parts: { name: ['name'], purpose: ['purpose', 'channel'], words: ['wording'] },
    names: { name: 'Name', purpose: 'For', words: 'Words' },
    say: (one, part) =>
      part === 'name'
        ? one.name
        : part === 'purpose'
          ? `${purposeWords[one.purpose]}, ${one.channel}`
          : [one.wording.subject, plainTextOf(one.wording)].filter(Boolean).join(' · '),
  };

  /** Of which event, and as whom it is shown; the next event, and somebody of it, where nobody says. */
  private readonly eventId = signal<number | null>(null);
  protected readonly personId = signal<number | null>(null);
  private readonly settled = toSignal(toObservable(this.draft).pipe(debounceTime(250)));
  protected readonly previewed = rxResource({
    params: () => {
      const draft = this.settled();
      const [eventId, personId] = [this.eventId(), this.personId()];
      return draft?.wording.blocks.length
        ? { channel: draft.channel, wording: draft.wording, eventId, personId }
        : undefined;
    },
    stream: ({ params }) => this.api.preview(params),
  });
  protected readonly preview = computed(() => (this.previewed.hasValue() ? (this.previewed.value() ?? null) : null));

  constructor() {
    keepTyped({
      key: () => (this.followed.base() ? `wording.${this.key()}` : ''),
      value: computed(() => ({ base: this.followed.base() ?? blank, value: this.draft() })),
      isChanged: this.isChanged,
      read: (text) => kept.safeParse(text).data ?? null,
      restore: (before) => this.followed.restore(before),
    });
    reloadOn(
      () => ['wordings'],
      () => this.resource.reload(),
    );
  }

  protected readonly findEvent = (search: string): Observable<readonly Choice<number>[]> =>
    this.events
      .list({ when: 'coming', search, after: 0 })
      .pipe(map(({ rows }) => rows.slice(0, 8).map(({ id, title }) => ({ value: id, name: title }))));
  protected showOf(eventId: number): void {
    this.eventId.set(eventId);
    this.personId.set(null);
  }
  protected tried({ event, person }: KeptPreview): Tried | null {
    if (!this.session.canMarket()) return null;
    const { channel, wording } = this.draft();
    const [eventId, personId] = [event?.id ?? null, person.id || null];
    return { kind: event ? 'cue' : 'manual', channel, wording, eventId, personId };
  }
  protected change(part: Partial<KeptFields>): void {
    this.draft.update((draft) => ({ ...draft, ...part }));
  }
  /** A text message is typed: what stood in blocks stays, as what was typed. */
  protected by(channel: Channel): void {
    const { wording } = this.draft();
    this.change({
      channel,
      ...(channel === 'text' && { wording: plainDocument(wording.subject, plainTextOf(wording)) }),
    });
  }
  protected clear(): void {
    this.problem.set('');
    this.problems.set([]);
  }

  /** A block that stands in messages is changed in all of them that are not sent yet: that is asked first. */
  protected save(): void {
    const { usedBy = [], alsoIn = [], hasMoreUses = false } = this.it() ?? {};
    const count = usedBy.length + alsoIn.length;
    if (this.draft().purpose !== 'block' || count === 0) return this.keep();
    this.confirm
      .ask({
        title: 'Change it everywhere?',
        text: `It stands in ${hasMoreUses ? 'more than ' : ''}${sayCount(count, 'message', 'messages')}: ${[...usedBy.map(({ name }) => name), ...alsoIn].join(', ')}. Those that are not sent yet say it as it is now.`,
        yes: 'Change it everywhere',
      })
      .subscribe(() => this.keep());
  }
  private keep(): void {
    const [fields, was] = [this.draft(), this.isNew() ? null : this.followed.base()];
    this.isBusy.set(true);
    const change = { ...fields, ...(was && { was }) };
    const saved: Observable<unknown> = this.isNew() ? this.api.create(change) : this.api.save(this.key(), change);
    saved.subscribe({
      next: (made) => {
        this.isBusy.set(false);
        this.clear();
        this.followed.wasSaved(fields);
        this.toast.say('Kept.');
        const { key } = madeKey.safeParse(made).data ?? {};
        if (key) this.go(key);
        else this.resource.reload();
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
        this.resource.reload();
      },
    });
  }
  protected drop(): void {
    const isShipped = this.it()?.isShipped ?? false;
    this.confirm
      .ask({
        title: isShipped ? 'Back to the original?' : 'Take it out?',
        text: isShipped
          ? 'It says again what came with Convite. What went out stays as it was.'
          : 'It is offered to nobody any more. What was written from it stays as it is.',
        yes: isShipped ? 'Back to the original' : 'Take it out',
      })
      .subscribe(() =>
        this.api.drop(this.key()).subscribe({
          next: () => {
            if (!isShipped) return this.leave();
            this.followed.drop();
            this.resource.reload();
          },
          error: (error: unknown) => this.toast.fail(error),
        }),
      );
  }
  protected archive(isArchived: boolean): void {
    this.api.archive(this.key(), isArchived).subscribe({
      next: () => this.resource.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected discard(): void {
    if (!this.isChanged()) return this.leave();
    this.followed.drop();
    this.clear();
  }
  private leave(): void {
    this.isDone.set(true);
    void this.router.navigate(['/wording']);
  }
  private go(key: string): void {
    void this.router.navigate(['/wording', key], { replaceUrl: true });
  }
}

const madeKey = z.object({ key: z.string() });
