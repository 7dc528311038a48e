import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { ClockPanel } from './clock-panel';
import { FaultPanel } from './fault-panel';
import { Mailboxes } from './mailboxes';
import { Phones } from './phones';
import { Toggle, type ToggleOption } from '../ui/toggle';

/** The simulated outside world: mailboxes, phones, calendars, faults and the clock. Demonstration and test only. */
@Component({
  selector: 'cv-backstage',
  imports: [ClockPanel, FaultPanel, Mailboxes, Phones, Toggle],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Backstage</h1>
        <span class="quiet">the simulated outside world; nothing here reaches a real person</span>
      </div>
      <cv-clock-panel />
      <cv-fault-panel />
      <cv-toggle label="Look at" [options]="views" [(value)]="view" />
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
  `,
})
export class Backstage {
  protected readonly view = signal<'mail' | 'phones'>('mail');
  protected readonly views: readonly ToggleOption<'mail' | 'phones'>[] = [
    { key: 'mail', label: 'Mailboxes and calendars' },
    { key: 'phones', label: 'Phones' },
  ];
}
