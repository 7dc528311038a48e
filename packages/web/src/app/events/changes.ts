import { noWording } from '@convite/contract';
import { isSame, type WordingDocument } from '@convite/core';
import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { OurWord } from '../ui/word';
import { rxResource } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { MatButtonModule } from '@angular/material/button';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { Confirm, type Sending } from '../ui/confirm';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { CurrentEvent } from './current-event';
import { Differences } from './differences';
import { NoticeWords } from './notice-words';

/** The versions, what differs, who holds which, and the notice that brings everybody up to date. */
@Component({
  selector: 'cv-changes',
  imports: [Differences, MatButtonModule, NoticeWords, OurWord, RouterLink, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (current.detail(); as event) {
      @if (changes(); as it) {
        <div class="columns wide">
          <section class="stack" aria-label="Versions">
            @for (version of versions(); track version.number) {
              <article class="sheet">
                <div class="row">
                  <h2>Version {{ version.number }}</h2>
                  <span class="quiet small">sequence {{ version.sequence }}</span
                  ><span class="push quiet small"
                    ><cv-when [at]="version.at" [zone]="event.facts.zone" /> · {{ version.by }}</span
                  >
                </div>
                @if (version.differences.length) {
                  <cv-differences [differences]="version.differences" />
                  <p class="small quiet">
                    {{
                      version.matters
                        ? 'Everybody who was invited must hear of this.'
                        : 'Calendars need no update for this.'
                    }}
                  </p>
                } @else {
                  <p class="quiet">The first version.</p>
                }
              </article>
            }
          </section>
          <aside class="stack">
            <section class="sheet">
              <h2>Who holds which</h2>
              <cv-word class="small quiet" word="holds version">what it is to hold a version</cv-word>
              @for (holder of it.holders; track holder.version) {
                <div class="holder" [class.alarm]="holder.version !== event.version">
                  <span>version {{ holder.version }}</span
                  ><span class="bar"><span [style.width.%]="(100 * holder.count) / total()"></span></span
                  ><strong class="number">{{ holder.count }}</strong>
                </div>
              } @empty {
                <p class="quiet">Nobody is invited yet.</p>
              }
            </section>
            @if (it.isNoticeUnderWay) {
              <p class="note" role="status">A notice is going out.</p>
            } @else if (toTell() + waiting() > 0 && session.canMarket()) {
              <section class="sheet stack">
                <h2>Send the notice</h2>
                @if (toTell()) {
                  <p>
                    <strong class="alarm">{{ toTell() }}</strong> hold an older version: {{ it.toTell.email }} hear by
                    email with the updated calendar entry, {{ it.toTell.text }} by text.
                  </p>
                }
                @if (waiting()) {
                  <p>
                    <strong class="alarm">{{ waiting() }}</strong>
                    {{ waiting() === 1 ? 'waits for a place and knows' : 'wait for a place and know' }} it as it was:
                    {{ it.waiting.email }} hear by email, {{ it.waiting.text }} by text, in
                    <a routerLink="/wording/waitChange">the house’s words for them</a>.
                  </p>
                }
                <cv-notice-words [eventId]="event.id" [(wording)]="wording" />
                <div><button matButton="filled" (click)="send()">Send the notice</button></div>
              </section>
            } @else if (it.holders.length) {
              <p class="note good">Everybody who can be reached holds version {{ event.version }}.</p>
            }
            @if (event.status !== 'called-off' && session.canMarket()) {
              @if (isCallingOff()) {
                <section class="sheet stack" aria-label="Call off">
                  <h2>Call the event off</h2>
                  <p>
                    Every unfired cue stops, and everybody who was invited gets a cancellation that strikes the entry
                    from their calendar.
                    @if (event.facts.registration?.waitlist) {
                      Whoever waits for a place is told, and waits no longer.
                    }
                  </p>
                  <cv-notice-words [eventId]="event.id" [isCallOff]="true" [(wording)]="callOffWording" />
                  <div class="row">
                    <button matButton="filled" class="danger" (click)="callOff()">Call it off</button
                    ><button matButton (click)="isCallingOff.set(false)">Not yet</button>
                  </div>
                </section>
              } @else {
                <div><button matButton="outlined" (click)="isCallingOff.set(true)">Call the event off …</button></div>
              }
            }
          </aside>
        </div>
      } @else if (resource.error()) {
        <p class="note alarm" role="alert">The changes cannot be read just now.</p>
      } @else {
        <p class="quiet" role="status">Reading the versions …</p>
      }
    }
  `,
  styles: `
    .holder {
      display: grid;
      grid-template-columns: 84px 1fr 52px;
      gap: 10px;
      align-items: center;
      min-height: 30px;
    }
    .bar {
      height: 10px;
      background: var(--line);
      border-radius: 5px;
      overflow: hidden;
    }
    .bar span {
      display: block;
      height: 100%;
      background: var(--yes);
    }
    .alarm .bar span {
      background: var(--alarm);
    }
    h2 {
      margin-bottom: 4px;
    }
  `,
})
export class Changes {
  protected readonly current = inject(CurrentEvent);
  protected readonly session = inject(Session);
  private readonly api = inject(EventsApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  protected readonly resource = rxResource({
    params: () => this.current.id() || undefined,
    stream: ({ params }) => this.api.changes(params),
  });
  private readonly house = rxResource({
    params: () => this.current.id() || undefined,
    stream: ({ params }) => this.api.houseWordings(params),
  });
  protected readonly changes = computed(() => (this.resource.hasValue() ? (this.resource.value() ?? null) : null));
  protected readonly versions = computed(() => [...(this.changes()?.versions ?? [])].reverse());
  protected readonly total = computed(() => (this.changes()?.holders ?? []).reduce((sum, { count }) => sum + count, 0));
  protected readonly toTell = computed(() => (this.changes()?.toTell.email ?? 0) + (this.changes()?.toTell.text ?? 0));
  protected readonly waiting = computed(
    () => (this.changes()?.waiting.email ?? 0) + (this.changes()?.waiting.text ?? 0),
  );
  private readonly suggested = computed<WordingDocument>(() => this.changes()?.suggestedWording ?? noWording, {
    equal: isSame,
  });
  protected readonly wording = linkedSignal(() => this.suggested());
  protected readonly callOffWording = linkedSignal<WordingDocument>(() =>
    this.house.hasValue() ? (this.house.value()?.callOff ?? noWording) : noWording,
  );
  protected readonly isCallingOff = signal(false);

  constructor() {
    reloadOn(
      () => this.current.topics(),
      () => this.resource.reload(),
    );
  }

  protected send(): void {
    const send = (sending: Sending) => this.api.sendNotice(this.current.id(), this.wording(), sending);
    this.confirm.sendAsking(send, 'Each gets the newest version of the event.').subscribe({
      next: () => this.toast.say('The notice is going out.'),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected callOff(): void {
    const send = (sending: Sending) => this.api.callOff(this.current.id(), this.callOffWording(), sending);
    this.confirm.sendAsking(send, 'Each gets the cancellation. This cannot be taken back.').subscribe({
      next: () => {
        this.isCallingOff.set(false);
        this.toast.say('The event is called off.');
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
