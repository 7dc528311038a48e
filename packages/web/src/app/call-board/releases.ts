import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { Observable } from 'rxjs';
import type { ReleaseRow, ShownMessage } from '@convite/contract';
import { noWording } from '@convite/contract';
import { reloadOn } from '../api/live';
import { reading } from '../api/reading';
import { ReleasesApi } from '../api/releases';
import { Session } from '../api/session';
import { Confirm } from '../ui/confirm';
import { ReadingProblem } from '../ui/reading-problem';
import { sayCount } from '../ui/say';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { AsRead } from '../ui/wording/as-read';

const whats: Readonly<Record<ReleaseRow['what'], string>> = {
  cue: 'a cue',
  digest: 'a digest',
  firing: 'a message sent by hand',
};

/** What waits for a second member: who wrote it, to how many it goes, the very words; then *Release*, or *Hold back*. */
@Component({
  selector: 'cv-releases',
  imports: [AsRead, MatButtonModule, ReadingProblem, RouterLink, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main class="stack">
      <p class="small"><a routerLink="/">Call board</a></p>
      <div class="head">
        <h1>To be released</h1>
        <span class="quiet">what a second member reads before it goes</span>
      </div>
      <cv-reading-problem [of]="page" what="What waits" />
      @for (row of page.value().rows; track row.what + row.ref) {
        <section class="sheet stack" [attr.aria-label]="row.title">
          <div class="row">
            <span class="grow">
              <strong class="rtl-safe">{{ row.title }}</strong>
              @if (row.eventId; as id) {
                · <a class="rtl-safe" [routerLink]="['/events', id, 'countdown']">{{ row.eventTitle }}</a>
              }
              <br />
              <span class="small quiet"
                >{{ whats[row.what] }} by {{ row.channel }}, written by {{ row.by }},
                <cv-when [at]="row.at" [zone]="zone" /></span
              ><br />
              <span class="small"
                >{{ row.gets === null ? 'not counted yet' : 'to ' + sayCount(row.gets, 'person', 'people') }},
                @if (row.dueAt; as at) {
                  goes <cv-when [at]="at" [zone]="zone" />
                } @else {
                  goes as soon as it is released
                }
              </span>
            </span>
            @if (session.canMarket()) {
              <span class="row">
                <button matButton="outlined" [attr.aria-expanded]="isOpen(row)" (click)="read(row)">
                  {{ isOpen(row) ? 'Close' : 'Read it' }}
                </button>
                <button matButton (click)="act(api.holdBack(row), 'It does not go.')">Hold back</button>
                @if (!row.isOwn) {
                  <button matButton="filled" [disabled]="!isOpen(row)" (click)="release(row)">Release</button>
                }
              </span>
            }
          </div>
          @if (row.isOwn) {
            <p class="note">You wrote it: somebody else reads and releases it.</p>
          }
          @if (isOpen(row)) {
            @for (message of shown(); track message.channel) {
              <cv-as-read [message]="message" [wording]="noWording" />
            } @empty {
              <p class="quiet">There is nothing in it for anybody now.</p>
            }
          }
        </section>
      } @empty {
        <div class="empty">Nothing waits.</div>
      }
      @if (page.value().hasMore) {
        <p class="quiet">Others wait behind these; they follow as these are read.</p>
      }
    </main>
  `,
  styles: `
    p {
      margin: 0;
    }
  `,
})
export class Releases {
  protected readonly api = inject(ReleasesApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly zone = this.session.zone();
  protected readonly sayCount = sayCount;
  protected readonly whats = whats;
  protected readonly noWording = noWording;
  protected readonly page = reading(() => this.api.list(), { rows: [], hasMore: false });
  /** What is read, as one of its readers gets it. */
  private readonly open = signal('');
  protected readonly shown = signal<readonly ShownMessage[]>([]);

  constructor() {
    reloadOn(
      () => ['board', 'digests'],
      () => this.page.reload(),
    );
  }

  protected isOpen = ({ what, ref }: ReleaseRow): boolean => this.open() === `${what} ${ref}`;
  protected read(row: ReleaseRow): void {
    if (this.isOpen(row)) return this.open.set('');
    this.api.show(row).subscribe({
      next: ({ messages }) => {
        this.shown.set(messages);
        this.open.set(`${row.what} ${row.ref}`);
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected release(row: ReleaseRow): void {
    const whom = row.gets === null ? '' : ` to ${sayCount(row.gets, 'person', 'people')}`;
    this.confirm
      .ask({
        title: `Release ${row.title}?`,
        text: row.dueAt ? `It is set, and goes${whom} when its moment comes.` : `It goes${whom} at once.`,
        yes: 'Release it',
      })
      .subscribe(() => this.act(this.api.release(row), 'It is released.'));
  }
  protected act(asked: Observable<unknown>, words: string): void {
    asked.subscribe({
      next: () => {
        this.open.set('');
        this.toast.say(words);
        this.page.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
