import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { NEVER, of, throwError, type Observable } from 'rxjs';
import { findZones, type FiringState } from '@convite/core';
import { HeatStrip } from '../ui/chart/heat-strip';
import { Chooser, type Choice } from '../ui/chooser';
import { Confirm } from '../ui/confirm';
import { FieldProblem } from '../ui/field-problem';
import { Panel } from '../ui/panel';
import { SharedClock } from '../ui/shared-clock';
import { StateMark } from '../ui/state-mark';
import { Cell, type Column } from '../ui/table/column';
import { rowSource, type PageOf } from '../ui/table/row-source';
import { nobodyPicked, Table, type Picked } from '../ui/table/table';
import { TimeField } from '../ui/time/time-field';
import { ZoneField } from '../ui/time/zone-field';
import { Toast } from '../ui/toast';
import { KitForms } from './kit-forms';
import { When } from '../ui/when';

interface Sample {
  readonly id: number;
  readonly name: string;
  readonly messages: number;
  readonly at: string;
}

const pageSize = 50;
const total = 10_000;
const names = ['Ana Vilhena', 'نجمة الليل', 'João d’Aubigny with a name that goes on and on', '☾ Ximena', 'Świętosław'];
const samples = (after: number): PageOf<Sample> => ({
  rows: Array.from({ length: pageSize }, (_, index) => {
    const id = after + index + 1;
    return {
      id,
      name: names[id % names.length] ?? '',
      messages: (id * 37) % 1200,
      at: new Date(Date.UTC(2026, 0, 1) + id * 3_600_000).toISOString(),
    };
  }),
  next: after + pageSize < total ? after + pageSize : null,
});

