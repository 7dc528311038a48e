import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import type { Observable } from 'rxjs';
import { AudienceApi } from '../api/audience';
import { Toast } from '../ui/toast';

/** The private links of one person: a member can have them sent or replaced, and never sees them. */
@Component({
  selector: 'cv-person-addresses',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="stack" aria-label="Personal links">
      <h3>Personal links</h3>
      <p class="small quiet">This person’s preferences and calendar have links of their own. Nobody else sees them.</p>
      <p class="small">
        <button class="link" type="button" (click)="send()">Send link</button> ·
        <button class="link" type="button" (click)="replace()">Replace links</button>
      </p>
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
  readonly personId = input.required<number>();
  readonly changed = output();

  protected send(): void {
    this.act(this.api.sendOwnLink(this.personId()), 'The link to their preferences is on its way to them.');
  }
  protected replace(): void {
    this.act(this.api.resetAddress(this.personId()), 'They have new links now. The old ones no longer work.');
  }

  private act(work: Observable<unknown>, said: string): void {
    work.subscribe({
      next: () => {
        this.toast.say(said);
        this.changed.emit();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
