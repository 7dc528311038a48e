import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { LocatedProblem, WordingText } from '@convite/contract';
import type { Channel } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { problemsOf, sayError } from '../refused';
import { EventsApi } from '../api/events';
import { reading } from '../api/reading';
import { AudienceCount } from '../ui/audience-count';
import { Confirm, type Sending } from '../ui/confirm';
import { ReadingProblem } from '../ui/reading-problem';
import { Toast } from '../ui/toast';
import { WordingFields } from '../ui/wording-fields';

/** Invites lists: who gets it and who does not, because; the words around the calendar entry; then the button. */
@Component({
  selector: 'cv-invite-panel',
  imports: [AudienceCount, MatButtonModule, ReadingProblem, WordingFields],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet columns" aria-label="Invite a list">
      <div>
        <cv-wording-fields
          [channel]="channel()"
          [wording]="wording()"
          [problems]="problems()"
          (wordingChange)="wording.set($event)"
        />
      </div>
      <div class="stack">
        <div class="choice" role="group" aria-label="By">
          <button [attr.aria-pressed]="channel() === 'email'" (click)="choose('email')">
            by email, with the calendar entry
          </button>
          <button [attr.aria-pressed]="channel() === 'text'" (click)="choose('text')">by text</button>
        </div>
        <fieldset>
          <legend>Lists</legend>
          <label class="check"
            ><input type="checkbox" [checked]="asksGuests()" (change)="asksGuests.set(!asksGuests())" /> Guests who hold
            no entry yet</label
          >
          <cv-reading-problem [of]="lists" what="The lists" />
          @for (list of lists.value(); track list.id) {
            <label class="check"
              ><input
                type="checkbox"
                [disabled]="asksGuests()"
                [checked]="!asksGuests() && chosen().includes(list.id)"
                (change)="toggle(list.id)"
              />
              {{ list.name }} <span class="quiet">{{ list.count }}</span></label
            >
          }
        </fieldset>
        @if (plan.hasValue() && plan.value(); as count) {
          <cv-audience-count [count]="count.audience" [share]="count.share" />
        }
        @if (problem()) {
          <p class="note alarm" role="alert">{{ problem() }}</p>
        }
        <div><button matButton="filled" (click)="send()" [disabled]="!canSend()">Send the invitation</button></div>
      </div>
    </section>
  `,
  styles: `
    .choice button {
      flex: 1;
    }
  `,
})
export class InvitePanel {
  private readonly api = inject(EventsApi);
  private readonly audience = inject(AudienceApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  readonly eventId = input.required<number>();
  readonly sent = output();

  protected readonly channel = signal<Channel>('email');
  /** Those who became guests otherwise, such as from an imported calendar, instead of lists. */
  protected readonly asksGuests = signal(false);
  private readonly audienceLists = computed(() => (this.asksGuests() ? [] : this.chosen()));
  protected readonly chosen = signal<readonly number[]>([]);
  protected readonly wording = signal<WordingText>({ subject: '', body: '' });
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  private readonly isBusy = signal(false);
  protected readonly lists = reading(() => this.audience.lists(), []);
  private readonly house = rxResource({
    params: () => this.eventId(),
    stream: ({ params }) => this.api.houseWordings(params),
  });
  protected readonly plan = rxResource({
    params: () =>
      this.asksGuests() || this.chosen().length
        ? { id: this.eventId(), lists: this.audienceLists(), channel: this.channel() }
        : undefined,
    stream: ({ params }) => this.api.countInvitations(params.id, params.lists, params.channel),
  });
  protected readonly canSend = computed(
    () =>
      !this.isBusy() &&
      this.plan.hasValue() &&
      this.plan.value()?.share === 1 &&
      this.plan.value()?.audience.gets !== 0,
  );

  constructor() {
    effect(() => {
      if (this.house.hasValue()) this.choose('email');
    });
  }

  protected choose(channel: Channel): void {
    this.channel.set(channel);
    const house = this.house.hasValue() ? this.house.value() : undefined;
    if (house) this.wording.set(channel === 'email' ? house.invitation : house.invitationText);
  }
  protected toggle(id: number): void {
    this.chosen.update((chosen) => (chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id]));
  }
  protected send(): void {
    const send = (sending: Sending) =>
      this.api.invite(this.eventId(), this.audienceLists(), this.channel(), this.wording(), sending);
    this.isBusy.set(true);
    this.confirm.sendAsking(send, 'Each gets a personal invitation, at once.').subscribe({
      next: () => {
        this.toast.say('The invitations are going out.');
        this.sent.emit();
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
        this.isBusy.set(false);
      },
      complete: () => this.isBusy.set(false),
    });
  }
}
