import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { mailFault, textFault, type Faults } from '@convite/contract';
import { BackstageApi } from '../api/backstage';
import { Session } from '../api/session';
import { Toast } from '../ui/toast';
import { chosenOf } from '../ui/typed';

const mail: Readonly<Record<Faults['mail'], string>> = {
  none: 'as it should',
  slow: 'two seconds late',
  refuse: 'refuses everybody (550)',
  defer: 'says later (451)',
  bounce: 'takes it, then bounces',
  lose: 'takes it and loses it',
};
const text: Readonly<Record<Faults['text'], string>> = {
  none: 'as it should',
  slow: 'two seconds late',
  refuse: 'refuses every number',
  lose: 'takes it and loses it',
};

/** Switches on what the outside world does wrong. */
@Component({
  selector: 'cv-fault-panel',
  imports: [MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="row" aria-label="Faults">
      <h2>Faults</h2>
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><mat-label>The mail server works</mat-label
        ><select matNativeControl [disabled]="!session.canMarket()" (change)="setMail($event)">
          @for (option of mailOptions; track option[0]) {
            <option [value]="option[0]" [selected]="faults().mail === option[0]">{{ option[1] }}</option>
          }
        </select></mat-form-field
      >
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><mat-label>The text gateway works</mat-label
        ><select matNativeControl [disabled]="!session.canMarket()" (change)="setText($event)">
          @for (option of textOptions; track option[0]) {
            <option [value]="option[0]" [selected]="faults().text === option[0]">{{ option[1] }}</option>
          }
        </select></mat-form-field
      >
    </section>
  `,
})
export class FaultPanel {
  private readonly api = inject(BackstageApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly faults = signal<Faults>({ mail: 'none', text: 'none' });
  protected readonly mailOptions = Object.entries(mail);
  protected readonly textOptions = Object.entries(text);

  constructor() {
    this.api.faults().subscribe({ next: (faults) => this.faults.set(faults), error: () => undefined });
  }

  protected setMail(event: Event): void {
    this.set({ mail: chosenOf(mailFault.options, event) });
  }
  protected setText(event: Event): void {
    this.set({ text: chosenOf(textFault.options, event) });
  }
  private set(part: Partial<Faults>): void {
    this.api
      .setFaults({ ...this.faults(), ...part })
      .subscribe({ next: (faults) => this.faults.set(faults), error: (error: unknown) => this.toast.fail(error) });
  }
}
