import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { AudienceCount as Count } from '@convite/contract';

const sentences: Readonly<Record<Count['without'][number]['reason'], string>> = {
  'not-chosen': 'answered otherwise',
  'left-out': 'are on a list left out',
  answered: 'answered already, and are left out',
  'other-topics': 'asked for other topics',
  'opted-out': 'opted out',
  'no-email': 'have no email address',
  bounced: 'have an address that bounces',
  'no-mobile': 'have no mobile number',
  'no-text-consent': 'did not consent to texts',
  'already-invited': 'are invited already',
  'had-it': 'had it with the people of another zone',
};
export const sayReason = (reason: string): string =>
  Object.entries(sentences).find(([known]) => known === reason)?.[1] ?? reason;

/** How many get a message, and how many do not, because. */
@Component({
  selector: 'cv-audience-count',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="gets">
      <strong>{{ count().gets }}</strong> {{ count().gets === 1 ? 'person gets' : 'people get' }} this{{
        share() < 1 ? ' so far' : '.'
      }}
    </p>
    @if (share() < 1) {
      <progress [value]="share()" max="1" aria-label="Counting"></progress>
    }
    @if (count().without.length) {
      <ul class="small quiet">
        @for (entry of count().without; track entry.reason) {
          <li>{{ entry.count }} {{ say(entry.reason) }}</li>
        }
      </ul>
    }
  `,
  styles: `
    .gets {
      margin: 0;
    }
    strong {
      font-size: 18px;
      color: var(--yes);
    }
    progress {
      width: 100%;
      height: 4px;
      accent-color: var(--lead);
    }
    ul {
      margin: 2px 0 0;
      padding-left: 18px;
    }
  `,
})
export class AudienceCount {
  readonly count = input.required<Count>();
  /** Of what share of all people it was taken yet. */
  readonly share = input(1);
  protected readonly say = sayReason;
}
