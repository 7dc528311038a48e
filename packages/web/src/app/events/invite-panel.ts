import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { sayNumber } from '../ui/say';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatButtonToggleModule } from '@angular/material/button-toggle';
import { MatCheckboxModule } from '@angular/material/checkbox';
import {
  wordingText,
  type ChosenPeople,
  type EventDetail,
  type LocatedProblem,
  type WordingText,
} from '@convite/contract';
import * as z from 'zod';
import { isSame, type Channel } from '@convite/core';
import { problemsOf, sayError } from '../refused';
import { EventsApi } from '../api/events';
import { AudienceCount, sayReason, type PeopleBehind } from '../ui/audience-count';
import { Confirm, type Sending } from '../ui/confirm';
import { keepTyped } from '../ui/form/unsaved';
import { Fold } from '../ui/fold';
import { FormBar } from '../ui/form/form-bar';
import { Toast } from '../ui/toast';
import { WordingFields } from '../ui/wording-fields';
import { PeopleToInvite } from './people-to-invite';
import { isAnybody, nobody, SomePeopleField, type SomePeople } from './some-people';
import { TriedOut } from './try-out';

const mostFirstLines = 5;
const kept = z.object({ channel: z.enum(['email', 'text']), wording: wordingText });

/** The way from people to invitations, in one look: who gets it and why not the others, its first lines, what was tried; then *Send*. */
@Component({
  selector: 'cv-invite-panel',
  imports: [
    AudienceCount,
    Fold,
    FormBar,
    MatButtonModule,
    MatButtonToggleModule,
    MatCheckboxModule,
    PeopleToInvite,
    SomePeopleField,
    TriedOut,
    WordingFields,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './invite-panel.html',
  styleUrl: './invite-panel.scss',
})
export class InvitePanel {
  private readonly api = inject(EventsApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  readonly event = input.required<EventDetail>();
  /** Guests picked by hand, instead of lists. */
  readonly people = input<readonly number[]>([]);
  readonly sent = output();
  /** People were taken, or lists chosen: the event is to be read again. */
  readonly changed = output();

  private readonly choice = viewChild(PeopleToInvite);
  protected readonly channel = signal<Channel>('email');
  /** Those who became guests otherwise, such as from an imported calendar, instead of lists. */
  protected readonly asksGuests = signal(false);
  protected readonly chosen = linkedSignal<readonly number[], readonly number[]>({
    source: () => this.event().toInvite.map(({ id }) => id),
    computation: (ids) => ids,
    equal: isSame,
  });
  protected readonly segments = linkedSignal<readonly number[], readonly number[]>({
    source: () => this.event().toInviteSegments.map(({ id }) => id),
    computation: (ids) => ids,
    equal: isSame,
  });
  private readonly hasChosen = computed(
    () => this.asksGuests() || this.people().length + this.chosen().length + this.segments().length > 0,
  );
  protected readonly pasted = signal('');
  protected readonly how = signal('');
  protected readonly out = signal<SomePeople>(nobody);
  protected readonly leavesOut = computed(() => isAnybody(this.out()));
  private readonly whom = computed((): ChosenPeople => {
    const { lists, segments, people } = this.out();
    const out = { exceptLists: lists, exceptSegments: segments, exceptPeople: people };
    if (this.people().length) return { lists: [], segments: [], people: this.people(), ...out };
    if (this.asksGuests()) return { lists: [], segments: [], people: [], ...out };
    return { lists: this.chosen(), segments: this.segments(), people: [], ...out };
  });
  protected readonly wording = signal<WordingText | null>(null);
  protected readonly isWriting = signal(false);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly isBusy = signal(false);
  protected readonly isDraft = computed(() => this.event().status === 'draft');

  private readonly house = rxResource({
    params: () => this.event().id,
    stream: ({ params }) => this.api.houseWordings(params),
  });
  private readonly counted = computed(
    () =>
      this.hasChosen()
        ? { id: this.event().id, whom: this.whom(), channel: this.channel(), invited: this.event().invited }
        : undefined,
    { equal: isSame },
  );
  private readonly planResource = rxResource({
    params: () => this.counted(),
    stream: ({ params }) => this.api.countInvitations(params.id, params.whom, params.channel),
  });
  protected readonly behind: PeopleBehind = (reason, after) =>
    this.api.behindCount(this.event().id, {
      of: {
        kind: 'invitation',
        channel: this.channel(),
        ...this.whom(),
      },
      reason,
      after,
    });
  protected readonly plan = computed(() => (this.planResource.hasValue() ? (this.planResource.value() ?? null) : null));
  /** Words that are being typed are looked at when somebody is done with them. */
  private readonly settled = signal<WordingText | null>(null);
  private readonly asked = computed(
    () => {
      const wording = this.channel() === 'email' ? this.settled() : null;
      return wording ? { id: this.event().id, version: this.event().version, wording } : undefined;
    },
    { equal: isSame },
  );
  private readonly previewResource = rxResource({
    params: () => this.asked(),
    stream: ({ params }) => this.api.previewInvitation(params.id, null, params.wording),
  });
  protected readonly preview = computed(() =>
    this.previewResource.hasValue() ? (this.previewResource.value() ?? null) : null,
  );
  protected readonly firstLines = computed(() =>
    (this.preview()?.text ?? '')
      .split('\n')
      .filter((line) => line.trim())
      .map((line) => line.replace(/https?:\S+/g, '(link)'))
      .slice(0, mostFirstLines)
      .join('\n'),
  );
  protected readonly tried = rxResource({
    params: () => this.asked(),
    stream: ({ params }) => this.api.tryOut(params.id, params.wording),
  });
  protected readonly triedValue = computed(() => (this.tried.hasValue() ? (this.tried.value() ?? null) : null));
  protected readonly gets = computed(() => {
    const plan = this.plan();
    return plan?.share === 1 ? plan.audience.gets : 0;
  });
  protected readonly canSend = computed(() => this.gets() > 0 && !this.pasted().trim());
  protected readonly sendLabel = computed(() => {
    const gets = this.gets();
    const whom = gets ? ` ${gets === 1 ? 'one person' : `${sayNumber(gets)} people`}` : '';
    return this.isDraft() ? `Publish and invite${whom}` : `Invite${whom}`;
  });
  protected readonly hint = computed(() => {
    if (this.pasted().trim()) return 'Take the pasted people first, or clear the field.';
    if (!this.hasChosen()) return 'Choose a list or a segment, or paste addresses.';
    const plan = this.plan();
    if (!plan || plan.share < 1) return 'Counting …';
    if (plan.audience.gets === 0) return 'Nobody would get this; the reasons stand beside it.';
    return this.isDraft()
      ? 'Publishes the event, then each gets a personal invitation.'
      : 'Each gets a personal invitation, at once.';
  });

  private readonly isSent = signal(false);
  /** Words that were changed here, and are kept nowhere else. */
  private readonly isRewritten = computed(() => {
    const [house, wording] = [this.house.hasValue() ? this.house.value() : undefined, this.wording()];
    if (!house || !wording || this.isSent()) return false;
    return !isSame(wording, this.channel() === 'email' ? house.invitation : house.invitationText);
  });

  constructor() {
    keepTyped({
      key: () => `invite.${this.event().id}`,
      value: computed(() => ({ channel: this.channel(), wording: this.wording() ?? { subject: '', body: '' } })),
      isChanged: this.isRewritten,
      read: (text) => kept.safeParse(text).data ?? null,
      restore: ({ channel, wording }) => {
        this.channel.set(channel);
        this.wording.set(wording);
        this.settled.set(wording);
        this.isWriting.set(true);
      },
    });
    effect(() => {
      if (this.house.hasValue() && this.wording() === null) this.choose('email');
    });
  }

  protected choose(channel: Channel): void {
    this.channel.set(channel);
    const house = this.house.hasValue() ? this.house.value() : undefined;
    if (!house) return;
    this.wording.set(channel === 'email' ? house.invitation : house.invitationText);
    this.settled.set(this.wording());
  }
  protected settle(): void {
    if (!isSame(this.settled(), this.wording())) this.settled.set(this.wording());
  }
  protected setToInvite(lists: readonly number[], segments: readonly number[]): void {
    this.chosen.set(lists);
    this.segments.set(segments);
    this.api
      .chooseToInvite(this.event().id, lists, segments)
      .subscribe({ error: (error: unknown) => this.toast.fail(error) });
  }
  protected take(): void {
    this.isBusy.set(true);
    this.api.pasteToInvite(this.event().id, this.pasted(), this.how().trim()).subscribe({
      next: ({ added, already, problems }) => {
        this.pasted.set('');
        this.isBusy.set(false);
        const left = problems.length ? ` ${sayNumber(problems.length)} lines were not taken.` : '';
        this.toast.say(`${sayNumber(added + already)} people are going to be invited.${left}`);
        this.choice()?.reload();
        this.changed.emit();
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.isBusy.set(false);
      },
    });
  }
  protected send(): void {
    const wording = this.wording();
    const gets = this.gets();
    if (!wording) return;
    const send = (sending: Sending) =>
      this.api.invite(this.event().id, this.whom(), this.channel(), wording, sending, this.isDraft());
    this.confirm
      .ask({
        title: `${this.isDraft() ? 'Publish, and invite' : 'Invite'} ${gets === 1 ? 'one person' : `${sayNumber(gets)} people`}?`,
        text: this.summary(wording),
        yes: `Send to ${sayNumber(gets)}`,
      })
      .subscribe(() => {
        this.isBusy.set(true);
        this.confirm.sendAsking(send, 'Each gets a personal invitation, at once.', gets).subscribe({
          next: () => {
            this.isSent.set(true);
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
      });
  }
  /** What goes to whom, to be read once more before it goes. */
  private summary(wording: WordingText): string {
    const without = (this.plan()?.audience.without ?? []).map(
      ({ reason, count }) => `${sayNumber(count)} ${sayReason(reason)}`,
    );
    const bad = (this.triedValue()?.parts ?? [])
      .filter(({ isGood }) => !isGood)
      .map(({ name, said }) => `${name}: ${said}`);
    return [
      this.channel() === 'email' ? (this.preview()?.subject ?? wording.subject) : wording.body,
      this.channel() === 'email' ? this.firstLines() : '',
      without.length ? `Not to those who: ${without.join('; ')}.` : '',
      bad.length ? `Not right: ${bad.join('; ')}` : '',
    ]
      .filter(Boolean)
      .join('\n\n');
  }
}
