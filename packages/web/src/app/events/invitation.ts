import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { sayWhen } from '@convite/core';
import { EventsApi } from '../api/events';
import { MailBody } from '../ui/mail-body';
import { PersonPicker } from '../ui/person-picker';
import { CurrentEvent } from './current-event';

/** The calendar entry as people see it, the email around it, the raw iCalendar, and the links. */
@Component({
  selector: 'cv-invitation',
  imports: [MailBody, PersonPicker],
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
      </div>
      @if (preview(); as preview) {
        <div class="halves">
          <div class="stack loose">
            <section class="entry" aria-label="Calendar entry">
              <h2 class="rtl-safe">{{ event.facts.title }}</h2>
              <p>
                <strong>{{ say(preview.person.zone) }}</strong>
              </p>
              @if (event.facts.venue) {
                <p class="pre">{{ event.facts.venue }}</p>
              }
              @if (event.facts.joinLink) {
                <p class="wrap">
                  <a [href]="event.facts.joinLink" target="_blank" rel="noopener">{{ event.facts.joinLink }}</a>
                </p>
              }
              <p class="pre rtl-safe">{{ event.facts.description }}</p>
              <p class="small quiet">
                Asks for a reply · reminds 30 minutes before · version {{ event.version }}, sequence
                {{ event.sequence }}
              </p>
            </section>
            <section class="stack">
              <h2>Add-to-calendar links</h2>
              <table class="list">
                <tbody>
                  <tr>
                    <td>Calendar file</td>
                    <td class="wrap">
                      <a [href]="preview.icsUrl">{{ preview.icsUrl }}</a>
                    </td>
                  </tr>
                  @for (link of preview.links; track link.name) {
                    <tr>
                      <td>{{ link.name }}</td>
                      <td class="wrap small">
                        <a [href]="link.url" target="_blank" rel="noopener">{{ link.url }}</a>
                      </td>
                    </tr>
                  } @empty {
                    <tr>
                      <td colspan="2" class="quiet">
                        No web calendar is set up yet; an owner adds its pattern in Settings.
                      </td>
                    </tr>
                  }
                </tbody>
              </table>
            </section>
            <section class="stack">
              <h2>
                Raw iCalendar <span class="quiet small">{{ preview.sizeOctets }} octets</span>
              </h2>
              <pre class="mono sheet scroll" tabindex="0" aria-label="Raw iCalendar">{{ preview.calendar }}</pre>
            </section>
          </div>
          <section class="stack">
            <h2>The email around it</h2>
            <p>
              <span class="quiet">Subject</span>&ngsp;<strong class="rtl-safe">{{ preview.subject }}</strong>
            </p>
            <cv-mail-body [html]="preview.html" />
          </section>
        </div>
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
    .entry h2 {
      margin-bottom: 8px;
      font-size: 22px;
    }
    pre {
      margin: 0;
      max-height: 460px;
      overflow: auto;
    }
  `,
})
export class Invitation {
  protected readonly current = inject(CurrentEvent);
  private readonly api = inject(EventsApi);
  protected readonly personId = signal<number | null>(null);
  protected readonly resource = rxResource({
    params: () => {
      const event = this.current.detail();
      return event ? { id: event.id, version: event.version, personId: this.personId() } : undefined;
    },
    stream: ({ params }) => this.api.previewInvitation(params.id, params.personId),
  });
  protected readonly preview = computed(() => (this.resource.hasValue() ? (this.resource.value() ?? null) : null));

  protected say(personZone: string): string {
    const event = this.current.detail();
    return event ? sayWhen(event.facts, personZone) : '';
  }
}
