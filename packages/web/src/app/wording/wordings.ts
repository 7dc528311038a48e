import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { RouterLink } from '@angular/router';
import type { KeptRow } from '@convite/contract';
import { languages, purposes, sayDistance, timeWords } from '@convite/core';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { WordingsApi } from '../api/wordings';
import { optionsOf, Toggle } from '../ui/toggle';
import { typed } from '../ui/typed';
import { SharedClock } from '../ui/shared-clock';
import { purposeWords, sayCame } from './purpose-words';

const channels = ['all', 'email', 'text'] as const;

/** Every message that is kept to be used again: what each is for, whether the house says it otherwise, when it was last used. */
@Component({
  selector: 'cv-wordings',
  imports: [MatButtonModule, MatCheckboxModule, MatFormFieldModule, MatInputModule, RouterLink, Toggle],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Wording</h1>
        <span class="quiet">messages written once and used again</span>
        <a class="push" routerLink="/wording/pictures">Pictures</a>
        @if (session.canMarket()) {
          <a matButton="filled" routerLink="/wording/new">New wording</a>
        }
      </div>
      <div class="row">
        <mat-form-field class="find" subscriptSizing="dynamic"
          ><input
            matInput
            type="search"
            aria-label="Find a wording"
            placeholder="Find by name"
            [value]="search()"
            (input)="search.set(typed($event))"
        /></mat-form-field>
        <cv-toggle label="Channel" [options]="channels" [(value)]="channel" />
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><select matNativeControl aria-label="Language" (change)="said.set(typed($event))">
            <option value="" [selected]="said() === ''">in any language</option>
            @for (one of languages; track one.key) {
              <option [value]="'in ' + one.key">in {{ one.name }}, too</option>
              <option [value]="'not ' + one.key">not yet in {{ one.name }}</option>
            }
          </select></mat-form-field
        >
        @if (hasArchived()) {
          <mat-checkbox [checked]="showsArchived()" (change)="showsArchived.set($event.checked)"
            >archived too</mat-checkbox
          >
        }
      </div>
      @if (resource.hasValue()) {
        @for (group of groups(); track group.purpose) {
          <section [attr.aria-label]="group.name">
            <h2>{{ group.name }}</h2>
            <ul>
              @for (row of group.rows; track row.key) {
                <li [class.archived]="row.isArchived">
                  <a [routerLink]="['/wording', row.key]" class="rtl-safe">{{ row.name }}</a>
                  <span class="channel" [class.text]="row.channel === 'text'">{{ row.channel }}</span>
                  <span class="small says rtl-safe">{{ row.says }}</span>
                  <span class="small quiet">{{ row.goes }}</span>
                  <span class="small quiet">
                    @if (row.isArchived) {
                      archived
                    } @else if (row.isChanged) {
                      <span class="mark">your words</span>
                    } @else if (!row.isShipped) {
                      <span class="mark">your own</span>
                    }
                    @if (row.usedAt; as at) {
                      used {{ ago(at) }}
                    }
                    @if (row.came.sent) {
                      <span class="came">{{ sayCame(row.came) }}</span>
                    }
                  </span>
                </li>
              }
            </ul>
          </section>
        } @empty {
          <div class="empty">No wording is like that.</div>
        }
      } @else if (resource.error()) {
        <p class="note alarm" role="alert">The wordings cannot be read just now.</p>
      } @else {
        <p class="quiet" role="status">Reading the wordings …</p>
      }
    </main>
  `,
  styles: `
    main {
      display: grid;
      gap: 16px;
    }
    .head {
      margin: 0;
    }
    h2 {
      font-size: 15px;
      margin: 6px 0 4px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 4px;
    }
    li {
      display: grid;
      grid-template-columns: minmax(170px, 3fr) 44px minmax(180px, 5fr) minmax(120px, 3fr) minmax(90px, 2fr);
      gap: 14px;
      align-items: center;
      min-height: 36px;
      padding: 2px 14px;
    }
    li + li {
      border-top: 1px solid var(--line);
    }
    .archived {
      opacity: 0.75;
    }
    .says {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .came {
      display: block;
    }
    .find {
      width: 280px;
    }
    .channel {
      font-size: 13px;
    }
    .channel.text {
      color: var(--text-channel);
    }
    .mark {
      padding: 1px 8px;
      border-radius: 9px;
      background: color-mix(in srgb, var(--lead) 12%, var(--sheet));
      white-space: nowrap;
    }
    @media (max-width: 700px) {
      li {
        grid-template-columns: minmax(0, 1fr) auto;
        padding: 8px 12px;
      }
      .says {
        grid-column: 1 / -1;
      }
    }
  `,
})
export class Wordings {
  protected readonly typed = typed;
  private readonly api = inject(WordingsApi);
  protected readonly session = inject(Session);
  protected readonly resource = rxResource({ stream: () => this.api.list() });
  private readonly clock = inject(SharedClock);
  protected readonly sayCame = sayCame;
  protected ago = (at: string): string => sayDistance(this.clock.nowMs(), Date.parse(at), this.session.zone());
  protected readonly channels = optionsOf(channels);
  protected readonly channel = signal<(typeof channels)[number]>('all');
  /** In which language beside its first, or not yet in which. */
  protected readonly said = signal('');
  protected readonly languages = languages.map((key) => ({ key, name: timeWords[key].englishName }));
  protected readonly search = signal('');
  protected readonly showsArchived = signal(false);
  private readonly rows = computed(() => (this.resource.hasValue() ? this.resource.value() : []));
  protected readonly hasArchived = computed(() => this.rows().some(({ isArchived }) => isArchived));
  private readonly shown = computed((): readonly KeptRow[] => {
    const [how, wanted] = this.said().split(' ');
    const isSaid = (row: KeptRow): boolean => row.languages.some((one) => one === wanted);
    const words = this.search().toLowerCase().split(/\s+/).filter(Boolean);
    return this.rows().filter(
      (row) =>
        (this.channel() === 'all' || row.channel === this.channel()) &&
        (!wanted || isSaid(row) === (how === 'in')) &&
        (this.showsArchived() || !row.isArchived) &&
        words.every((word) => row.name.toLowerCase().includes(word)),
    );
  });
  protected readonly groups = computed(() =>
    purposes
      .map((purpose) => ({
        purpose,
        name: purposeWords[purpose],
        rows: this.shown().filter((row) => row.purpose === purpose),
      }))
      .filter(({ rows }) => rows.length > 0),
  );

  constructor() {
    reloadOn(
      () => ['wordings'],
      () => this.resource.reload(),
    );
  }
}
