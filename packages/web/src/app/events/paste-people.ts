import { ChangeDetectionStrategy, Component, computed, input, model, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { sayProblem } from '@convite/contract';
import { readAddresses } from '@convite/core';
import { typed } from '../ui/typed';

const mostShown = 5;
/** What is longer is read when it is taken, not at every key. */
const mostReadTyping = 100_000;

/** Addresses pasted to be invited, of which a list is made by itself. */
@Component({
  selector: 'cv-paste-people',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-form-field subscriptSizing="dynamic">
      <mat-label>{{ label() }}</mat-label>
      <textarea
        matInput
        dir="auto"
        [rows]="pasted() ? 5 : 2"
        placeholder="Ana Lopes &lt;ana@people.example&gt;, one a line or separated by commas, or cells of a spreadsheet"
        [value]="pasted()"
        (input)="pasted.set(typed($event))"
      ></textarea>
    </mat-form-field>
    @if (pasted().trim()) {
      <div aria-live="polite">
        @if (pasted().length > most) {
          <p class="quiet small">Too long to be looked through as you type; it is read when it is taken.</p>
        } @else {
          <p class="small">
            <strong class="yes">{{ read().addresses.length }}</strong>
            {{ read().addresses.length === 1 ? 'address' : 'addresses' }}; a list is made of them and named after the
            event.
          </p>
          @if (read().problems.length) {
            <ul class="small">
              @for (problem of read().problems.slice(0, mostShown); track $index) {
                <li>
                  <strong>{{ problem.path }}</strong>: {{ say(problem) }}
                </li>
              }
              @if (read().problems.length > mostShown) {
                <li>and {{ read().problems.length - mostShown }} more.</li>
              }
            </ul>
          }
        }
        <mat-form-field subscriptSizing="dynamic">
          <mat-label>How they agreed to hear from you</mat-label>
          <input
            matInput
            maxlength="200"
            placeholder="asked to be invited, signed the list at the door …"
            [value]="how()"
            (input)="how.set(typed($event))"
          />
        </mat-form-field>
        @if (takesAtOnce()) {
          <button matButton="outlined" [disabled]="isBusy() || !how().trim()" (click)="taken.emit()">
            Take these people
          </button>
        }
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 10px;
    }
    p {
      margin: 0 0 6px;
    }
    ul {
      margin: 0 0 8px;
      padding-left: 18px;
    }
  `,
})
export class PastePeople {
  readonly label = input('Or paste addresses');
  readonly pasted = model.required<string>();
  /** In words, kept with each of those who are pasted: nobody is written to who did not agree. */
  readonly how = model.required<string>();
  /** There is an event already that they can be taken for. */
  readonly takesAtOnce = input(false);
  readonly isBusy = input(false);
  readonly taken = output();

  protected readonly typed = typed;
  protected readonly say = sayProblem;
  protected readonly mostShown = mostShown;
  protected readonly most = mostReadTyping;
  /** The very reading that the server will do. */
  protected readonly read = computed(() => readAddresses(this.pasted().length > mostReadTyping ? '' : this.pasted()));
}
