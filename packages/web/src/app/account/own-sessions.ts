import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { SessionRow } from '@convite/contract';
import { AccountApi } from '../api/account';
import { Session } from '../api/session';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { sayAgent } from './say-agent';

/** Where one is signed in; each can be ended from here. */
@Component({
  selector: 'cv-own-sessions',
  imports: [MatButtonModule, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Where you are signed in">
      <h2>Where you are signed in</h2>
      @for (one of sessions(); track one.id) {
        <div class="row">
          <span class="grow">
            <strong>{{ agentOf(one) }}</strong>
            @if (one.isThis) {
              <span class="quiet"> · this one</span>
            }
            <br /><span class="small quiet"
              >{{ one.address || 'address unknown' }} · since <cv-when [at]="one.startedAt" [zone]="zone" /> · last seen
              <cv-when [at]="one.seenAt" [zone]="zone"
            /></span>
          </span>
          @if (!one.isThis) {
            <button matButton="outlined" (click)="end(one)">End it</button>
          }
        </div>
      }
      <p class="small quiet">A session ends after 12 hours without use, and after 7 days in any case.</p>
    </section>
  `,
})
export class OwnSessions {
  private readonly api = inject(AccountApi);
  private readonly toast = inject(Toast);
  readonly sessions = input.required<readonly SessionRow[]>();
  readonly changed = output();
  protected readonly zone = inject(Session).zone();

  protected agentOf = ({ agent }: SessionRow): string => sayAgent(agent);

  protected end({ id }: SessionRow): void {
    this.api.endSession(id).subscribe({
      next: () => {
        this.toast.say('It is ended.');
        this.changed.emit();
      },
      error: (error: unknown) => {
        this.toast.fail(error);
        this.changed.emit();
      },
    });
  }
}
