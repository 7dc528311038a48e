import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { sayNumber } from '../ui/say';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { Router, RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { AudienceApi } from '../api/audience';
import { reloadOn } from '../api/live';
import { reading } from '../api/reading';
import { SegmentsApi } from '../api/segments';
import { Session } from '../api/session';
import { sayError } from '../refused';
import { ReadingProblem } from '../ui/reading-problem';
import { BulkPeople } from './bulk-people';
import { WriteToPeople } from './write-to-people';
import { ListPanel } from './list-panel';
import { PersonPanel } from './person-panel';
import { RecentImports } from './recent-imports';
import { Cell, type Column } from '../ui/table/column';
import { rowSource } from '../ui/table/row-source';
import { nobodyPicked, Table, type FileLink, type Picked } from '../ui/table/table';
import type { PeopleSelection } from '@convite/contract';
import { typed } from '../ui/typed';

/** Subscribers and their lists. */
@Component({
  selector: 'cv-audience',
  imports: [
    BulkPeople,
    Cell,
    ListPanel,
    MatButtonModule,
    MatFormFieldModule,
    MatInputModule,
    PersonPanel,
    ReadingProblem,
    RecentImports,
    RouterLink,
    Table,
    WriteToPeople,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Audience</h1>
        @if (subscribers.first()) {
          <span class="quiet">
            @if (total(); as total) {
              {{ sayNumber(total) }} {{ inSegment() === null ? 'on' : 'in' }} {{ chosenName() }}
            } @else {
              {{
                chosenName()
                  ? (inSegment() === null ? 'on ' : 'in ') + chosenName()
                  : 'everybody, in the order they came'
              }}
            }
          </span>
          @if (list(); as id) {
            <button class="link small" (click)="lookAtList(id)">About this list</button>
          }
        }
        @if (session.canMarket()) {
          <a matButton class="push" routerLink="/audience/pressure">Contact pressure</a>
          <a matButton routerLink="/audience/fields">Fields and topics</a>
          <a matButton routerLink="/audience/forms">Sign-up forms</a>
          <a matButton routerLink="/audience/segments">Segments</a>
          <a matButton="filled" routerLink="/audience/add">Add people</a>
        }
      </div>
      @if (opened(); as id) {
        <!-- Another person is another form. -->
        @for (one of [id]; track one) {
          <cv-person-panel [personId]="one" [lists]="lists.value()" (saved)="refresh()" (closed)="look(null)" />
        }
      }
      @if (about(); as id) {
        @for (one of [id]; track one) {
          <cv-list-panel [listId]="+one" [lists]="lists.value()" (saved)="refresh()" (closed)="lookAtList(null)" />
        }
      }
      @if (writesTo(); as selection) {
        <cv-write-to-people [selection]="selection" (closed)="writesTo.set(null)" />
      }
      <cv-recent-imports />
      <div class="columns flip">
        <nav class="stack" aria-label="Lists">
          <h2>Lists</h2>
          <button class="list-row" [attr.aria-pressed]="list() === null && inSegment() === null" (click)="choose(null)">
            <span>Everybody</span>
          </button>
          <cv-reading-problem [of]="lists" what="The lists" />
          @for (one of shownLists(); track one.id) {
            <button class="list-row" [attr.aria-pressed]="list() === one.id" (click)="choose(one.id)">
              <span class="rtl-safe">{{ one.name }}</span><span class="number">{{ sayNumber(one.count) }}</span>
            </button>
          }
          @if (putAway().length) {
            <button class="link small" (click)="showsPutAway.set(!showsPutAway())">
              {{ showsPutAway() ? 'Without those put away' : sayNumber(putAway().length) + ' put away' }}
            </button>
          }
          @if (session.canMarket()) {
            <form class="row" (submit)="create($event, name)">
              <mat-form-field class="grow" subscriptSizing="dynamic"
                ><input
                  matInput
                  #name
                  placeholder="New list"
                  aria-label="Name of a new list"
                  maxlength="120" /></mat-form-field
              ><button matButton="outlined">Make</button>
            </form>
            @if (problem()) {
              <p class="field-problem" role="alert">{{ problem() }}</p>
            }
          }
          @if (shownSegments().length) {
            <h2>Segments</h2>
            @for (one of shownSegments(); track one.id) {
              <button class="list-row" [attr.aria-pressed]="inSegment() === one.id" (click)="show(one.id)">
                <span class="rtl-safe">{{ one.name }}</span><span class="number">{{
                  one.people === null ? '…' : sayNumber(one.people)
                }}</span>
              </button>
            }
          }
        </nav>
        <section class="stack" aria-label="Subscribers">
          <cv-table
            [findLabel]="inSegment() === null ? 'Find subscribers' : ''"
            findHint="Find by name, address or number"
            [(find)]="search"
            [exports]="files()"
            name="subscribers"
            label="Subscribers"
            [source]="subscribers"
            [columns]="columns"
            [total]="total()"
            [opens]="true"
            [chosenId]="opened()"
            (opened)="look($event.id)"
            [canPick]="session.canMarket()"
            [(picked)]="picked"
          >
            @if (pickedCount() || isBulkRunning()) {
              <cv-bulk-people
                bulk
                [selection]="selection()"
                [count]="pickedCount()"
                [lists]="lists.value()"
                [(isRunning)]="isBulkRunning"
                (done)="afterBulk()"
                (written)="writesTo.set(selection())"
              />
            }
            <span empty>{{
              search()
                ? 'Nobody matches “' + search() + '”.'
                : 'Nobody here yet. Add people: paste addresses, or take a file.'
            }}</span>
            <ng-template cvCell="name" [cvCellOf]="subscribers" let-row>
              <button class="link" (click)="look(row.id)">
                <bdi>{{ row.name || row.email || row.mobile }}</bdi>
              </button>
            </ng-template>
            <ng-template cvCell="email" [cvCellOf]="subscribers" let-row>
              <span class="short" [title]="row.email">{{ row.email }}</span>
            </ng-template>
            <ng-template cvCell="mobile" [cvCellOf]="subscribers" let-row>{{ row.mobile }}</ng-template>
            <ng-template cvCell="texts" [cvCellOf]="subscribers" let-row>
              @if (row.textConsent && row.state !== 'opted-out') {
                <span class="yes">yes</span>
              } @else if (row.mobile && !row.textConsent) {
                <span class="quiet whole">no consent</span>
              }
            </ng-template>
            <ng-template cvCell="zone" [cvCellOf]="subscribers" let-row>
              <span class="quiet small">{{ row.zone }}</span>
            </ng-template>
            <ng-template cvCell="state" [cvCellOf]="subscribers" let-row>
              @switch (row.state) {
                @case ('subscribed') {
                  <span class="yes">subscribed</span>
                }
                @case ('no-consent') {
                  <span class="quiet" title="Nobody said that they agreed: they are not written to.">no consent</span>
                }
                @case ('bounced') {
                  <span class="alarm" [title]="row.bounceText">bounces</span>
                }
                @default {
                  <span class="quiet">opted out</span>
                }
              }
            </ng-template>
            <ng-template cvCell="lists" [cvCellOf]="subscribers" let-row>
              <span class="short narrow quiet small" [title]="row.lists.join(', ')">{{ row.lists.join(', ') }}</span>
            </ng-template>
          </cv-table>
        </section>
      </div>
    </main>
  `,
  styles: `
    nav form {
      margin-top: 8px;
    }
    nav * + h2 {
      margin-top: 20px;
    }
    .plain {
      min-width: 0;
    }
    button.link,
    .whole {
      white-space: nowrap;
    }
    .short {
      display: inline-block;
      vertical-align: bottom;
      max-width: 200px;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .short.narrow {
      max-width: 104px;
    }
    cv-person-panel,
    cv-recent-imports {
      display: block;
      margin-bottom: 20px;
    }
  `,
})
export class Audience {
  protected readonly sayNumber = sayNumber;
  protected readonly typed = typed;
  private readonly api = inject(AudienceApi);
  private readonly segmentsApi = inject(SegmentsApi);
  protected readonly session = inject(Session);
  protected readonly search = signal('');
  protected readonly list = signal<number | null>(null);
  /** The subscriber that is looked at. */
  protected readonly opened = linkedSignal(() => Number(this.person()) || null);
  /** From the address, which can be copied. */
  readonly person = input<string>();
  /** The segment whose people are shown, from the address. */
  readonly segment = input<string>();
  protected readonly inSegment = computed(() => Number(this.segment()) || null);
  private readonly segments = reading(() => this.segmentsApi.all(), []);
  protected readonly shownSegments = computed(() => this.segments.value());
  /** The list that is looked at, from the address. */
  readonly about = input<string>();
  protected readonly showsPutAway = signal(false);
  protected readonly putAway = computed(() => this.lists.value().filter(({ isArchived }) => isArchived));
  protected readonly shownLists = computed(() =>
    this.lists.value().filter(({ id, isArchived }) => !isArchived || this.showsPutAway() || id === this.list()),
  );
  private readonly router = inject(Router);
  protected readonly problem = signal('');
  protected readonly lists = reading(() => this.api.lists(), []);
  protected readonly columns: readonly Column[] = [
    { key: 'name', label: 'Name', onCard: 'title' },
    { key: 'email', label: 'Email', onCard: 'fact' },
    { key: 'mobile', label: 'Mobile' },
    { key: 'texts', label: 'Texts' },
    { key: 'zone', label: 'Zone' },
    { key: 'state', label: 'State', onCard: 'fact' },
    { key: 'lists', label: 'Lists' },
  ];
  protected readonly subscribers = rowSource(
    () => ({ search: this.search(), list: this.list(), segment: this.inSegment() }),
    ({ search, list, segment }, after) => this.api.subscribers(search, list, Number(after ?? 0), segment),
  );
  protected readonly files = computed((): FileLink[] => {
    if (!this.session.canMarket()) return [];
    const list = this.list();
    const query = new URLSearchParams({
      search: this.search(),
      ...(list !== null && { list: String(list) }),
      ...(this.inSegment() !== null && { segment: String(this.inSegment()) }),
    }).toString();
    const formats = { csv: 'CSV', xlsx: 'Workbook (.xlsx)', vcf: 'Address book (.vcf)' };
    return Object.entries(formats).map(([format, name]) => ({ name, url: `/api/subscribers.${format}?${query}` }));
  });
  protected readonly picked = signal<Picked>(nobodyPicked);
  protected readonly isBulkRunning = signal(false);
  protected readonly pickedCount = computed(() => {
    const picked = this.picked();
    return picked.kind === 'all' ? (this.total() ?? 0) : picked.ids.size;
  });
  /** Those who are being written to. */
  protected readonly writesTo = signal<PeopleSelection | null>(null);
  protected readonly selection = computed((): PeopleSelection => {
    const picked = this.picked();
    return picked.kind === 'all'
      ? { search: this.search(), list: this.list(), segment: this.inSegment() }
      : { ids: [...picked.ids].map(Number) };
  });
  protected readonly total = computed(() => this.subscribers.first()?.total ?? null);
  protected readonly chosenName = computed(() => {
    const segment = this.inSegment();
    return segment === null
      ? (this.lists.value().find(({ id }) => id === this.list())?.name ?? '')
      : (this.segments.value().find(({ id }) => id === segment)?.name ?? '');
  });

  constructor() {
    reloadOn(
      () => ['subscribers'],
      () => this.refresh(),
    );
  }

  protected look(id: number | null): void {
    this.opened.set(id);
    void this.router.navigate([], { queryParams: { person: id }, queryParamsHandling: 'merge' });
  }
  protected lookAtList(about: number | null): void {
    void this.router.navigate([], { queryParams: { about }, queryParamsHandling: 'merge' });
  }
  /** Shows who is in a segment now; null for no segment. */
  protected show(segment: number | null): void {
    if (segment !== null) {
      this.list.set(null);
      this.search.set('');
    }
    void this.router.navigate([], { queryParams: { segment }, queryParamsHandling: 'merge' });
  }
  protected afterBulk(): void {
    this.picked.set(nobodyPicked);
    this.refresh();
  }
  protected refresh(): void {
    this.lists.reload();
    this.subscribers.reload();
  }
  protected choose(list: number | null): void {
    this.list.set(list);
    this.show(null);
  }
  protected create(submit: Event, field: HTMLInputElement): void {
    submit.preventDefault();
    const name = field.value.trim();
    if (!name) return this.problem.set('Give the list a name.');
    this.api.createList(name).subscribe({
      next: ({ id }) => {
        field.value = '';
        this.problem.set('');
        this.lists.reload();
        this.choose(id);
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
}
