import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, linkedSignal, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { RouterLink } from '@angular/router';
import { noPressure, sayZone } from '@convite/core';
import type { PressureLook, PressurePage as Page } from '@convite/contract';
import type { Subscription } from 'rxjs';
import { PressureApi } from '../api/pressure';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { sayError } from '../refused';
import { HeatStrip } from '../ui/chart/heat-strip';
import { ReadingProblem } from '../ui/reading-problem';
import { sayCount, sayNumber } from '../ui/say';
import { Cell, type Column } from '../ui/table/column';
import { fixedRows } from '../ui/table/fixed-rows';
import { Table } from '../ui/table/table';
import { QuietHours } from './quiet-hours';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';

const most = 50;

/** How often one person is written to, over all events: what is to come, what was, and the house's limit. */
@Component({
  selector: 'cv-pressure',
  imports: [
    Cell,
    HeatStrip,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    MatProgressBarModule,
    QuietHours,
    ReadingProblem,
    RouterLink,
    Table,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Contact pressure</h1>
        <span class="quiet">how often one person is written to, over all events</span>
        <a class="push" matButton routerLink="/audience">Back to the audience</a>
      </div>
      <cv-reading-problem [of]="page" what="The contact pressure" />
      <section class="sheet stack" aria-label="The coming four weeks">
        <h2>The coming four weeks</h2>
        <p class="small quiet">
          Messages planned for each day, on the clock of {{ sayZone(zone) }}: reminders and digests, which count. What
          is not set yet is not in it.
        </p>
        <cv-heat-strip label="Messages planned for each of the coming 28 days" [days]="page.value().days" />
      </section>
      <section class="sheet stack" aria-label="The limit">
        <h2>The limit</h2>
        @if (edit(); as it) {
          <form class="stack" (submit)="save($event)">
            <p class="row">
              <label for="most">In seven days, one person gets at most</label>
              <mat-form-field class="inline few" subscriptSizing="dynamic"
                ><input
                  matInput
                  id="most"
                  inputmode="numeric"
                  placeholder="any number"
                  [disabled]="!session.isOwner()"
                  [value]="it.most"
                  (input)="edit.set({ most: typed($event), sparesComers: it.sparesComers })"
              /></mat-form-field>
              <span>messages. Empty for no limit.</span>
            </p>
            <mat-checkbox
              [disabled]="!session.isOwner()"
              [checked]="it.sparesComers"
              (change)="edit.set({ most: it.most, sparesComers: $event.checked })"
              >Reminders do not count for who comes to the event</mat-checkbox
            >
            <p class="small quiet">
              Invitations, reminders and digests count, by email and by text. Confirmations, answers, changes and
              call-offs never do, and are never held back. People may ask for less themselves: the stricter of both is
              kept. Who had enough is passed over, and stands under “had as many messages within a week as they may
              get”.
            </p>
            @if (problem()) {
              <p class="field-problem" role="alert">{{ problem() }}</p>
            }
            @if (session.isOwner()) {
              <p class="row"><button matButton="filled">Keep this limit</button></p>
            } @else {
              <p class="small quiet">An owner sets it.</p>
            }
          </form>
        }
      </section>
      <section class="sheet stack" aria-label="Quiet hours">
        <h2>Quiet hours</h2>
        <cv-quiet-hours [quiet]="page.value().quiet" (saved)="page.reload()" />
      </section>
      @if (session.canMarket()) {
        <section class="sheet stack" aria-label="What a limit would have done">
          <h2>What a limit would have done</h2>
          @if (look(); as it) {
            @if (it.share < 1) {
              <mat-progress-bar mode="determinate" [value]="it.share * 100" aria-label="How far it is looked through" />
            }
            <p role="status">
              {{ it.share < 1 && running() ? 'So far: in' : 'In' }} the last thirty days
              <strong>{{ sayCount(it.messages, 'message', 'messages') }}</strong> that count went out.
            </p>
            <cv-table label="What each limit would have held back" [source]="tried" [columns]="columns">
              <ng-template cvCell="limit" [cvCellOf]="tried" let-row>{{ row.perWeek }} a week</ng-template>
              <ng-template cvCell="messages" [cvCellOf]="tried" let-row>{{ sayNumber(row.messages) }}</ng-template>
              <ng-template cvCell="people" [cvCellOf]="tried" let-row>{{ sayNumber(row.people) }}</ng-template>
              <ng-template cvCell="got" [cvCellOf]="tried" let-row
                >{{ sayNumber(row.got) }} got {{ row.perWeek }}{{ row.isLast ? ' or more' : '' }}</ng-template
              >
            </cv-table>
          } @else {
            <p class="small quiet">
              Looks through what everybody was sent in the last thirty days, and counts what each limit would have held
              back. Nothing is changed by it.
            </p>
          }
          <p class="row">
            @if (running()) {
              <button matButton="outlined" type="button" (click)="stop()">Stop</button>
            } @else {
              <button matButton="outlined" type="button" (click)="lookBack()">
                {{ look() ? 'Look again' : 'Look back' }}
              </button>
            }
          </p>
          @if (lookProblem()) {
            <p class="note alarm" role="alert">{{ lookProblem() }}</p>
          }
        </section>
      }
    </main>
  `,
  styles: `
    section + section {
      margin-top: 16px;
    }
    .few {
      width: 110px;
    }
  `,
})
export class PressurePage {
  protected readonly typed = typed;
  protected readonly sayCount = sayCount;
  protected readonly sayNumber = sayNumber;
  protected readonly sayZone = sayZone;
  private readonly api = inject(PressureApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly zone = this.session.zone();
  private readonly nothing: Page = { pressure: noPressure, quiet: null, days: [] };
  protected readonly page = reading(() => this.api.read(), this.nothing);
  /** What is typed; what is stored until somebody types. */
  protected readonly edit = linkedSignal(() => {
    const { perWeek, sparesComers } = this.page.value().pressure;
    return { most: perWeek === null ? '' : String(perWeek), sparesComers };
  });
  protected readonly problem = signal('');
  protected readonly look = signal<PressureLook | null>(null);
  private readonly destroyed = inject(DestroyRef);
  protected readonly running = signal<Subscription | null>(null);
  protected readonly lookProblem = signal('');
  protected readonly columns: readonly Column[] = [
    { key: 'limit', label: 'With at most', onCard: 'title' },
    { key: 'messages', label: 'Messages held back', isNumber: true, onCard: 'fact' },
    { key: 'people', label: 'Of so many people', isNumber: true, onCard: 'fact' },
    { key: 'got', label: 'In the last seven days', isNumber: true, onCard: 'fact' },
  ];
  protected readonly tried = fixedRows(
    computed(() => {
      const { heldBack = [], thisWeek = [] } = this.look() ?? {};
      return heldBack.map((one, index) => ({
        ...one,
        id: one.perWeek,
        got: thisWeek[index] ?? 0,
        isLast: index + 1 === heldBack.length,
      }));
    }),
  );

  protected save(submit: Event): void {
    submit.preventDefault();
    const { most: typedMost, sparesComers } = this.edit();
    const perWeek = typedMost.trim() === '' ? null : Number(typedMost);
    if (perWeek !== null && !(Number.isInteger(perWeek) && perWeek >= 1 && perWeek <= most))
      return this.problem.set(`Type a whole number from 1 to ${most}, or nothing for no limit.`);
    this.api.save({ pressure: { perWeek, sparesComers }, was: this.page.value().pressure }).subscribe({
      next: () => {
        this.problem.set('');
        this.page.reload();
        this.toast.say(perWeek === null ? 'There is no limit.' : `One person gets at most ${perWeek} in seven days.`);
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }

  protected lookBack(): void {
    this.lookProblem.set('');
    this.running.set(
      this.api
        .look()
        .pipe(takeUntilDestroyed(this.destroyed))
        .subscribe({
          next: (look) => this.look.set(look),
          complete: () => this.running.set(null),
          error: (error: unknown) => {
            this.running.set(null);
            this.lookProblem.set(sayError(error));
          },
        }),
    );
  }
  /** What was found so far stays. */
  protected stop(): void {
    this.running()?.unsubscribe();
    this.running.set(null);
  }
}
