import { ChangeDetectionStrategy, Component, computed, input, linkedSignal } from '@angular/core';
import type { SentMessage } from '@convite/contract';
import { MailBody } from './mail-body';
import { optionsOf, Toggle } from './toggle';

const views = ['rendered', 'plain', 'calendar'] as const;

/** The very message that somebody got: as it looks, as plain text, and the calendar that it carried. */
@Component({
  selector: 'cv-sent-message',
  imports: [MailBody, Toggle],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <article class="sheet stack" aria-label="The message as it went out">
      <div class="row">
        <strong class="rtl-safe grow">{{ message().subject || 'Text to ' + message().to }}</strong>
        @if (message().channel === 'email') {
          <cv-toggle label="View" [options]="offered()" [(value)]="view" />
        }
      </div>
      @if (message().channel === 'email' && view() === 'rendered') {
        <cv-mail-body [html]="message().html" />
      } @else {
        <pre class="pre" tabindex="0" [class.mono]="view() === 'calendar'">{{
          view() === 'calendar' ? message().calendar : message().text
        }}</pre>
      }
    </article>
  `,
  styles: `
    pre {
      margin: 0;
      max-height: 420px;
      overflow: auto;
    }
  `,
})
export class SentMessageView {
  readonly message = input.required<SentMessage>();
  protected readonly offered = computed(() =>
    optionsOf(views.filter((one) => one !== 'calendar' || this.message().calendar)),
  );
  protected readonly view = linkedSignal<SentMessage, (typeof views)[number]>({
    source: this.message,
    computation: () => 'rendered',
  });
}
