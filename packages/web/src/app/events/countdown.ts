import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import type { Observable } from 'rxjs';
import { cueFields, type ChangeContact, type CueFields, type CueRow } from '@convite/contract';
import { isSame, letter, sayMinutes, withHowToStop, type Channel } from '@convite/core';
import { BoardApi } from '../api/board';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { sayRefused } from '../refused';
import { Confirm } from '../ui/confirm';
import { Toast } from '../ui/toast';
import { OurWord } from '../ui/word';
import { ContactChoice } from './contact-choice';
import { CountdownRail } from './countdown-rail';
import { CueEditor } from './cue-editor';
import { CueMoves } from './cue-moves';
import { CueTable } from './cue-table';
import { CurrentEvent } from './current-event';
import { GraceChoice, usualGrace } from './grace-choice';
import { LinksPressed } from './links-pressed';
import { PlanKeep } from './plan-keep';
import { PlanUse } from './plan-use';
import { ownDateOf } from './rail/say-move';
import { placesToldApart } from './reply-words';

/** All timed messages of the event: the rail, the same as a table, and the editor of one cue. */
@Component({
  selector: 'cv-countdown',
  providers: [CueMoves],
  imports: [
    ContactChoice,
    CountdownRail,
    CueEditor,
    CueTable,
    GraceChoice,
    LinksPressed,
    MatButtonModule,
    OurWord,
    PlanKeep,
    PlanUse,
    RouterLink,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (current.detail(); as event) {
      @if (cues.hasValue()) {
        <cv-countdown-rail
          [event]="event"
          [cues]="rows()"
          [around]="around()"
          [chosen]="chosen()?.id ?? null"
          [canMove]="canChange()"
          (picked)="open($event)"
        />
        @if (event.heldBy; as by) {
          <div class="row sheet held" role="status">
            <strong class="grow">All of this event is held by {{ by }}: nothing of its countdown goes out.</strong>
            @if (session.canMarket()) {
              <button matButton="filled" (click)="letGoOn()">Let it go on</button>
            }
          </div>
        }
        <div class="row">
          <h2>Cues</h2>
          <cv-word class="small quiet" word="cue">what a cue is</cv-word>
          @if (rows().length && session.canMarket()) {
            <span class="row push">
              @if (session.me()?.hasBackstage) {
                <a matButton [routerLink]="['/events', event.id, 'run-through']">Run it through</a>
              }
              <a matButton [routerLink]="['/events', event.id, 'rehearsal']">Rehearse it</a>
            </span>
          }
          @if (canChange()) {
            <span class="row" [class.push]="rows().length === 0">
              <button matButton (click)="plan.set('use')">Use a plan</button>
              @if (rows().length) {
                <button matButton (click)="plan.set('keep')">Keep as a plan</button>
                @if (event.heldBy === null) {
                  <button matButton (click)="holdAll()">Hold all</button>
                }
              }
              <button matButton="filled" (click)="add()">Add a cue</button>
            </span>
          }
        </div>
        @switch (plan()) {
          @case ('use') {
            <cv-plan-use
              [eventId]="event.id"
              [zone]="event.facts.zone"
              (applied)="plan.set(null); cues.reload()"
              (closed)="plan.set(null)"
            />
          }
          @case ('keep') {
            <cv-plan-keep [eventId]="event.id" (closed)="plan.set(null)" />
          }
        }
        @if (rows().length) {
          <cv-cue-table
            [rows]="rows()"
            [zone]="event.facts.zone"
            [chosen]="chosen()?.id ?? null"
            (opened)="open($event)"
            (moved)="mend($event.cue, $event.toMs)"
            (wasSet)="changeCue($event, { isDraft: false }, 'is set')"
            (optOutAsked)="endWithStop($event)"
            (inviteAsked)="inviteToo($event)"
            (excludeAsked)="onlyGuests($event)"
            [eventId]="event.id"
            [facts]="event.facts"
            [around]="around()"
            (changed)="cues.reload()"
          />
        } @else {
          <div class="empty">
            No cue yet. Use a plan for a whole countdown, or add one: a week before, a day before, two hours before by
            text.
          </div>
        }
        @if (canChange() && rows().length) {
          <div class="stack">
            <cv-grace-choice [minutes]="event.graceMinutes" (minutesChange)="setGrace($event)" />
            <cv-contact-choice [contact]="event.contact" (contactChange)="setContact($event)" />
          </div>
        }
        @if (editing(); as fields) {
          <cv-cue-editor
            [eventId]="event.id"
            [cueId]="chosen()?.id ?? null"
            [textCueId]="textCueId()"
            [opensWith]="opensWith()"
            [fields]="stored() ?? fields"
            [hasFired]="hasFired()"
            [zone]="event.facts.zone"
            [placesOf]="placesToldApart(event.facts)"
            (copied)="copy($event)"
            (closed)="close()"
            (refused)="cues.reload()"
          />
          @if (hasFired() && chosen()?.firing; as fired) {
            <cv-links-pressed [firingId]="fired.id" />
          }
        }
      } @else if (cues.error()) {
        <p class="note alarm" role="alert">
          The countdown cannot be read just now. <button class="link" (click)="cues.reload()">Try again</button>
        </p>
      } @else {
        <p class="quiet" role="status">Reading the countdown …</p>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 14px;
    }
  `,
})
export class Countdown {
  protected readonly placesToldApart = placesToldApart;
  protected readonly current = inject(CurrentEvent);
  protected readonly session = inject(Session);
  private readonly api = inject(EventsApi);
  private readonly board = inject(BoardApi);
  private readonly moves = inject(CueMoves);
  private readonly toast = inject(Toast);
  private readonly confirm = inject(Confirm);
  private readonly router = inject(Router);
  /** Which cue is open, from the address: its number, or `new`. */
  readonly cue = input<string>();
  /** A test led here, to hold the cue that it was of. */
  readonly hold = input<string>();
  protected readonly cues = rxResource({
    params: () => this.current.id() || undefined,
    stream: ({ params }) => this.api.cues(params),
  });
  protected readonly rows = computed(() => (this.cues.hasValue() ? (this.cues.value() ?? []) : []));
  private readonly railResource = rxResource({
    params: () => this.current.id() || undefined,
    stream: ({ params }) => this.api.rail(params),
  });
  /** Without it the rail stands all the same; nothing can be moved on it until it is there. */
  protected readonly around = computed(() =>
    this.railResource.hasValue() ? (this.railResource.value() ?? null) : null,
  );
  protected readonly canChange = computed(
    () => this.session.canMarket() && this.current.detail()?.status !== 'called-off',
  );
  protected readonly plan = signal<'use' | 'keep' | null>(null);
  protected readonly chosen = signal<CueRow | null>(null);
  protected readonly editing = signal<CueFields | null>(null);
  /** Of what is open: its text as a cue, where it goes as both, and which of the two it was opened by. */
  protected readonly textCueId = computed(
    () => this.rows().find(({ textOf }) => textOf !== null && textOf === this.chosen()?.id)?.id ?? null,
  );
  protected readonly opensWith = signal<Channel>('email');
  /** What is open, as it is stored by now. */
  protected readonly stored = computed(
    () => {
      const cue = this.rows().find(({ id }) => id === this.chosen()?.id);
      return cue ? cueFields.parse(cue) : null;
    },
    { equal: isSame },
  );
  /** What was sent of a one-off cannot be changed; a cue of a series goes on with its next date. */
  protected readonly hasFired = computed(() => {
    const state = this.chosen()?.firing.state ?? '';
    return state === 'sending' || (state === 'done' && !this.current.detail()?.facts.series);
  });

  constructor() {
    this.moves.follow({
      eventId: () => this.current.id(),
      rows: () => this.rows(),
      changed: () => this.cues.reload(),
    });
    effect(() => {
      const wanted = this.cue();
      const cue = this.rows().find(({ id }) => String(id) === wanted);
      untracked(() => {
        if (this.editing() !== null) return;
        if (wanted === 'new') this.editing.set({ ...newCue });
        else if (cue) this.show(cue);
        if (cue && this.hold()) this.askToHold(cue);
      });
    });
    reloadOn(
      () => [...this.current.topics(), 'clock'],
      () => {
        this.cues.reload();
        this.railResource.reload();
      },
    );
  }

  /** Asked once: the address says it no longer. */
  private askToHold({ name, firing }: CueRow): void {
    void this.router.navigate([], { queryParams: { hold: null }, queryParamsHandling: 'merge', replaceUrl: true });
    if (!this.session.canMarket()) return;
    if (firing.state !== 'set' && firing.state !== 'standby')
      return this.toast.say(`“${name}” is ${firing.state}: there is nothing to hold.`);
    this.confirm
      .ask({ title: `Hold “${name}”?`, text: 'It does not go until somebody sets it again.', yes: 'Hold it' })
      .subscribe(() =>
        this.board.stop(firing.id).subscribe({
          next: () => this.cues.reload(),
          error: (error: unknown) => this.toast.fail(error),
        }),
      );
  }

  protected add(): void {
    this.chosen.set(null);
    this.editing.set({ ...newCue });
    this.address('new');
  }
  /** Another of the same, as a draft: to be set again for another moment, or for other people. */
  protected copy(fields: CueFields): void {
    this.chosen.set(null);
    this.editing.set({ ...fields, name: `${fields.name}, again`.slice(0, 120), isDraft: true });
    this.address('new');
  }
  protected holdAll(): void {
    this.confirm
      .ask({
        title: 'Hold all of this event?',
        text: 'Nothing of its countdown goes out, also of dates that are planned later, until somebody lets it go on. Changes and answers go all the same.',
        yes: 'Hold all',
      })
      .subscribe(() => this.done(this.api.hold(this.current.id()), 'All of it is held.'));
  }
  protected letGoOn(): void {
    this.done(this.api.letGoOn(this.current.id()), 'It goes on. Look at what was missed meanwhile.');
  }
  private done(act: Observable<unknown>, said: string): void {
    act.subscribe({
      next: () => {
        this.toast.say(said);
        this.current.resource.reload();
        this.cues.reload();
      },
      error: (error: unknown) => this.failed(error),
    });
  }
  protected setGrace(minutes: number | null): void {
    const said = `What is late still goes for ${sayMinutes(minutes ?? usualGrace)}.`;
    this.done(this.api.setGrace(this.current.id(), minutes), said);
  }
  protected setContact(contact: ChangeContact): void {
    this.done(this.api.setContact(this.current.id(), contact), 'They are told of what stands by.');
  }
  protected open(cue: CueRow): void {
    this.show(cue);
    this.address(String(cue.id));
  }
  private address(cue: string | null): void {
    void this.router.navigate([], { queryParams: { cue }, queryParamsHandling: 'merge', replaceUrl: true });
  }
  /** A text that goes with an email is opened with it. */
  private show(cue: CueRow): void {
    const main = this.rows().find(({ id }) => id === cue.textOf) ?? cue;
    this.opensWith.set(cue.channel);
    this.chosen.set(main);
    this.editing.set(cueFields.parse(main));
  }
  protected close(): void {
    this.chosen.set(null);
    this.editing.set(null);
    this.address(null);
    this.cues.reload();
  }

  /** To where it is rid of a hazard, which is about the firing's own date. */
  protected mend(cue: CueRow, toMs: number): void {
    const [event, around] = [this.current.detail(), this.around()];
    if (!event || !around) return;
    const { facts, shiftMs } = ownDateOf(cue, event.facts);
    this.moves.moveTo(cue, toMs + shiftMs, facts, around);
  }
  /** One press changes one thing of it, such as that it is a draft. */
  protected changeCue(cue: CueRow, change: Partial<CueFields>, says: string): void {
    const was = cueFields.parse(cue);
    this.api.saveCue(this.current.id(), cue.id, { ...was, ...change, was }).subscribe({
      next: () => {
        this.cues.reload();
        this.toast.say(`“${cue.name}” ${says}.`);
      },
      error: (error: unknown) => this.failed(error),
    });
  }
  /** In the house's language, in which the text is written, and in each other that it has. */
  protected endWithStop(cue: CueRow): void {
    this.changeCue(
      cue,
      { wording: withHowToStop(cue.wording, this.around()?.language ?? 'en') },
      'says how to end such texts',
    );
  }
  /** Its lists and segments are added to those that the event invites; the marketer looks at the invitation before it is sent. */
  protected inviteToo({ audience }: CueRow): void {
    const event = this.current.detail();
    if (!event) return;
    const joined = (before: readonly { id: number }[], more: readonly number[] = []): number[] => [
      ...new Set([...before.map(({ id }) => id), ...more]),
    ];
    const lists = joined(event.toInvite, audience.lists);
    this.api.chooseToInvite(event.id, lists, joined(event.toInviteSegments, audience.segments)).subscribe({
      next: () => {
        this.current.resource.reload();
        void this.router.navigate(['/events', event.id, 'guests']);
      },
      error: (error: unknown) => this.failed(error),
    });
  }
  protected onlyGuests(cue: CueRow): void {
    this.changeCue(cue, { audience: { ...cue.audience, onlyGuests: true } }, 'goes to guests only');
  }
  private failed(error: unknown): void {
    this.cues.reload();
    this.toast.fail(sayRefused(error));
  }
}

/** Common practice: the default reminder is 24 hours before, for those who come. */
const newCue: CueFields = {
  name: 'Tomorrow',
  channel: 'email',
  moment: { kind: 'relative', amount: 24, unit: 'hours', direction: 'before', anchor: 'start', at: null },
  audience: { invitees: ['accepted', 'tentative'], lists: [], exceptLists: [], exceptReplies: [], topics: null },
  wording: letter(
    'Tomorrow: {{event.title}}',
    'Dear {{person.firstName|friend}},\n\nsee you tomorrow.',
    { kind: 'event' },
    { kind: 'button', label: 'All about it', address: { kind: 'field', field: 'link.event', fallback: '' } },
  ),
  isDraft: false,
};