/** Every piece of the kit in its states: how they are built, looked at and checked. In the demonstration only. */
@Component({
  selector: 'cv-kit',
  imports: [
    Cell,
    Chooser,
    FieldProblem,
    HeatStrip,
    KitForms,
    MatButtonModule,
    Panel,
    StateMark,
    Table,
    TimeField,
    When,
    ZoneField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main class="stack loose">
      <div class="head">
        <h1>The kit</h1>
        <span class="quiet">Every piece in its states.</span>
      </div>
      <section class="stack" aria-label="Buttons">
        <h2>Buttons, toast, confirm, panel</h2>
        <div class="row">
          <button matButton="filled" (click)="toast.say('Done.')">Does it</button>
          <button matButton="outlined" (click)="ask()">Asks first</button>
          <button matButton (click)="isOpen.set(true)">Opens beside</button>
          <button matButton="filled" disabled>Cannot be pressed</button>
          <button class="link">A link that does something</button>
        </div>
      </section>
      <section class="stack" aria-label="States">
        <h2>States</h2>
        <div class="row">
          @for (state of states; track state) {
            <cv-state [state]="state" />
          }
          <cv-state state="done" [missing]="3" />
        </div>
      </section>
      <section class="stack" aria-label="Fields">
        <h2>Fields</h2>
        <div class="fields">
          <div class="third">
            <cv-time-field label="Day and time" zone="Europe/Lisbon" [(value)]="time" />
          </div>
          <div class="third"><cv-time-field label="Day" kind="day" [(value)]="day" /></div>
          <div class="third"><cv-time-field label="Clock change" zone="Europe/Lisbon" [(value)]="skipped" /></div>
          <div class="third"><cv-time-field label="Cannot be read" [(value)]="unread" /></div>
          <div class="third">
            <cv-zone-field label="Zone" [(value)]="zone" />
            <cv-field-problem
              [problems]="[{ code: 'unknown-zone', path: 'zone', facts: { zone: 'Lissabon' } }]"
              path="zone"
            />
          </div>
          <div class="third">
            <cv-chooser label="A zone by typing" placeholder="lisb" [find]="find" (chosen)="zone.set($event.value)" />
          </div>
        </div>
        <p>An instant: <cv-when [at]="now" zone="Europe/Lisbon" /></p>
      </section>
      <section class="stack" aria-label="Days">
        <h2>Days</h2>
        <cv-heat-strip label="Days with more and less on them" [days]="days" />
      </section>
      <section class="stack" aria-label="Table">
        <h2>Table</h2>
        <cv-table
          name="kit"
          label="Ten thousand rows"
          [source]="many"
          [columns]="columns"
          [total]="total"
          [opens]="true"
          [canPick]="true"
          [(picked)]="picked"
          (opened)="isOpen.set(true)"
        >
          <ng-template cvCell="name" [cvCellOf]="many" let-row
            ><bdi>{{ row.name }}</bdi></ng-template
          >
          <ng-template cvCell="messages" [cvCellOf]="many" let-row>{{ row.messages }}</ng-template>
          <ng-template cvCell="at" [cvCellOf]="many" let-row
            ><cv-when [at]="row.at" zone="Europe/Lisbon"
          /></ng-template>
          <button bulk class="link" (click)="toast.say('Nobody is written to from here.')">Write to them</button>
        </cv-table>
        <div class="halves">
          <cv-table label="Still reading" [source]="reading" [columns]="columns" />
          <cv-table label="Cannot be read" [source]="failing" [columns]="columns" />
        </div>
        <cv-table label="Empty" [source]="empty" [columns]="columns">
          <span empty>Nobody here yet. <button class="link">Add the first</button></span>
        </cv-table>
      </section>
      <cv-kit-forms />
      @if (isOpen()) {
        <cv-panel label="Beside" (closed)="isOpen.set(false)"
          ><p>What was opened keeps its place. Esc goes back.</p></cv-panel
        >
      }
    </main>
  `,
})
export class Kit {
  protected readonly days = Array.from({ length: 28 }, (_, index) => ({
    day: new Date(Date.UTC(2026, 10, 20 + index)).toISOString().slice(0, 10),
    value: index % 5 === 0 ? 0 : (index * 977) ** 2 % 60_000,
  }));
  private readonly confirm = inject(Confirm);
  protected readonly toast = inject(Toast);
  protected readonly now = new Date(inject(SharedClock).nowMs()).toISOString();
  protected readonly states: readonly FiringState[] = [
    'draft',
    'set',
    'standby',
    'sending',
    'done',
    'failed',
    'stopped',
    'missed',
  ];
  protected readonly time = signal('2026-11-27T20:30');
  protected readonly day = signal('2026-11-27');
  protected readonly skipped = signal('2027-03-28T01:30');
  protected readonly unread = signal('some time soon');
  protected readonly zone = signal('Europe/Lisbon');
  protected readonly isOpen = signal(false);
  protected readonly picked = signal<Picked>(nobodyPicked);
  protected readonly total = total;
  protected readonly columns: readonly Column[] = [
    { key: 'name', label: 'Name', onCard: 'title' },
    { key: 'messages', label: 'Messages', isNumber: true, onCard: 'fact' },
    { key: 'at', label: 'Last', onCard: 'fact' },
  ];
  protected readonly many = rowSource(
    () => 0,
    (_query, after) => of(samples(Number(after ?? 0))),
  );
  protected readonly reading = rowSource(
    () => 0,
    (): Observable<PageOf<Sample>> => NEVER,
  );
  protected readonly failing = rowSource(
    () => 0,
    (): Observable<PageOf<Sample>> => throwError(() => new Error('away')),
  );
  protected readonly empty = rowSource(
    () => 0,
    () => of<PageOf<Sample>>({ rows: [], next: null }),
  );
  protected readonly find = (text: string) =>
    of(findZones(text, 8).map((zone): Choice<string> => ({ value: zone, name: zone })));

  protected ask(): void {
    this.confirm
      .ask({ title: 'Send to 4,312 people?', text: 'One week to go: Open Dome Fridays', yes: 'Send to 4,312' })
      .subscribe(() => this.toast.say('Nothing is sent from here.'));
  }
}
