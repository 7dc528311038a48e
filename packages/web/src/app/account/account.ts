import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Session } from '../api/session';
import { AccountApi } from '../api/account';
import { reading } from '../api/reading';
import { ReadingProblem } from '../ui/reading-problem';
import { ChangePassword } from './change-password';
import { OwnSessions } from './own-sessions';
import { OwnTells } from './own-tells';
import { SecondFactor } from './second-factor';

/** One's own account: password, second factor, what one is told, and where one is signed in. */
@Component({
  selector: 'cv-account',
  imports: [ChangePassword, OwnSessions, OwnTells, ReadingProblem, SecondFactor],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Your account</h1>
        @if (account.value(); as it) {
          <span class="quiet">{{ it.name }}, {{ it.email }}, {{ it.role }}</span>
        }
      </div>
      @if (session.me()?.mustSetUpFactor) {
        <p class="note alarm" role="alert">
          This house asks everybody for a second factor. Set yours up here; all else opens then.
        </p>
      }
      <cv-reading-problem [of]="account" what="Your account" />
      @if (account.value(); as it) {
        <div class="columns wide">
          <div class="stack loose">
            <cv-second-factor [account]="it" (changed)="refresh()" />
            <cv-change-password (changed)="account.reload()" />
          </div>
          <div class="stack loose">
            <cv-own-tells [tells]="it.tells" (saved)="account.reload()" />
            <cv-own-sessions [sessions]="it.sessions" (changed)="account.reload()" />
          </div>
        </div>
      }
    </main>
  `,
})
export class AccountPage {
  private readonly api = inject(AccountApi);
  protected readonly session = inject(Session);
  protected readonly account = reading(() => this.api.get(), null);

  /** Whoever was held here until the second factor stands may go on. */
  protected refresh(): void {
    this.account.reload();
    this.session.load().subscribe({ error: () => undefined });
  }
}
