import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatButtonModule } from '@angular/material/button';
import { map, of, type Observable } from 'rxjs';
import type { WatchFields, WatchRow } from '@convite/contract';
import { CalendarsApi } from '../api/calendars';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { reading, readingOf } from '../api/reading';
import { Session } from '../api/session';
import { sayError } from '../refused';
import { Chooser, type Choice } from '../ui/chooser';
import { ReadingProblem } from '../ui/reading-problem';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { typed } from '../ui/typed';
import { Cell, type Column } from '../ui/table/column';
import { fixedRows } from '../ui/table/fixed-rows';
import { Table } from '../ui/table/table';

const blank: WatchFields = {
  name: '',
  url: '',
  search: '',
  everyMinutes: 60,
  takesPeople: false,
  textConsent: false,
  cuesOfEvent: null,
  publish: false,
  isOn: true,
};

/** Calendars elsewhere that are looked at again and again: what is new there becomes an event here, what changes changes. */
@Component({
  selector: 'cv-watched-calendars',
  imports: [
    Cell,
    Chooser,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    ReadingProblem,
    Table,
    When,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Watched calendars">
      <div class="row">
        <h2>Watched calendars</h2>
        @if (session.canMarket()) {
          <button matButton="outlined" class="push" (click)="edit(null)">Watch an address</button>
        }
      </div>
      <cv-reading-problem [of]="watches" what="The watched calendars" />
      @if (watches.value().length) {
        <cv-table label="Watched calendars" [source]="list" [columns]="columns">
          <ng-template cvCell="calendar" [cvCellOf]="list" let-watch>
            <strong>{{ watch.name }}</strong><br /><span class="small quiet wrap">{{ watch.url }}</span>
          </ng-template>
          <ng-template cvCell="takes" [cvCellOf]="list" let-watch>
            <span class="small"
              >{{ watch.search ? 'what says “' + watch.search + '”' : 'everything' }}, every
              {{ watch.everyMinutes }} minutes{{ watch.isOn ? '' : ', off' }}</span
            >
          </ng-template>
          <ng-template cvCell="looked" [cvCellOf]="list" let-watch>
            <span class="small">
              @if (watch.lookedAt) {
                <cv-when [at]="watch.lookedAt" [zone]="zone" />
              } @else {
                not yet
              }
            </span>
          </ng-template>
          <ng-template cvCell="found" [cvCellOf]="list" let-watch>
            <span class="small" [class.alarm]="watch.isFailing">{{ watch.outcome }}</span>
          </ng-template>
          <ng-template cvCell="act" [cvCellOf]="list" let-watch>
            @if (session.canMarket()) {
              <button class="link small" (click)="edit(watch)">Change</button>
              <button class="link small" (click)="remove(watch)">Remove</button>
            }
          </ng-template>
        </cv-table>
      } @else if (!watches.hasFailed()) {
        <p class="quiet">None. A booking calendar or a partner’s programme can be watched by its address.</p>
      }
      @if (editing(); as fields) {
        <form class="fields box" (submit)="save($event)">
          <div class="third">
            <mat-form-field subscriptSizing="dynamic"
              ><mat-label>Name</mat-label
              ><input matInput [value]="fields.name" (input)="set({ name: typed($event) })" required
            /></mat-form-field>
          </div>
          <div class="half">
            <mat-form-field subscriptSizing="dynamic"
              ><mat-label>Address (https:// or webcal://)</mat-label
              ><input matInput [value]="fields.url" (input)="set({ url: typed($event) })" required
            /></mat-form-field>
          </div>
          <div class="third">
            <mat-form-field subscriptSizing="dynamic"
              ><mat-label>Only events that say</mat-label
              ><input matInput [value]="fields.search" (input)="set({ search: typed($event) })"
            /></mat-form-field>
          </div>
          <div class="quarter">
            <mat-form-field subscriptSizing="dynamic"
              ><mat-label>Every so many minutes</mat-label
              ><input
                matInput
                type="number"
                min="5"
                max="10080"
                [value]="fields.everyMinutes"
                (input)="set({ everyMinutes: +typed($event) || 60 })"
            /></mat-form-field>
          </div>
          <div class="third stack">
            <span>New events get the cues of</span>
            <cv-chooser
              label="Event whose cues they take over"
              placeholder="none"
              [find]="findSources"
              [chosenName]="sourceName()"
              (chosen)="set({ cuesOfEvent: $event.value })"
            />
            @if (fields.cuesOfEvent) {
              <button class="link small" type="button" (click)="set({ cuesOfEvent: null })">none</button>
            }
          </div>
          <div class="half stack">
            <mat-checkbox [checked]="fields.takesPeople" (change)="set({ takesPeople: !fields.takesPeople })"
              >People become guests: those invited there, and numbers and addresses in the description</mat-checkbox
            >
            @if (fields.takesPeople) {
              <mat-checkbox [checked]="fields.textConsent" (change)="set({ textConsent: !fields.textConsent })"
                >These people agreed to texts about it</mat-checkbox
              >
            }
          </div>
          <div class="third stack">
            <mat-checkbox [checked]="fields.publish" (change)="set({ publish: !fields.publish })"
              >Publish new events at once</mat-checkbox
            >
            <mat-checkbox [checked]="fields.isOn" (change)="set({ isOn: !fields.isOn })">Watching</mat-checkbox>
          </div>
          @if (problem()) {
            <p class="note alarm" role="alert">{{ problem() }}</p>
          }
          <div class="row">
            <button matButton="filled">Save</button
            ><button matButton type="button" (click)="editing.set(null)">Close</button>
          </div>
        </form>
      }
    </section>
  `,
  styles: `
    .box {
      border-top: 1px solid var(--line);
      padding-top: 14px;
    }
    label:not(.check) {
      display: grid;
      gap: 3px;
      font-size: 13px;
    }
    input:not([type='checkbox']),
    select {
      width: 100%;
    }
    td .link + .link {
      margin-left: 12px;
    }
  `,
})
export class WatchedCalendars {
  protected readonly typed = typed;
  private readonly api = inject(CalendarsApi);
  private readonly eventsApi = inject(EventsApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly zone = this.session.zone();
  protected readonly watches = reading(() => this.api.watches(), []);
  protected readonly list = fixedRows(this.watches.value);
  protected readonly columns: readonly Column[] = [
    { key: 'calendar', label: 'Calendar', onCard: 'title' },
    { key: 'takes', label: 'Takes' },
    { key: 'looked', label: 'Last looked' },
    { key: 'found', label: 'Found', onCard: 'fact' },
    { key: 'act', label: 'What to do', isLabelHidden: true, isNumber: true, onCard: 'fact' },
  ];
  protected readonly findSources = (search: string): Observable<readonly Choice<number>[]> =>
    this.eventsApi
      .withCues({ search })
      .pipe(map((events) => events.map(({ id, title }) => ({ value: id, name: title }))));
  protected readonly editing = signal<WatchFields | null>(null);
  private readonly source = readingOf(
    () => this.editing()?.cuesOfEvent ?? null,
    (id) => (id === null ? of([]) : this.eventsApi.withCues({ id })),
    [],
  );
  protected readonly sourceName = computed(() => this.source.value()[0]?.title ?? '');
  private readonly editingId = signal<number | null>(null);
  protected readonly problem = signal('');

  constructor() {
    reloadOn(
      () => ['watches'],
      () => this.watches.reload(),
    );
  }

  protected edit(watch: WatchRow | null): void {
    this.problem.set('');
    this.editingId.set(watch?.id ?? null);
    this.editing.set(watch ? { ...watch } : blank);
  }
  protected set(change: Partial<WatchFields>): void {
    this.editing.update((fields) => fields && { ...fields, ...change });
  }
  protected save(event: Event): void {
    event.preventDefault();
    const fields = this.editing();
    if (!fields) return;
    this.api.saveWatch(this.editingId(), fields).subscribe({
      next: () => {
        this.editing.set(null);
        this.watches.reload();
        this.toast.say('It is looked at within moments.');
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
  protected remove(watch: WatchRow): void {
    this.api.removeWatch(watch.id).subscribe({
      next: () => {
        this.watches.reload();
        this.toast.say('No longer watched; its events stay.');
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
