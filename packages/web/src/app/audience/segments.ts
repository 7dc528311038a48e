import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import { map } from 'rxjs';
import { AudienceApi } from '../api/audience';
import { reloadOn } from '../api/live';
import { reading } from '../api/reading';
import { SegmentsApi } from '../api/segments';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { Fold } from '../ui/fold';
import { ReadingProblem } from '../ui/reading-problem';
import { sayNumber } from '../ui/say';
import { SegmentOverlap } from './segment-overlap';
import type { SegmentAround } from './segment-around';
import { SegmentEditor } from './segment-editor';

/** Segments: who is in each, and what each asks. */
@Component({
  selector: 'cv-segments',
  imports: [Fold, MatButtonModule, ReadingProblem, RouterLink, SegmentEditor, SegmentOverlap],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Segments</h1>
        <span class="quiet">people by what is so of them, always as of now</span>
        <a class="push" matButton routerLink="/audience">Back to the audience</a>
        @if (session.canMarket()) {
          <a matButton="filled" routerLink="/audience/segments" [queryParams]="{ segment: 'new' }">New segment</a>
        }
      </div>
      <cv-fold heading="Two beside each other: who is in both">
        <cv-segment-overlap [segments]="segments.value()" [lists]="lists.value()" />
      </cv-fold>
      <div class="columns flip">
        <nav class="stack" aria-label="Segments">
          <cv-reading-problem [of]="segments" what="The segments" />
          @for (one of segments.value(); track one.id) {
            <a
              class="list-row"
              routerLink="/audience/segments"
              [queryParams]="{ segment: one.id }"
              [attr.aria-current]="segment() === '' + one.id ? 'true' : null"
            >
              <span class="rtl-safe">{{ one.name }}</span><span class="number">{{
                one.people === null ? '…' : sayNumber(one.people)
              }}</span>
            </a>
          } @empty {
            <p class="quiet small">
              None yet. A segment is a question about people: who is on a list, came to an event, asked for a topic.
            </p>
          }
        </nav>
        <section class="sheet" aria-label="The segment">
          @if (isNew() || chosen()) {
            <!-- Another segment is another form. -->
            @for (key of [segment()]; track key) {
              <cv-segment-editor
                [segment]="chosen()"
                [around]="around()"
                (saved)="open($event)"
                (removed)="open(null)"
              />
            }
          } @else if (segment() && segments.value().length === 0 && !segments.hasFailed()) {
            <p class="quiet" role="status">Reading …</p>
          } @else {
            <p class="empty">Choose a segment, or make one.</p>
          }
        </section>
      </div>
    </main>
  `,
  styles: `
    .flip {
      margin-top: 14px;
    }
  `,
})
export class Segments {
  protected readonly sayNumber = sayNumber;
  private readonly api = inject(SegmentsApi);
  private readonly audience = inject(AudienceApi);
  private readonly settings = inject(SettingsApi);
  private readonly router = inject(Router);
  protected readonly session = inject(Session);
  /** Which is looked at, from the address: its number, or `new`. */
  readonly segment = input<string>();
  protected readonly segments = reading(() => this.api.all(), []);
  protected readonly lists = reading(() => this.audience.lists(), []);
  private readonly fields = reading(() => this.audience.fields(), []);
  private readonly topics = reading(() => this.settings.get().pipe(map(({ topics }) => topics)), []);
  protected readonly isNew = computed(() => this.segment() === 'new');
  protected readonly chosen = computed(
    () => this.segments.value().find(({ id }) => String(id) === this.segment()) ?? null,
  );
  /** Titles of events that were chosen here, beside those that are stored. */
  private readonly noted = signal<ReadonlyMap<number, string>>(new Map());
  protected readonly around = computed((): SegmentAround => {
    const stored = this.segments.value().flatMap(({ events }) => events.map(({ id, title }) => [id, title] as const));
    return {
      lists: this.lists.value(),
      topics: this.topics.value(),
      fields: this.fields.value(),
      segments: this.segments.value().filter(({ id }) => String(id) !== this.segment()),
      events: new Map([...stored, ...this.noted()]),
      noteEvent: (id, title) => this.noted.update((noted) => new Map([...noted, [id, title]])),
    };
  });

  constructor() {
    reloadOn(
      () => ['subscribers'],
      () => this.segments.reload(),
    );
  }

  protected open(id: number | null): void {
    this.segments.reload();
    void this.router.navigate([], { queryParams: { segment: id } });
  }
}
