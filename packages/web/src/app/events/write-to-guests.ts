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
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { debounceTime, type Observable } from 'rxjs';
import {
  noWording,
  type CountedMessage,
  type CueFields,
  type EventDetail,
  type LiveCount,
  type LocatedProblem,
  type OccurrenceRow,
} from '@convite/contract';
import { plainTextOf, sayWhen, type Channel, type WordingDocument } from '@convite/core';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { WordingsApi } from '../api/wordings';
import { problemsOf, sayError } from '../refused';
import { sayWithout } from '../ui/audience/audience-count';
import { LiveAudienceCount } from '../ui/audience/live-count';
import { Confirm, type Sending } from '../ui/confirm';
import { Panel } from '../ui/panel';
import { sayCount, sayNumber } from '../ui/say';
import { TimeField } from '../ui/time/time-field';
import { Toast } from '../ui/toast';
import { optionsOf, Toggle, type ToggleOption } from '../ui/toggle';
import { typed } from '../ui/typed';
import { WordingEditor } from '../ui/wording/wording-editor';
import { CuePreviewPane } from './cue-preview';
import { audienceOf, isOfInvitation, slices, type Slice } from './guest-slices';

const channels = ['email', 'text'] as const;

/** Writes to some of an event's guests, now or at a time: whom, what, as one of them reads it; then *Send*. */
@Component({
  selector: 'cv-write-to-guests',
  imports: [
    CuePreviewPane,
    LiveAudienceCount,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    Panel,
    TimeField,
    Toggle,
    WordingEditor,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-panel label="Write to guests" (closed)="closed.emit()">
      <section class="stack loose">
        <div class="row">
          <span>To</span>
          <mat-form-field class="inline whom" subscriptSizing="dynamic"
            ><select matNativeControl aria-label="To whom" (change)="choose(typed($event))">
              @for (one of choices(); track one.slice) {
                <option [value]="one.slice" [selected]="one.slice === slice()">{{ one.says }}</option>
              }
            </select></mat-form-field
          >
          @if (dates().length) {
            <mat-form-field class="inline" subscriptSizing="dynamic"
              ><select matNativeControl aria-label="About which date" (change)="date.set(typed($event))">
                <option value="">of the whole series</option>
                @for (one of dates(); track one.key) {
                  <option [value]="one.key" [selected]="one.key === date()">{{ sayDate(one) }}</option>
                }
              </select></mat-form-field
            >
          }
          <cv-toggle label="By" [options]="channels" [(value)]="channel" />
        </div>
        @if (difference(); as words) {
          <p class="note">{{ words }}</p>
        }
        <cv-live-count [message]="counted()" (counted)="count.set($event)" />
        @if (channel() === 'email') {
          <mat-checkbox [checked]="inThread()" (change)="inThread.set($event.checked)"
            >in the thread of their invitation</mat-checkbox
          >
        }
        <cv-wording-editor
          [channel]="channel()"
          [wording]="wording()"
          [problems]="problems()"
          (wordingChange)="wording.set($event)"
        />
        <div class="row">
          <cv-toggle label="When" [options]="times" [(value)]="isLater" />
          @if (isLater()) {
            <cv-time-field
              label="When it goes"
              [zone]="event().facts.zone"
              [value]="wall()"
              (valueChange)="wall.set($event)"
            />
          }
          <button matButton="filled" type="button" class="push" [disabled]="!canSend()" (click)="send()">
            {{ sendLabel() }}
          </button>
        </div>
        @if (problem()) {
          <p class="note alarm" role="alert">{{ problem() }}</p>
        }
        <cv-cue-preview
          [preview]="previewed()"
          [wording]="wording()"
          [zone]="event().facts.zone"
          [eventId]="event().id"
          (person)="personId.set($event)"
        />
      </section>
    </cv-panel>
  `,
  styles: `
    .whom {
      min-width: 320px;
    }
    p {
      margin: 0;
    }
  `,
})
export class WriteToGuests {
  private readonly api = inject(EventsApi);
  private readonly wordings = inject(WordingsApi);
  private readonly session = inject(Session);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  protected readonly typed = typed;
  readonly event = input.required<EventDetail>();
  /** Dates of a series that can be written about. */
  readonly dates = input<readonly OccurrenceRow[]>([]);
  /** Guests who were picked; none where it begins with a slice of them. */
  readonly picked = input<readonly number[]>([]);
  readonly beginsWith = input<Slice>('silent');
  /** The date whose answers are looked at. */
  readonly about = input('');
  /** How many answered how, to say who is left out of a second invitation. */
  readonly counts = input<Readonly<Record<string, number>> | null>(null);
  readonly closed = output();

  protected readonly slice = signal<Slice>('silent');
  protected readonly date = signal('');
  protected readonly channels = optionsOf(channels);
  protected readonly times: readonly ToggleOption<boolean>[] = [
    { key: false, label: 'now' },
    { key: true, label: 'at a time' },
  ];
  protected readonly channel = signal<Channel>('email');
  protected readonly inThread = signal(true);
  protected readonly wording = signal<WordingDocument>(noWording);
  protected readonly isLater = signal(false);
  protected readonly wall = signal('');
  protected readonly personId = signal<number | null>(null);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly count = signal<LiveCount | null>(null);
  private readonly isSending = signal(false);

  protected readonly choices = computed(() => [
    ...(this.picked().length
      ? [{ slice: 'picked' as const, says: `the ${sayCount(this.picked().length, 'guest', 'guests')} you picked` }]
      : []),
    ...keys
      .filter((slice) => slice !== 'waitlisted' || this.event().facts.registration?.waitlist)
      .map((slice) => ({ slice, says: slices[slice].says })),
  ]);
  protected readonly difference = computed(() => {
    const counts = this.counts();
    if (this.slice() !== 'second' || !counts) return '';
    const { accepted = 0, declined = 0 } = counts;
    const all = Object.values(counts).reduce((sum, n) => sum + n, 0);
    return `The first went to ${sayCount(all, 'person', 'people')}. Of them ${sayNumber(accepted)} said yes and ${sayNumber(declined)} said no: they are left out.${this.event().facts.registration ? ' Say the deadline in the subject.' : ''}`;
  });
  private readonly fields = computed((): CueFields => ({
    name: this.wording().subject.slice(0, 120) || 'By hand',
    channel: this.channel(),
    moment: { kind: 'fixed', wall: this.wall(), ...(this.date() && { date: this.date() }) },
    audience: audienceOf(this.slice(), this.picked()),
    wording: this.wording(),
    isDraft: false,
    ...(this.channel() === 'email' && this.inThread() && { inThread: true }),
  }));
  private readonly settled = toSignal(toObservable(this.fields).pipe(debounceTime(250)));
  protected readonly counted = computed((): CountedMessage | undefined => {
    const fields = this.settled();
    if (!fields) return undefined;
    const { channel, audience, moment } = fields;
    return { kind: 'cue', eventId: this.event().id, channel, audience, moment: now(moment) };
  });
  private readonly preview = rxResource({
    params: () => {
      const fields = this.settled();
      return fields && { id: this.event().id, fields, personId: this.personId() };
    },
    stream: ({ params }) =>
      this.api.previewCue(params.id, { ...params.fields, moment: now(params.fields.moment) }, params.personId),
  });
  protected readonly previewed = computed(() => {
    const shown = this.preview.hasValue() ? (this.preview.value() ?? null) : null;
    // By hand it has no moment of its own.
    return shown && { ...shown, dueAt: null };
  });
  private readonly gets = computed(() => {
    const count = this.count();
    return count?.share === 1 ? count.audience.gets : 0;
  });
  protected readonly canSend = computed(
    () => this.gets() > 0 && !this.isSending() && (!this.isLater() || this.wall() !== ''),
  );
  protected readonly sendLabel = computed(() => {
    if (this.isLater()) return 'Set it';
    return this.gets() ? `Send to ${sayCount(this.gets(), 'person', 'people')}` : 'Send';
  });

  constructor() {
    effect(() => {
      const [about, slice] = [this.about(), this.picked().length ? 'picked' : this.beginsWith()];
      untracked(() => {
        this.date.set(about);
        this.choose(slice);
      });
    });
  }

  protected sayDate = ({ facts, calledOff }: OccurrenceRow): string =>
    `of ${sayWhen(facts, '')}${calledOff ? ', called off' : ''}`;
  /** The words that go with a slice, unless something was typed. */
  protected choose(text: string): void {
    const slice = text === 'picked' ? text : (keys.find((one) => one === text) ?? 'silent');
    const wasTyped = this.wording() !== this.begun;
    this.slice.set(slice);
    this.inThread.set(slice === 'picked' || isOfInvitation(slice));
    if (wasTyped) return;
    // Where nobody registers there is no deadline to name.
    const registers = this.event().facts.registration !== null;
    const from = slice === 'picked' || (slice === 'second' && !registers) ? 'remind' : slices[slice].from;
    this.wordings.begin(from, 'email').subscribe({
      next: ({ wording }) => {
        this.begun = wording;
        this.wording.set(wording);
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  private begun: WordingDocument = noWording;

  protected send(): void {
    if (this.isLater()) return this.done(this.api.saveCue(this.event().id, null, this.fields()), 'It is set.');
    const { wording } = this.fields();
    const gets = this.gets();
    // As the one of them whose preview stands below reads it.
    const { subject = wording.subject, text = plainTextOf(wording) } = this.previewed()?.message ?? {};
    this.confirm
      .ask({
        title: `Send to ${sayCount(gets, 'person', 'people')}?`,
        text: [
          this.channel() === 'email' ? subject : '',
          text.slice(0, 400),
          sayWithout(this.count()?.audience ?? { without: [] }),
        ]
          .filter(Boolean)
          .join('\n\n'),
        yes: `Send to ${sayNumber(gets)}`,
      })
      .subscribe(() => {
        const { channel, audience, inThread } = this.fields();
        const asked = { channel, audience, wording, date: this.date(), ...(inThread && { inThread }) };
        const send = ({ count, key }: Sending) => this.api.writeToGuests(this.event().id, asked, count, key);
        this.done(
          this.confirm.sendAsking(send, 'It goes out at once.', gets),
          this.session.saySent('It is going out. It stands among the cues, with its log.'),
        );
      });
  }
  private done(act: Observable<unknown>, said: string): void {
    this.isSending.set(true);
    act.subscribe({
      next: () => {
        this.toast.say(said);
        this.closed.emit();
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
        this.isSending.set(false);
      },
      complete: () => this.isSending.set(false),
    });
  }
}

const keys = Object.keys(slices).filter((key): key is keyof typeof slices => key in slices);

/** While no time is typed it is as good as now: the first instant there is has passed. */
const now = (moment: CueFields['moment']): CueFields['moment'] =>
  moment.kind === 'fixed' && !moment.wall ? { ...moment, wall: '2000-01-01T00:00' } : moment;
