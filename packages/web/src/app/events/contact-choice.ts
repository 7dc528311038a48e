import { ChangeDetectionStrategy, Component, input, linkedSignal, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { ChangeContact } from '@convite/contract';
import { typed } from '../ui/typed';

/** Who is told of what stands by of this event, where it is another than the house's contact. */
@Component({
  selector: 'cv-contact-choice',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row small">
      <span class="quiet">Told of what stands by: {{ said() }}</span>
      @if (isOpen()) {
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>Email</mat-label
          ><input matInput type="email" [value]="edit().email" (input)="change({ email: typed($event) })"
        /></mat-form-field>
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>Mobile number</mat-label
          ><input matInput type="tel" [value]="edit().mobile" (input)="change({ mobile: typed($event) })"
        /></mat-form-field>
        <button matButton="outlined" (click)="keep()">Keep</button>
        <button matButton (click)="isOpen.set(false)">Close</button>
      } @else {
        <button class="link" (click)="isOpen.set(true)">Somebody else</button>
      }
    </div>
  `,
})
export class ContactChoice {
  readonly contact = input.required<ChangeContact>();
  readonly contactChange = output<ChangeContact>();
  protected readonly typed = typed;
  protected readonly isOpen = signal(false);
  protected readonly edit = linkedSignal<ChangeContact>(() => this.contact());
  protected said(): string {
    const { email, mobile } = this.contact();
    return [email, mobile].filter(Boolean).join(', ') || 'the house’s contact';
  }
  protected change(part: Partial<ChangeContact>): void {
    this.edit.update((it) => ({ ...it, ...part }));
  }
  /** Both left empty, the house's contact is told again. */
  protected keep(): void {
    this.contactChange.emit(this.edit());
    this.isOpen.set(false);
  }
}
