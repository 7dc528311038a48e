import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { sayNumber } from '../ui/say';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { finalize, type Subscription } from 'rxjs';
import { mostCalendarOctets, sayProblem, type FoundCalendar, type ImportedCalendar } from '@convite/contract';
import { CalendarsApi } from '../api/calendars';
import { problemsOf, sayError } from '../refused';
import { WatchedCalendars } from './watched-calendars';
import { chosenFile, typed } from '../ui/typed';
import { Fold } from '../ui/fold';
import { Cell, type Column } from '../ui/table/column';
import { fixedRows } from '../ui/table/fixed-rows';
import { Table } from '../ui/table/table';

/** Takes events over from calendars made elsewhere: a file, pasted text, or an address that is watched. */
@Component({
  selector: 'cv-import-calendar',
  imports: [
    Cell,
    Fold,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    RouterLink,
    Table,
    WatchedCalendars,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main class="stack loose">
      <div class="head">
        <h1>Import events</h1>
        <a routerLink="/events">Back to the events</a>
      </div>
      <section class="sheet stack" aria-label="From a file">
        <h2>From a calendar file</h2>
        <div class="row">
          <input
            type="file"
            accept=".ics,text/calendar"
            aria-label="Calendar file"
            (change)="open(chosenFile($event))"
          />
          <span class="quiet small">or paste its text:</span>
        </div>
        <mat-form-field subscriptSizing="dynamic">
          <textarea
            matInput
            class="mono"
            rows="4"
            aria-label="Calendar text"
            placeholder="BEGIN:VCALENDAR …"
            [value]="shownText()"
            (input)="text.set(typed($event))"
          ></textarea>
        </mat-form-field>
        <div>
          <button matButton="filled" [disabled]="!text().trim() || isBusy()" (click)="look()">See what is in it</button>
        </div>
        @if (problem()) {
          <div class="note alarm" role="alert">
            {{ problem() }}
            @for (one of problems(); track $index) {
              <div class="small">{{ one.path && one.path + ': ' }}{{ say(one) }}</div>
            }
          </div>
        }
        @if (found(); as calendar) {
          <h3>
            {{ sayNumber(calendar.total) }} {{ calendar.total === 1 ? 'event' : 'events' }}
            {{ calendar.name && 'in “' + calendar.name + '”' }}
          </h3>
          @if (calendar.events.length) {
            <mat-checkbox [checked]="left().size === 0" (change)="toggleAll()">All of them</mat-checkbox>
            <cv-table class="tall" label="Events found" [source]="list" [columns]="columns">
              <ng-template cvCell="take" [cvCellOf]="list" let-event>
                <mat-checkbox
                  [aria-label]="event.facts.title"
                  [checked]="!left().has(event.line)"
                  (change)="toggle(event.line)"
                />
              </ng-template>
              <ng-template cvCell="event" [cvCellOf]="list" let-event>
                <strong class="rtl-safe">{{ event.facts.title }}</strong>
              </ng-template>
              <ng-template cvCell="when" [cvCellOf]="list" let-event>{{ event.when }}</ng-template>
              <ng-template cvCell="repeats" [cvCellOf]="list" let-event>{{ event.repeats || 'once' }}</ng-template>
              <ng-template cvCell="guests" [cvCellOf]="list" let-event>{{ event.attendees }}</ng-template>
              <ng-template cvCell="line" [cvCellOf]="list" let-event
                ><span class="quiet">{{ event.line }}</span></ng-template
              >
              <ng-template cvCell="known" [cvCellOf]="list" let-event>
                @if (event.calledOff) {
                  <span class="small alarm">called off</span>
                } @else if (event.knownAs) {
                  <a class="small" [routerLink]="['/events', event.knownAs]">here already</a>
                }
              </ng-template>
            </cv-table>
            @if (calendar.total > calendar.events.length) {
              <p class="small quiet">
                The first {{ calendar.events.length }} are shown; all are taken unless left out here.
              </p>
            }
            <div class="row">
              <mat-checkbox [checked]="takeGuests()" (change)="takeGuests.set(!takeGuests())"
                >Take the people named in them as guests</mat-checkbox
              >
              <mat-checkbox [checked]="publish()" (change)="publish.set(!publish())">Publish them at once</mat-checkbox>
              <button matButton="filled" class="push" [disabled]="isBusy() || chosenCount() === 0" (click)="take()">
                Import {{ sayNumber(chosenCount()) }} {{ chosenCount() === 1 ? 'event' : 'events' }}
              </button>
            </div>
            @if (importing()) {
              <p class="note row" role="status">
                Taking them over, all or none …
                <button type="button" class="link" (click)="stop()">Stop</button>
              </p>
            }
          }
          @if (calendar.problems.length) {
            <cv-fold [heading]="notUnderstood(calendar)" [isOpen]="true">
              <ul class="small">
                @for (one of calendar.problems; track $index) {
                  <li>{{ one.path && one.path + ': ' }}{{ say(one) }}</li>
                }
              </ul>
            </cv-fold>
          }
        }
        @if (done(); as done) {
          <p class="note good" role="status">
            {{ done.added }} new, {{ done.changed }} changed, {{ done.same }} as before; {{ done.guests }} guests.
            <a routerLink="/events">See the events</a>
          </p>
        }
      </section>
      <cv-watched-calendars />
    </main>
  `,
  styles: `
    .tall {
      max-height: 46vh;
      overflow-y: auto;
    }
    textarea {
      width: 100%;
    }
  `,
})
export class ImportCalendar {
  protected readonly sayNumber = sayNumber;
  protected readonly typed = typed;
  protected readonly chosenFile = chosenFile;
  private readonly api = inject(CalendarsApi);
  protected readonly say = sayProblem;
  protected readonly text = signal('');
  /** A large file is not put into the box. */
  protected readonly shownText = computed(() => {
    const text = this.text();
    return text.length > shownCharacters ? `${text.slice(0, 2000)}\n… ${text.length} characters in all` : text;
  });
  protected readonly isBusy = signal(false);
  protected readonly problem = signal('');
  protected readonly problems = signal<ReturnType<typeof problemsOf>>([]);
  protected readonly found = signal<FoundCalendar | null>(null);
  protected readonly list = fixedRows(
    computed(() => (this.found()?.events ?? []).map((event) => ({ ...event, id: event.line }))),
  );
  protected readonly columns: readonly Column[] = [
    { key: 'take', label: 'Take it', isLabelHidden: true, onCard: 'fact' },
    { key: 'event', label: 'Event', onCard: 'title' },
    { key: 'when', label: 'When', onCard: 'fact' },
    { key: 'repeats', label: 'Repeats' },
    { key: 'guests', label: 'Guests', isNumber: true },
    { key: 'line', label: 'Line', isNumber: true },
    { key: 'known', label: 'Known here', isLabelHidden: true, onCard: 'fact' },
  ];
  protected readonly done = signal<ImportedCalendar | null>(null);
  /** Set while events are taken over. */
  protected readonly importing = signal<Subscription | null>(null);
  /** Lines of the events that somebody left out. */
  protected readonly left = signal<ReadonlySet<number>>(new Set());
  protected readonly takeGuests = signal(true);
  protected readonly publish = signal(false);
  protected readonly chosenCount = computed(() => (this.found()?.total ?? 0) - this.left().size);

  protected notUnderstood({ problems }: FoundCalendar): string {
    const count = problems.reduce((sum, { code, facts }) => {
      if (code === 'calendar-more-problems') return sum + Number(facts?.['count']);
      return code === 'event-left-out' ? sum : sum + 1;
    }, 0);
    return `${count} ${count === 1 ? 'thing' : 'things'} not understood`;
  }
  protected open(file: File | undefined): void {
    if (!file) return;
    this.problem.set('');
    if (file.size > mostCalendarOctets) {
      this.problem.set(
        `This file has ${Math.round(file.size / 1_000_000)} MB; up to ${mostCalendarOctets / 1_000_000} can be read.`,
      );
      return;
    }
    void file.arrayBuffer().then((bytes) => {
      try {
        this.text.set(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
        this.look();
      } catch {
        this.problem.set(
          'This file is not in UTF-8, as calendar files are; its letters would be broken. Save it as UTF-8.',
        );
      }
    });
  }
  protected toggle(line: number): void {
    this.left.update((left) => {
      const next = new Set(left);
      if (!next.delete(line)) next.add(line);
      return next;
    });
  }
  protected toggleAll(): void {
    const all = this.found()?.events.map(({ line }) => line) ?? [];
    this.left.set(this.left().size === 0 ? new Set(all) : new Set());
  }
  protected look(): void {
    this.start();
    this.api.read(this.file()).subscribe({
      next: (found) => {
        this.found.set(found);
        this.left.set(new Set());
        this.isBusy.set(false);
      },
      error: (error: unknown) => this.fail(error),
    });
  }
  protected take(): void {
    const found = this.found();
    if (!found) return;
    this.isBusy.set(true);
    const choice = { leaveOut: [...this.left()], takeGuests: this.takeGuests(), publish: this.publish() };
    const done = () => {
      this.isBusy.set(false);
      this.importing.set(null);
    };
    const subscription = this.api
      .import(this.file(), choice)
      .pipe(finalize(done))
      .subscribe({
        next: (imported) => {
          this.done.set(imported);
          this.found.set(null);
        },
        error: (error: unknown) => this.fail(error),
      });
    if (!subscription.closed) this.importing.set(subscription);
  }
  /** The server notices that nobody waits any more, and takes nothing. */
  protected stop(): void {
    this.importing()?.unsubscribe();
  }

  private file(): Blob {
    return new Blob([this.text()], { type: 'text/calendar' });
  }
  private start(): void {
    this.isBusy.set(true);
    this.problem.set('');
    this.problems.set([]);
    this.found.set(null);
    this.done.set(null);
  }
  private fail(error: unknown): void {
    this.isBusy.set(false);
    this.problem.set(sayError(error));
    this.problems.set(problemsOf(error));
  }
}

const shownCharacters = 200_000;
