import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { rxResource, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { debounceTime } from 'rxjs';
import { AudienceApi } from '../api/audience';
import { reloadOn } from '../api/live';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { sayError } from '../refused';
import { Pager } from '../ui/pager';
import { ReadingProblem } from '../ui/reading-problem';
import { ImportPanel } from './import-panel';
import { PersonPanel } from './person-panel';
import { RecentImports } from './recent-imports';
import { typed } from '../ui/typed';

/** Subscribers and their lists. */
@Component({
  selector: 'cv-audience',
  imports: [ImportPanel, MatButtonModule, Pager, PersonPanel, ReadingProblem, RecentImports],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Audience</h1>
        @if (page(); as page) {
          <span class="quiet">
            @if (page.total !== null) {
              {{ page.total.toLocaleString('en-GB') }} on {{ chosenName() }}
            } @else {
              {{ chosenName() ? 'on ' + chosenName() : 'everybody, in the order they came' }}
            }
          </span>
        }
        @if (session.canMarket()) {
          <button matButton="filled" class="push" (click)="isAdding.set(!isAdding())" [attr.aria-expanded]="isAdding()">
            Add people
          </button>
        }
      </div>
      @if (isAdding()) {
        <cv-import-panel [lists]="lists.value()" [listId]="list()" (done)="refresh()" (closed)="isAdding.set(false)" />
      }
      @if (opened(); as id) {
        <cv-person-panel [personId]="id" [lists]="lists.value()" (saved)="refresh()" (closed)="opened.set(null)" />
      }
      <cv-recent-imports />
      <div class="columns flip">
        <nav class="stack" aria-label="Lists">
          <h2>Lists</h2>
          <button class="list-row" [attr.aria-pressed]="list() === null" (click)="choose(null)">
            <span>Everybody</span>
          </button>
          <cv-reading-problem [of]="lists" what="The lists" />
          @for (one of lists.value(); track one.id) {
            <button class="list-row" [attr.aria-pressed]="list() === one.id" (click)="choose(one.id)">
              <span class="rtl-safe">{{ one.name }}</span><span class="number">{{
                one.count.toLocaleString('en-GB')
              }}</span>
            </button>
          }
          @if (session.canMarket()) {
            <form class="row" (submit)="create($event, name)">
              <input
                #name
                class="plain grow"
                placeholder="New list"
                aria-label="Name of a new list"
                maxlength="120"
              /><button matButton="outlined">Make</button>
            </form>
            @if (problem()) {
              <p class="field-problem" role="alert">{{ problem() }}</p>
            }
          }
        </nav>
        <section class="stack" aria-label="Subscribers">
          <input
            class="plain"
            type="search"
            placeholder="Find by name, address or number"
            aria-label="Find subscribers"
            [value]="search()"
            (input)="find(typed($event))"
          />
          @if (page(); as page) {
            @if (page.rows.length) {
              <div class="scroll" tabindex="0" role="region" aria-label="Subscribers">
                <table class="list">
                  <thead>
                    <tr>
                      <th>Name</th>
                      <th>Email</th>
                      <th>Mobile</th>
                      <th>Texts</th>
                      <th>Zone</th>
                      <th>State</th>
                      <th>Lists</th>
                    </tr>
                  </thead>
                  <tbody>
                    @for (row of page.rows; track row.id) {
                      <tr>
                        <td>
                          <button class="link" (click)="opened.set(row.id)">
                            <bdi>{{ row.name || row.email || row.mobile }}</bdi>
                          </button>
                        </td>
                        <td class="email" [title]="row.email">{{ row.email }}</td>
                        <td>{{ row.mobile }}</td>
                        <td>
                          @if (row.textConsent && row.state !== 'opted-out') {
                            <span class="yes">yes</span>
                          } @else if (row.mobile && !row.textConsent) {
                            <span class="quiet">no consent</span>
                          }
                        </td>
                        <td class="quiet small">{{ row.zone }}</td>
                        <td>
                          @switch (row.state) {
                            @case ('subscribed') {
                              <span class="yes">subscribed</span>
                            }
                            @case ('bounced') {
                              <span class="alarm" [title]="row.bounceText">bounces</span>
                            }
                            @default {
                              <span class="quiet">opted out</span>
                            }
                          }
                        </td>
                        <td class="quiet small lists" [title]="row.lists.join(', ')">{{ row.lists.join(', ') }}</td>
                      </tr>
                    }
                  </tbody>
                </table>
              </div>
              <cv-pager [(after)]="after" [next]="page.next" />
            } @else {
              <div class="empty">
                {{
                  search()
                    ? 'Nobody matches “' + search() + '”.'
                    : 'Nobody here yet. Add people: paste addresses, or take a file.'
                }}
              </div>
            }
          } @else if (resource.error()) {
            <p class="note alarm" role="alert">The subscribers cannot be read just now.</p>
          } @else {
            <p class="quiet" role="status">Reading the subscribers …</p>
          }
        </section>
      </div>
    </main>
  `,
  styles: `
    .flip {
      grid-template-columns: 240px minmax(0, 1fr);
    }
    @media (max-width: 900px) {
      .flip {
        grid-template-columns: minmax(0, 1fr);
      }
    }
    nav {
      gap: 2px;
    }
    nav form {
      margin-top: 8px;
    }
    .list-row {
      display: flex;
      justify-content: space-between;
      gap: 8px;
      min-height: 34px;
      padding: 4px 10px;
      font: inherit;
      color: inherit;
      text-align: left;
      background: none;
      border: 0;
      border-left: 3px solid transparent;
      cursor: pointer;
    }
    .list-row:hover {
      background: var(--lead-wash);
    }
    .list-row[aria-pressed='true'] {
      border-color: var(--lead);
      background: var(--lead-wash);
      font-weight: 650;
    }
    .plain {
      min-width: 0;
    }
    td {
      white-space: nowrap;
    }
    table td,
    table th {
      padding-left: 8px;
      padding-right: 8px;
    }
    td.lists {
      overflow: hidden;
      text-overflow: ellipsis;
      max-width: 96px;
    }
    td.email {
      overflow: hidden;
      text-overflow: ellipsis;
      max-width: 230px;
    }
    cv-person-panel,
    cv-recent-imports,
    cv-import-panel {
      display: block;
      margin-bottom: 20px;
    }
  `,
})
export class Audience {
  protected readonly typed = typed;
  private readonly api = inject(AudienceApi);
  protected readonly session = inject(Session);
  protected readonly search = signal('');
  protected readonly list = signal<number | null>(null);
  protected readonly after = signal(0);
  protected readonly isAdding = signal(false);
  /** The subscriber that is looked at. */
  protected readonly opened = signal<number | null>(null);
  protected readonly problem = signal('');
  protected readonly lists = reading(() => this.api.lists(), []);
  private readonly query = toSignal(
    toObservable(computed(() => ({ search: this.search(), list: this.list(), after: this.after() }))).pipe(
      debounceTime(150),
    ),
  );
  protected readonly resource = rxResource({
    params: () => this.query(),
    stream: ({ params }) => this.api.subscribers(params.search, params.list, params.after),
  });
  protected readonly page = computed(() => (this.resource.hasValue() ? (this.resource.value() ?? null) : null));
  protected readonly chosenName = computed(() => this.lists.value().find(({ id }) => id === this.list())?.name ?? '');

  constructor() {
    reloadOn(
      () => ['subscribers'],
      () => this.refresh(),
    );
  }

  protected refresh(): void {
    this.lists.reload();
    this.resource.reload();
  }
  protected find(text: string): void {
    this.after.set(0);
    this.search.set(text);
  }
  protected choose(list: number | null): void {
    this.after.set(0);
    this.list.set(list);
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
