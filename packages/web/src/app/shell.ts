import { ChangeDetectionStrategy, Component, effect, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { map, type Observable } from 'rxjs';
import { AudienceApi } from './api/audience';
import { CountsApi } from './api/counts';
import { PicturesApi } from './api/pictures';
import { SegmentsApi } from './api/segments';
import { VocabularyApi } from './api/vocabulary';
import { WordingsApi } from './api/wordings';
import { Session } from './api/session';
import { Strip } from './strip';
import { Unsaved } from './ui/form/unsaved';
import { AudienceSource } from './ui/audience/audience-source';
import { PeopleSearch } from './ui/people-search';
import { setManner } from './ui/say';
import { WordingSource } from './ui/wording/wording-source';
import { Habits } from './ui/time/habits';

/** The frame of every screen: the strip, the areas as plain words, the person. */
@Component({
  selector: 'cv-shell',
  imports: [RouterLink, RouterLinkActive, RouterOutlet, Strip],
  providers: [
    { provide: PeopleSearch, useFactory: peopleSearch },
    { provide: AudienceSource, useFactory: audienceSource },
    { provide: WordingSource, useFactory: wordingSource },
  ],
  host: { '(document:keydown)': 'onKey($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <a class="skip" href="#content">Skip to the content</a>
    <cv-strip />
    <header>
      <span class="name">{{ session.me()?.organisation?.name }}</span>
      <nav aria-label="Areas">
        <a
          routerLink="/"
          routerLinkActive="here"
          ariaCurrentWhenActive="page"
          [routerLinkActiveOptions]="{ exact: true }"
          >Call board</a
        >
        <a routerLink="/events" routerLinkActive="here" ariaCurrentWhenActive="page">Events</a>
        <a routerLink="/digests" routerLinkActive="here" ariaCurrentWhenActive="page">Digests</a>
        <a routerLink="/audience" routerLinkActive="here" ariaCurrentWhenActive="page">Audience</a>
        <a routerLink="/wording" routerLinkActive="here" ariaCurrentWhenActive="page">Wording</a>
        @if (session.me()?.hasBackstage) {
          <a routerLink="/backstage" routerLinkActive="here" ariaCurrentWhenActive="page">Backstage</a>
        }
        <a routerLink="/settings" routerLinkActive="here" ariaCurrentWhenActive="page">Settings</a>
      </nav>
      <button class="find small" (click)="openFinder()" aria-keyshortcuts="/ Control+K">Find or do <kbd>/</kbd></button>
      <a class="person small" routerLink="/account" title="Your account"
        >{{ session.me()?.name }}, {{ session.me()?.role }}</a
      >
      <button class="link" (click)="signOut()">Sign out</button>
    </header>
    <div id="content" tabindex="-1"><router-outlet /></div>
  `,
  styles: `
    header {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 6px 24px;
      max-width: 1360px;
      margin: 0 auto;
      padding: 12px 28px 0;
    }
    .name {
      font: 560 17px var(--heading);
      color: var(--lead);
    }
    nav {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 20px;
    }
    nav a {
      color: var(--ink);
      text-decoration: none;
      padding: 4px 0;
      border-bottom: 2px solid transparent;
      font-weight: 500;
    }
    nav a:hover {
      border-color: var(--line);
    }
    nav a.here {
      border-color: var(--lead);
      color: var(--lead);
      font-weight: 650;
    }
    .find {
      margin-left: auto;
      font: 13px var(--plain);
      color: var(--quiet);
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 4px;
      padding: 4px 8px;
      min-height: 28px;
      cursor: pointer;
    }
    kbd {
      font: 12px var(--mono);
      padding: 0 4px;
      border: 1px solid var(--line);
      border-radius: 3px;
    }
    .person {
      color: var(--quiet);
    }
    .skip {
      position: absolute;
      left: -9999px;
    }
    .skip:focus {
      left: 8px;
      top: 8px;
      background: var(--sheet);
      padding: 8px;
      z-index: 10;
    }
    #content:focus {
      outline: none;
    }
    @media (max-width: 700px) {
      header {
        gap: 4px 16px;
        padding: 8px 16px 0;
      }
      .name {
        flex: 1 1 100%;
      }
      .find,
      .person {
        margin-left: 0;
      }
      kbd {
        display: none;
      }
    }
  `,
})
export class Shell {
  protected readonly session = inject(Session);
  private readonly habits = inject(Habits);
  private readonly router = inject(Router);
  private readonly unsaved = inject(Unsaved);
  private readonly dialog = inject(MatDialog);

  constructor() {
    effect(() => {
      const house = this.session.me()?.organisation;
      if (!house) return;
      this.habits.dayOrder.set(house.dayOrder);
      this.habits.firstWeekday.set(house.firstWeekday);
      setManner({ order: house.dayOrder, clock: house.clock });
    });
  }

  /** `/` finds, `?` lists the keys, unless somebody is typing; Ctrl or Cmd K finds from anywhere. */
  protected onKey(event: KeyboardEvent): void {
    const isAnywhere = event.key.toLowerCase() === 'k' && (event.ctrlKey || event.metaKey) && !event.altKey;
    const isPlain = !event.ctrlKey && !event.metaKey && !event.altKey && !isTyping(event.target);
    if (!isAnywhere && !(isPlain && (event.key === '/' || event.key === '?'))) return;
    event.preventDefault();
    if (event.key === '?') void this.openKeys();
    else void this.openFinder();
  }
  protected async openFinder(): Promise<void> {
    const { Finder } = await import('./finder');
    if (this.dialog.openDialogs.length === 0) this.dialog.open(Finder, { width: '520px', position: { top: '90px' } });
  }
  private async openKeys(): Promise<void> {
    const { Keys } = await import('./keys');
    if (this.dialog.openDialogs.length === 0) this.dialog.open(Keys, { width: '460px' });
  }

  protected signOut(): void {
    this.unsaved.mayLeave().subscribe((leaves) => {
      if (!leaves) return;
      this.unsaved.forgetAll();
      this.session.signOut().subscribe(() => void this.router.navigateByUrl('/sign-in'));
    });
  }
}

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || /^(?:input|textarea|select)$/i.test(target.tagName));

function peopleSearch(): PeopleSearch {
  const audience = inject(AudienceApi);
  return {
    find: (text) => audience.subscribers(text, null, 0).pipe(map(({ rows }) => rows)),
    named: (ids) => audience.named(ids),
  };
}

function audienceSource(): AudienceSource {
  const [audience, segments, counts] = [inject(AudienceApi), inject(SegmentsApi), inject(CountsApi)];
  return { lists: audience.lists, segments: segments.offered, count: counts.count, behind: counts.behind };
}

function wordingSource(): WordingSource {
  const wordings = inject(WordingsApi);
  const pictures = inject(PicturesApi);
  const vocabulary = inject(VocabularyApi);
  const topics = (): Observable<readonly string[]> =>
    vocabulary.read().pipe(map((read) => read.topics.map(({ topic }) => topic)));
  const { askLinks, offered, begin, sendTest, houseBlocks } = wordings;
  return { askLinks, offered, begin, sendTest, houseBlocks, topics, pictures: pictures.page, addPicture: pictures.add };
}
