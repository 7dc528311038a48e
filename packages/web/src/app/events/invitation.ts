import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { InvitationPreview } from '@convite/contract';
import { isSame, sayAlarms, type EventFacts } from '@convite/core';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { PersonPicker } from '../ui/person-picker';
import { AsRead } from '../ui/wording/as-read';
import { SendTest, type Tried } from '../ui/wording/send-test';
import { CurrentEvent } from './current-event';
import { EntryOptions } from './entry-options';
import { InvitePanel } from './invite-panel';
import { LinkTester } from './link-tester';
import { RawCalendar } from './raw-calendar';
import { optionsOf, Toggle } from '../ui/toggle';

const views = ['entry', 'email', 'raw and checks', 'links'] as const;

/** The calendar entry as people see it, the email around it, the raw text with its checks, and the links. */
@Component({
  selector: 'cv-invitation',
  imports: [
    AsRead,
    EntryOptions,
    InvitePanel,
    LinkTester,
    MatButtonModule,
    PersonPicker,
    RawCalendar,
    SendTest,
    Toggle,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (current.detail(); as event) {
      <div class="row">
        <span
          >As
          <strong
            ><bdi>{{ preview()?.person?.name || '…' }}</bdi></strong
          >
          gets it</span
        >
        <cv-person-picker (chosen)="personId.set($event.id)" />
        @if (session.canMarket()) {
          <span class="push row">
            @if (event.status !== 'called-off') {
              <button matButton="filled" (click)="isInviting.set(!isInviting())" [attr.aria-expanded]="isInviting()">
                {{ event.status === 'draft' ? 'Publish and invite' : 'Invite people' }}
              </button>
            }
          </span>
        }
      </div>
      @if (isInviting()) {
        <cv-invite-panel [event]="event" (sent)="invited()" (changed)="current.resource.reload()" />
      }
      <cv-toggle label="View" [options]="views" [(value)]="view" />
      @if (preview(); as preview) {
        @switch (view()) {
          @case ('entry') {
            <div class="halves">
              <section class="entry" [class.free]="!event.facts.entry.isBusy" aria-label="Calendar entry">
                <h2 class="rtl-safe">{{ event.facts.title }}</h2>
                <p>
                  <strong>{{ preview.when }}</strong>
                  @if (preview.whenThere) {
                    <br /><span class="quiet">{{ preview.whenThere }}</span>
                  }
                </p>
                @if (place(event.facts)) {
                  <p class="pre">{{ place(event.facts) }}</p>
                }
                @if (event.facts.joinLink) {
                  <p class="wrap">
                    <a [href]="event.facts.joinLink" target="_blank" rel="noopener">{{ event.facts.joinLink }}</a>
                  </p>
                }
                <p class="pre rtl-safe">{{ preview.entryText }}</p>
                <p class="small quiet">
                  {{ manner(event.facts) }} · version {{ event.version }}, sequence {{ event.sequence }}
                </p>
              </section>
              @if (session.canMarket() && event.status !== 'called-off') {
                <cv-entry-options [event]="event" (saved)="current.resource.reload()" />
              }
            </div>
          }
          @case ('email') {
            <cv-as-read [message]="preview.message" [wording]="preview.wording" />
          }
          @case ('raw and checks') {
            <cv-raw-calendar
              [text]="preview.calendar"
              [octets]="preview.sizeOctets"
              [messageOctets]="preview.message.octets"
              [checks]="preview.conformance"
            />
          }
          @case ('links') {
            <cv-link-tester [eventId]="event.id" [preview]="preview" />
          }
        }
        @if (tried(preview); as it) {
          @if (view() === 'entry' || view() === 'email') {
            <cv-send-test class="sheet" [tried]="it" />
          }
        }
      } @else if (resource.error()) {
        <p class="note alarm" role="alert">The preview cannot be made just now.</p>
      } @else {
        <p class="quiet" role="status">Writing the preview …</p>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 16px;
    }
    .entry {
      background: var(--sheet);
      border: 1px solid var(--line);
      border-left: 5px solid var(--yes);
      border-radius: 4px;
      padding: 18px 20px;
    }
    .entry.free {
      border-left-style: dashed;
    }
    .entry h2 {
      margin-bottom: 8px;
      font-size: 22px;
    }
  `,
})
export class Invitation {
  protected readonly current = inject(CurrentEvent);
  protected readonly session = inject(Session);
  private readonly api = inject(EventsApi);
  protected readonly views = optionsOf(views);
  protected readonly view = signal<(typeof views)[number]>('entry');
  protected readonly personId = signal<number | null>(null);
  protected readonly isInviting = signal(false);
  /** Every reply reads the event anew: what is looked at, and typed into the tester, must outlive that. */
  private readonly shown = computed(
    () => {
      const event = this.current.detail();
      return event ? { id: event.id, version: event.version, personId: this.personId() } : undefined;
    },
    { equal: isSame },
  );
  protected readonly resource = rxResource({
    params: () => this.shown(),
    stream: ({ params }) => this.api.previewInvitation(params.id, params.personId),
  });
  protected readonly preview = computed(() => (this.resource.hasValue() ? (this.resource.value() ?? null) : null));

  protected place = ({ venue }: EventFacts): string => venue;
  protected manner({ entry }: EventFacts): string {
    return [
      entry.asksReply ? 'Asks for a reply' : 'Asks for no reply',
      sayAlarms(entry.alarmsMinutes),
      entry.isPrivate && 'private',
      !entry.isBusy && 'shows as free',
      entry.showsGuests && 'guests see each other',
    ]
      .filter(Boolean)
      .join(' · ');
  }
  protected invited(): void {
    this.isInviting.set(false);
    this.current.resource.reload();
  }
  protected tried({ person, wording }: InvitationPreview): Tried | null {
    if (!this.session.canMarket()) return null;
    return { kind: 'invitation', channel: 'email', wording, eventId: this.current.id(), personId: person.id || null };
  }
}
