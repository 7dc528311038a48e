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
import { MatCheckboxModule } from '@angular/material/checkbox';
import {
  nobodyChosen,
  noWording,
  type InvitationPreview,
  wordingDocument,
  type ChosenPeople,
  type CountedMessage,
  type EventDetail,
  type LiveCount,
  type LocatedProblem,
} from '@convite/contract';
import * as z from 'zod';
import { isSame, plainTextOf, type Channel, type WordingDocument } from '@convite/core';
import { problemsOf, sayError } from '../refused';
import { EventsApi } from '../api/events';
import { sayWithout } from '../ui/audience/audience-count';
import { AudienceEditor } from '../ui/audience/audience-editor';
import { Confirm, type Sending } from '../ui/confirm';
import { keepTyped } from '../ui/form/unsaved';
import { FormBar } from '../ui/form/form-bar';
import { Session } from '../api/session';
import { Toast } from '../ui/toast';
import { Toggle, type ToggleOption } from '../ui/toggle';
import { AsRead } from '../ui/wording/as-read';
import type { Tried } from '../ui/wording/send-test';
import { WordingEditor } from '../ui/wording/wording-editor';
import { PastePeople } from './paste-people';
import { TriedOut } from './try-out';

const mostFirstLines = 5;
const kept = z.object({ channel: z.enum(['email', 'text']), wording: wordingDocument });

/** The way from people to invitations, in one look: who gets it and why not the others, its first lines, what was tried; then *Send*. */
@Component({
  selector: 'cv-invite-panel',
  imports: [
    AsRead,
    AudienceEditor,
    FormBar,
    MatButtonModule,
    MatCheckboxModule,
    PastePeople,
    Toggle,
    TriedOut,
    WordingEditor,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './invite-panel.html',
  styleUrl: './invite-panel.scss',
})
export class InvitePanel {
  private readonly api = inject(EventsApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  private readonly session = inject(Session);
  readonly event = input.required<EventDetail>();
  /** Guests picked by hand, instead of lists. */
  readonly people = input<readonly number[]>([]);
  readonly sent = output();
  /** People were taken, or lists chosen: the event is to be read again. */
  readonly changed = output();

  private readonly editor = viewChild(AudienceEditor);
  protected readonly channel = signal<Channel>('email');
  /** Those who became guests otherwise, such as from an imported calendar, instead of lists. */
  protected readonly asksGuests = signal(false);
  /** What the event keeps of who is going to be invited, or who was picked for this once. */
  private readonly begun = computed(
    () =>
      this.people().length
        ? { lists: [], segments: [], people: this.people() }
        : {
            lists: this.event().toInvite.map(({ id }) => id),
            segments: this.event().toInviteSegments.map(({ id }) => id),
          },
    { equal: isSame },
  );
  protected readonly chosen = linkedSignal<Partial<ChosenPeople>, ChosenPeople>({
    source: this.begun,
    computation: (begun, before) => ({ ...(before?.value ?? nobodyChosen), ...begun }),
  });
  private readonly hasChosen = computed(() => {
    const { lists, segments, people } = this.chosen();
    return this.asksGuests() || lists.length + segments.length + people.length > 0;
  });
  protected readonly pasted = signal('');
  protected readonly how = signal('');
  private readonly whom = computed((): ChosenPeople => ({
    ...this.chosen(),
    ...(this.asksGuests() && { lists: [], segments: [], people: [] }),
  }));
  protected readonly message = computed((): CountedMessage | undefined =>
    this.hasChosen()
      ? { kind: 'invitation', eventId: this.event().id, channel: this.channel(), ...this.whom() }
      : undefined,
  );
  /** As far as it is counted who gets it. */
  protected readonly plan = signal<LiveCount | null>(null);
  protected readonly wording = signal<WordingDocument | null>(null);
  protected readonly plainText = computed(() => plainTextOf(this.wording() ?? noWording));
  protected readonly isWriting = signal(false);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly isBusy = signal(false);
  protected readonly isDraft = computed(() => this.event().status === 'draft');

  private readonly house = rxResource({
    params: () => this.event().id,
    stream: ({ params }) => this.api.houseWordings(params),
  });
  /** Words that are being typed are looked at when somebody is done with them. */
  private readonly settled = signal<WordingDocument | null>(null);
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
  protected test = ({ person, wording }: InvitationPreview): Tried => ({
    kind: 'invitation',
    channel: 'email',
    wording,
    eventId: this.event().id,
    personId: person.id || null,
  });
  protected readonly preview = computed(() =>
    this.previewResource.hasValue() ? (this.previewResource.value() ?? null) : null,
  );
  protected readonly firstLines = computed(() =>
    (this.preview()?.message.text ?? '')
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
      value: computed(() => ({ channel: this.channel(), wording: this.wording() ?? noWording })),
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

  protected readonly ways: readonly ToggleOption<Channel>[] = [
    { key: 'email', label: 'email, with the entry' },
    { key: 'text', label: 'text' },
  ];
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
  /** Lists and segments stay with the event, to be found again; who is picked by hand, and who is left out, is for this once. */
  protected choosePeople(chosen: ChosenPeople): void {
    const { lists, segments } = this.chosen();
    this.chosen.set(chosen);
    if (this.people().length || isSame([lists, segments], [chosen.lists, chosen.segments])) return;
    this.api
      .chooseToInvite(this.event().id, chosen.lists, chosen.segments)
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
        this.editor()?.again();
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
            this.toast.say(this.session.saySent('The invitations are going out.'));
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
  private summary(wording: WordingDocument): string {
    const bad = (this.triedValue()?.parts ?? [])
      .filter(({ isGood }) => !isGood)
      .map(({ name, said }) => `${name}: ${said}`);
    return [
      this.channel() === 'email' ? (this.preview()?.message.subject ?? wording.subject) : plainTextOf(wording),
      this.channel() === 'email' ? this.firstLines() : '',
      sayWithout(this.plan()?.audience ?? { without: [] }),
      bad.length ? `Not right: ${bad.join('; ')}` : '',
    ]
      .filter(Boolean)
      .join('\n\n');
  }
}
