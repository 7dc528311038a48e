import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { ClockPanel } from './clock-panel';
import { FaultPanel } from './fault-panel';
import { Mailboxes } from './mailboxes';
import { Phones } from './phones';

/** The simulated outside world: mailboxes, phones, calendars, faults and the clock. Demonstration and test only. */
@Component({
  selector: 'cv-backstage',
  imports: [ClockPanel, FaultPanel, Mailboxes, Phones],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Backstage</h1>
        <span class="quiet">the simulated outside world; nothing here reaches a real person</span>
      </div>
      <cv-clock-panel />
      <cv-fault-panel />
      <div class="choice" role="group" aria-label="Look at">
        <button [attr.aria-pressed]="view() === 'mail'" (click)="view.set('mail')">Mailboxes and calendars</button>
        <button [attr.aria-pressed]="view() === 'phones'" (click)="view.set('phones')">Phones</button>
      </div>
      @if (view() === 'mail') {
        <cv-mailboxes />
      } @else {
        <cv-phones />
      }
    </main>
  `,
  styles: `
    main {
      display: grid;
      gap: 16px;
    }
    .head {
      margin: 0;
    }
    .choice {
      justify-self: start;
    }
  `,
})
export class Backstage {
  protected readonly view = signal<'mail' | 'phones'>('mail');
}
