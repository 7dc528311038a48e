import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Cell, type Column } from '../ui/table/column';
import { fixedRows } from '../ui/table/fixed-rows';
import { Table } from '../ui/table/table';
import { OurWord } from '../ui/word';
import { sayInstant, sayShortDay } from '../ui/say';
import { rxResource } from '@angular/core/rxjs-interop';
import { Router } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { cueFields, type CueFields, type CueRow } from '@convite/contract';
import { letter, isSame, sayMoment, wallTimeAt } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { BoardApi } from '../api/board';
import { ByHandSender } from '../by-hand-sender';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { PeopleCount } from '../ui/people-count';
import { sayWhom } from '../ui/say-whom';
import { StateMark } from '../ui/state-mark';
import { Confirm } from '../ui/confirm';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { CueEditor } from './cue-editor';
import { LinksPressed } from './links-pressed';
import { CurrentEvent } from './current-event';
import { sayHazard } from './hazard-words';
import { Rail } from './rail';
import { sayAudience } from './say-audience';

/** All timed messages of the event: the rail, the same as a table, and the editor of one cue. */
@Component({
  selector: 'cv-countdown',
  imports: [LinksPressed, Cell, CueEditor, MatButtonModule, OurWord, PeopleCount, Rail, StateMark, Table, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (current.detail(); as event) {
      @if (cues.hasValue()) {
        <cv-rail
          [cues]="railRows()"
          [startAt]="event.startAt"
          [zone]="event.facts.zone"
          [chosen]="chosen()?.id ?? null"
          (picked)="openById($event.id)"
        />
        <div class="row">
          <h2>Cues</h2>
          <cv-word class="small quiet" word="cue">what a cue is</cv-word>
          @if (session.canMarket() && event.status !== 'called-off') {
            <button matButton="filled" class="push" (click)="add()">Add a cue</button>
          }
        </div>
        @if (rows().length) {
          <cv-table
            name="cues"
            label="Cues"
            [source]="list"
            [columns]="columns"
            [opens]="true"
            [chosenId]="chosen()?.id ?? null"
            (opened)="open($event)"
          >
            <ng-template cvCell="cue" [cvCellOf]="list" let-cue>
              <button class="link" (click)="open(cue)">
                <strong>{{ cue.name }}</strong>
              </button>
            </ng-template>
            <ng-template cvCell="moment" [cvCellOf]="list" let-cue>{{ say(cue) }}</ng-template>
            <ng-template cvCell="fires" [cvCellOf]="list" let-cue>
              <cv-when [at]="cue.firing.dueAt" [zone]="event.facts.zone" />
              @if (whom(cue); as who) {
                <div class="small quiet whom">
                  for {{ who }}{{ cue.ahead.length ? ', then ' + cue.ahead.length + ' more' : '' }}
                </div>
              }
            </ng-template>
            <ng-template cvCell="by" [cvCellOf]="list" let-cue>{{ cue.channel }}</ng-template>
            <ng-template cvCell="for" [cvCellOf]="list" let-cue>{{ audience(cue) }}</ng-template>
            <ng-template cvCell="people" [cvCellOf]="list" let-cue>
              <cv-people-count [tally]="cue.firing.tally" [state]="cue.firing.state" [withAge]="true" />
            </ng-template>
            <ng-template cvCell="state" [cvCellOf]="list" let-cue>
              <cv-state [state]="cue.firing.state" />
              @if (cue.firing.tally.finishAt; as last) {
                <div class="small quiet note-text">the last leaves {{ sayLast(last) }}</div>
              }
              @if (cue.firing.note) {
                <div class="small quiet note-text">{{ cue.firing.note }}</div>
              }
            </ng-template>
            <ng-template cvCell="hazards" [cvCellOf]="list" let-cue>
              @for (hazard of cue.hazards; track hazard) {
                <div class="small alarm">{{ hazardText(hazard) }}</div>
              }
            </ng-template>
            <ng-template cvCell="act" [cvCellOf]="list" let-cue>
              @if (session.canMarket()) {
                @switch (cue.firing.state) {
                  @case ('set') {
                    <button class="link small" (click)="stop(cue)">Hold</button>
                  }
                  @case ('standby') {
                    <button class="link small" (click)="stop(cue)">Hold</button>
                  }
                  @case ('sending') {
                    <button class="link small" (click)="stop(cue)">Hold</button>
                  }
                  @case ('missed') {
                    <button class="link small" (click)="sendNow(cue)">Send now</button>
                  }
                  @case ('stopped') {
                    <button class="link small" (click)="setAgain(cue)">Set again</button>
                  }
                }
              }
            </ng-template>
          </cv-table>
        } @else {
          <div class="empty">No cue yet. Common ones: a week before, a day before, two hours before by text.</div>
        }
        @if (editing(); as fields) {
          <cv-cue-editor
            [eventId]="event.id"
            [cueId]="chosen()?.id ?? null"
            [fields]="stored() ?? fields"
            [hasFired]="hasFired()"
            [zone]="event.facts.zone"
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
      gap: 14px;
    }
    .note-text,
    .whom {
      max-width: 240px;
    }
  `,
})
export class Countdown {
  protected readonly current = inject(CurrentEvent);
  protected readonly session = inject(Session);
  private readonly api = inject(EventsApi);
  private readonly audienceApi = inject(AudienceApi);
  private readonly board = inject(BoardApi);
  private readonly byHand = inject(ByHandSender);
  private readonly toast = inject(Toast);
  private readonly confirm = inject(Confirm);
  private readonly router = inject(Router);
  /** Which cue is open, from the address: its number, or `new`. */
  readonly cue = input<string>();
  /** A test led here, to hold the cue that it was of. */
  readonly hold = input<string>();
  protected readonly fields = reading(() => this.audienceApi.fields(), []);
  protected readonly cues = rxResource({
    params: () => this.current.id() || undefined,
    stream: ({ params }) => this.api.cues(params),
  });
  protected readonly rows = computed(() => (this.cues.hasValue() ? (this.cues.value() ?? []) : []));
  protected readonly list = fixedRows(this.rows);
  protected readonly columns: readonly Column[] = [
    { key: 'cue', label: 'Cue', onCard: 'title' },
    { key: 'moment', label: 'Moment' },
    { key: 'fires', label: 'Fires', onCard: 'fact' },
    { key: 'by', label: 'By' },
    { key: 'for', label: 'For' },
    { key: 'people', label: 'People', isNumber: true },
    { key: 'state', label: 'State', onCard: 'fact' },
    { key: 'hazards', label: 'Look at', onCard: 'fact' },
    { key: 'act', label: 'What to do', isLabelHidden: true, isNumber: true, onCard: 'fact' },
  ];
  protected readonly chosen = signal<CueRow | null>(null);
  protected readonly editing = signal<CueFields | null>(null);
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
  /** The rail shows one date: cues that are due for another are drawn where they fall before the next. */
  protected readonly railRows = computed(() => {
    const startMs = Date.parse(this.current.detail()?.startAt ?? '');
    return this.rows().map((cue) => {
      const { occurrence, dueAt } = cue.firing;
      if (!occurrence || Number.isNaN(startMs)) return cue;
      const dueMs = Date.parse(dueAt) + startMs - Date.parse(occurrence.startAt);
      return { ...cue, firing: { ...cue.firing, dueAt: new Date(dueMs).toISOString() } };
    });
  });
  protected readonly hazardText = sayHazard;

  constructor() {
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
      () => this.cues.reload(),
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

  protected sayLast = (at: string): string => sayInstant(Date.parse(at), this.current.detail()?.facts.zone ?? 'UTC');
  protected sayDate = (startAt: string): string =>
    sayShortDay(wallTimeAt(Date.parse(startAt), this.current.detail()?.facts.zone ?? 'UTC').slice(0, 10));
  protected say({ moment }: CueRow): string {
    const field = moment.kind === 'own-date' ? this.fields.value().find(({ id }) => id === moment.field) : undefined;
    return sayMoment(moment, field?.name);
  }
  protected whom({ firing }: CueRow): string {
    const date = firing.occurrence ? this.sayDate(firing.occurrence.startAt) : '';
    return [date, sayWhom(firing, this.current.detail()?.facts.zone ?? 'UTC')].filter(Boolean).join(', ');
  }
  protected audience = ({ audience }: CueRow): string => sayAudience(audience);

  protected add(): void {
    this.chosen.set(null);
    this.editing.set({ ...newCue });
    this.address('new');
  }
  protected open(cue: CueRow): void {
    this.show(cue);
    this.address(String(cue.id));
  }
  private address(cue: string | null): void {
    void this.router.navigate([], { queryParams: { cue }, queryParamsHandling: 'merge', replaceUrl: true });
  }
  private show(cue: CueRow): void {
    this.chosen.set(cue);
    this.editing.set(cueFields.parse(cue));
  }
  protected openById(id: number): void {
    const cue = this.rows().find((one) => one.id === id);
    if (cue) this.open(cue);
  }
  protected close(): void {
    this.chosen.set(null);
    this.editing.set(null);
    this.address(null);
    this.cues.reload();
  }
  protected stop({ firing, name }: CueRow): void {
    this.board.stop(firing.id).subscribe({
      next: () => this.toast.say(`Held: “${name}” will not go out.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected setAgain({ firing, name }: CueRow): void {
    this.board.setAgain(firing.id).subscribe({
      next: () => this.toast.say(`“${name}” is set again.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected sendNow({ firing, name }: CueRow): void {
    this.byHand.send(firing.id).subscribe({
      next: () => this.toast.say(`“${name}” is going out.`),
      error: (error: unknown) => this.toast.fail(error),
    });
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
