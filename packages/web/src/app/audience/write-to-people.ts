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
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import {
  nobodyChosen,
  noWording,
  type ChosenPeople,
  type CountedMessage,
  type LiveCount,
  type LocatedProblem,
  type PeopleSelection,
} from '@convite/contract';
import { plainTextOf, type Channel, type WordingDocument } from '@convite/core';
import { ManualApi } from '../api/manual';
import { reading } from '../api/reading';
import { SendersApi } from '../api/senders';
import { Session } from '../api/session';
import { problemsOf, sayError } from '../refused';
import { sayWithout } from '../ui/audience/audience-count';
import { AudienceEditor } from '../ui/audience/audience-editor';
import { Confirm, type Sending } from '../ui/confirm';
import { Panel } from '../ui/panel';
import { sayCount, sayNumber } from '../ui/say';
import { SenderChoice } from '../ui/sender-choice';
import { Toast } from '../ui/toast';
import { optionsOf, Toggle } from '../ui/toggle';
import { AsRead } from '../ui/wording/as-read';
import type { Tried } from '../ui/wording/send-test';
import { WordingEditor } from '../ui/wording/wording-editor';

const channels = ['email', 'text'] as const;

/** Writes to the people who were picked, now: who gets it and why not the others, the words, how one of them reads it; then *Send*. */
@Component({
  selector: 'cv-write-to-people',
  imports: [AsRead, AudienceEditor, MatButtonModule, Panel, SenderChoice, Toggle, WordingEditor],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-panel label="Write to them now" (closed)="closed.emit()">
      @if (chosen(); as it) {
        <section class="stack loose">
          <cv-toggle label="By" [options]="channels" [(value)]="channel" />
          <cv-audience-editor
            [chosen]="it"
            (chosenChange)="chosen.set($event)"
            [message]="message()"
            (counted)="count.set($event)"
          />
          <cv-sender-choice [senders]="senders.value()" [sender]="senderId()" (chosen)="senderId.set($event)" />
          <cv-wording-editor
            [channel]="channel()"
            [wording]="wording()"
            [problems]="problems()"
            [isOfEvent]="false"
            (wordingChange)="wording.set($event)"
          />
          @if (problem()) {
            <p class="note alarm" role="alert">{{ problem() }}</p>
          }
          <p class="row">
            <button matButton="outlined" type="button" [disabled]="!isWritten()" (click)="look()">
              See how they read it
            </button>
            <button matButton="filled" type="button" [disabled]="!canSend()" (click)="send()">{{ sendLabel() }}</button>
          </p>
          @if (preview(); as shown) {
            <section class="stack tight" aria-label="As one of them reads it">
              <p class="small quiet">As {{ shown.person.name || 'one of them' }} reads it:</p>
              <cv-as-read [message]="shown.message" [wording]="wording()" [tried]="tried(shown.person.id)" />
            </section>
          }
        </section>
      } @else {
        <p>
          A search cannot be written to: who matches it is another tomorrow. Pick the people one by one, or look at a
          list or a segment and pick all of it.
        </p>
      }
    </cv-panel>
  `,
})
export class WriteToPeople {
  private readonly api = inject(ManualApi);
  private readonly session = inject(Session);
  private readonly sendersApi = inject(SendersApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  readonly selection = input.required<PeopleSelection>();
  readonly closed = output();
  protected readonly channels = optionsOf(channels);
  protected readonly channel = signal<Channel>('email');
  protected readonly wording = signal<WordingDocument>(noWording);
  protected readonly senderId = signal<number | null>(null);
  protected readonly senders = reading(() => this.sendersApi.list(), []);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  private readonly isSending = signal(false);
  /** Whoever was picked, and what is made of it here; null for what is no audience. */
  protected readonly chosen = linkedSignal(() => whomOf(this.selection()));
  protected readonly message = computed((): CountedMessage | undefined => {
    const chosen = this.chosen();
    return chosen ? { kind: 'manual', channel: this.channel(), ...chosen } : undefined;
  });
  /** As far as it is counted who gets it. */
  protected readonly count = signal<LiveCount | null>(null);
  private readonly gets = computed(() => {
    const count = this.count();
    return count?.share === 1 ? count.audience.gets : 0;
  });
  private readonly asked = signal<ReturnType<typeof this.request>>(null);
  private readonly previewResource = rxResource({
    params: () => this.asked() ?? undefined,
    stream: ({ params }) => this.api.preview(params),
  });
  protected readonly preview = computed(() =>
    this.previewResource.hasValue() ? (this.previewResource.value() ?? null) : null,
  );
  protected readonly isWritten = computed(() => {
    const wording = this.wording();
    return plainTextOf(wording).trim() !== '' && (this.channel() === 'text' || wording.subject.trim() !== '');
  });
  protected readonly canSend = computed(() => this.isWritten() && this.gets() > 0 && !this.isSending());
  protected readonly sendLabel = computed(() =>
    this.gets() ? `Send to ${sayCount(this.gets(), 'person', 'people')}` : 'Send',
  );

  protected tried = (personId: number): Tried => ({
    kind: 'manual',
    channel: this.channel(),
    wording: this.wording(),
    eventId: null,
    personId: personId || null,
    senderId: this.senderId(),
  });
  protected look(): void {
    this.asked.set(this.request());
  }
  protected send(): void {
    const request = this.request();
    if (!request) return;
    const gets = this.gets();
    this.confirm
      .ask({
        title: `Send to ${sayCount(gets, 'person', 'people')}?`,
        text: [
          this.channel() === 'email' ? request.wording.subject : '',
          plainTextOf(request.wording).slice(0, 400),
          sayWithout(this.count()?.audience ?? { without: [] }),
        ]
          .filter(Boolean)
          .join('\n\n'),
        yes: `Send to ${sayNumber(gets)}`,
      })
      .subscribe(() => {
        this.isSending.set(true);
        const send = ({ count, key }: Sending) => this.api.send(request, count, key);
        this.confirm.sendAsking(send, 'It goes out at once.', gets).subscribe({
          next: () => {
            this.toast.say(this.session.saySent('It is going out. The call board says how far it is.'));
            this.closed.emit();
          },
          error: (error: unknown) => {
            this.problem.set(sayError(error));
            this.problems.set(problemsOf(error));
            this.isSending.set(false);
          },
          complete: () => this.isSending.set(false),
        });
      });
  }
  private request() {
    const chosen = this.chosen();
    return chosen ? { ...chosen, channel: this.channel(), wording: this.wording(), senderId: this.senderId() } : null;
  }
}

function whomOf(selection: PeopleSelection): ChosenPeople | null {
  if ('ids' in selection) return { ...nobodyChosen, people: selection.ids };
  if (selection.search.trim()) return null;
  if (selection.segment) return { ...nobodyChosen, segments: [selection.segment] };
  return selection.list === null ? null : { ...nobodyChosen, lists: [selection.list] };
}
