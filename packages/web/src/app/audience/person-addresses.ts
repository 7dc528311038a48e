import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import type { PersonDetail } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { Session } from '../api/session';
import { Toast } from '../ui/toast';

/** The private addresses of one person: their preferences and their feed. */
@Component({
  selector: 'cv-person-addresses',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="stack" aria-label="Their own addresses">
      <h3>Their own addresses</h3>
      <p class="small">
        <a [href]="person().preferencesUrl" target="_blank" rel="noopener">What they get</a> ·
        <a [href]="person().feedUrl">their calendar feed</a>
      </p>
      <p class="small quiet">Whoever has one of them can answer for this person.</p>
      @if (session.canMarket()) {
        <button class="link small" type="button" (click)="reset()">Make them others: these are dead then</button>
      }
    </section>
  `,
  styles: `
    section {
      gap: 3px;
    }
  `,
})
export class PersonAddresses {
  private readonly api = inject(AudienceApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  readonly person = input.required<PersonDetail>();
  readonly changed = output();

  protected reset(): void {
    this.api.resetAddress(this.person().id).subscribe({
      next: () => {
        this.toast.say('They have other addresses now. The old ones are dead.');
        this.changed.emit();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
