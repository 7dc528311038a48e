import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { OurWord } from '../ui/word';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import type { DigestRow } from '@convite/contract';
import { sayWeekday, sayZone } from '@convite/core';
import { BoardApi } from '../api/board';
import { DigestsApi } from '../api/digests';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { Toast } from '../ui/toast';
import { AsRead } from '../ui/wording/as-read';
import { DigestForm } from './digest-form';
import { DigestIssues } from './digest-issues';
import { Toggle } from '../ui/toggle';

/** Digests, each with its rhythm and its next issues as they would go out today. */
@Component({
  selector: 'cv-digests',
  imports: [AsRead, DigestForm, DigestIssues, MatButtonModule, OurWord, Toggle],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Digests</h1>
        <span class="quiet">what is coming up, to who asked for it</span>
        <cv-word class="small quiet" word="issue">what an issue is</cv-word>
        @if (session.canMarket()) {
          <button matButton="filled" class="push" (click)="edit(null)">New digest</button>
        }
      </div>
      @if (isEditing()) {
        <cv-digest-form [digest]="editing()" (closed)="close()" (refused)="resource.reload()" />
      }
      @if (resource.hasValue()) {
        @for (digest of resource.value(); track digest.id) {
          <section class="sheet stack">
            <div class="row">
              <h2>{{ digest.name }}</h2>
              <span
                >{{ weekday(digest) }}s at {{ digest.at }} {{ city(digest) }}, the next {{ digest.windowDays }} days, to
                <strong>{{ digest.whomSaid }}</strong></span
              >
              @if (!digest.isOn) {
                <span class="alarm">off</span>
              }
              @if (session.canMarket()) {
                <button matButton class="push" (click)="edit(digest)">Change</button>
              }
            </div>
            <div class="halves">
              <cv-digest-issues [digest]="digest" (held)="stop($event)" (setAgain)="setAgain($event)" />
              <div class="stack">
                @if (previews(digest.id).length) {
                  <cv-toggle label="Issue to preview" [options]="issueOptions()" [(value)]="shown" />
                  @if (previews(digest.id)[shown()]; as issue) {
                    @if (issue.message; as message) {
                      <cv-as-read [message]="message" [wording]="digest.wording" />
                    } @else {
                      <div class="empty">There is nothing in its window, so nothing is sent to anybody.</div>
                    }
                  }
                } @else {
                  <button matButton="outlined" (click)="preview(digest.id)">Preview the next issues</button>
                }
              </div>
            </div>
          </section>
        } @empty {
          <div class="empty">No digest yet. A digest mails subscribers what is coming up, on a rhythm you choose.</div>
        }
      } @else if (resource.error()) {
        <p class="note alarm" role="alert">The digests cannot be read just now.</p>
      } @else {
        <p class="quiet" role="status">Reading the digests …</p>
      }
    </main>
  `,
  styles: `
    main {
      display: grid;
      gap: 18px;
    }
    .head {
      margin: 0;
    }
  `,
})
export class Digests {
  private readonly api = inject(DigestsApi);
  private readonly board = inject(BoardApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly resource = rxResource({ stream: () => this.api.list() });
  private readonly router = inject(Router);
  /** Which digest is open to be changed, from the address: its number, or `new`. */
  readonly digest = input<string>();
  protected readonly editing = computed(() =>
    this.resource.hasValue() ? (this.resource.value().find(({ id }) => String(id) === this.digest()) ?? null) : null,
  );
  protected readonly isEditing = computed(() => this.digest() === 'new' || this.editing() !== null);
  protected readonly shown = signal(0);
  private readonly previewed = signal<number | null>(null);
  private readonly issues = rxResource({
    params: () => this.previewed() ?? undefined,
    stream: ({ params }) => this.api.preview(params),
  });
  private readonly issueList = computed(() => (this.issues.hasValue() ? (this.issues.value() ?? []) : []));

  constructor() {
    reloadOn(
      () => ['digests', 'board', 'events'],
      () => {
        this.resource.reload();
        this.issues.reload();
      },
    );
  }

  protected readonly issueOptions = computed(() =>
    this.issueList().map((_issue, key) => ({ key, label: `issue ${key + 1}` })),
  );

  protected weekday = (digest: DigestRow): string => sayWeekday(digest.weekday);
  protected city = (digest: DigestRow): string => sayZone(digest.zone);
  protected previews = (id: number) => (this.previewed() === id ? this.issueList() : []);
  protected preview(id: number): void {
    this.shown.set(0);
    this.previewed.set(id);
  }
  protected edit(digest: DigestRow | null): void {
    this.address(digest === null ? 'new' : String(digest.id));
  }
  private address(digest: string | null): void {
    void this.router.navigate([], { queryParams: { digest }, replaceUrl: true });
  }
  protected close(): void {
    this.address(null);
    this.resource.reload();
  }
  protected stop(firingId: number): void {
    this.board
      .stop(firingId)
      .subscribe({ next: () => this.resource.reload(), error: (error: unknown) => this.toast.fail(error) });
  }
  protected setAgain(firingId: number): void {
    this.board
      .setAgain(firingId)
      .subscribe({ next: () => this.resource.reload(), error: (error: unknown) => this.toast.fail(error) });
  }
}
