import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { LocatedProblem, TestRequest } from '@convite/contract';
import { problemsOf, sayError } from '../../refused';
import { FieldProblem } from '../field-problem';
import { sayCount } from '../say';
import { typed } from '../typed';
import { WordingSource } from './wording-source';

/** What is tried, as whom: all but where it goes. */
export type Tried = Omit<TestRequest, 'to' | 'asFive'>;

/** Sends a message at once to whoever tries it; as one person, or as five who are easily forgotten. */
@Component({
  selector: 'cv-send-test',
  imports: [FieldProblem, MatButtonModule, MatCheckboxModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form (submit)="send($event)">
      <mat-form-field subscriptSizing="dynamic"
        ><mat-label>{{ isEmail() ? 'Try it: send it to' : 'Try it: send it to the number' }}</mat-label
        ><input
          matInput
          [attr.inputmode]="isEmail() ? 'email' : 'tel'"
          [placeholder]="isEmail() ? 'yourself; or addresses, by commas' : '912 345 678'"
          [value]="to()"
          (input)="to.set(typed($event))"
      /></mat-form-field>
      <button matButton="outlined" [disabled]="isBusy() || !canSend()">Send the test</button>
      <mat-checkbox [checked]="asFive()" (change)="asFive.set($event.checked)"
        >as five readers: no name, eleven hours away, right to left, no mobile, Portuguese</mat-checkbox
      >
    </form>
    <cv-field-problem [problems]="problems()" path="to" />
    @if (problem()) {
      <p class="alarm small" role="alert">{{ problem() }}</p>
    }
    <p class="small quiet" aria-live="polite">{{ said() }}</p>
  `,
  styles: `
    form {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px 12px;
    }
    mat-form-field {
      flex: 1 1 220px;
    }
    p {
      margin: 0;
      overflow-wrap: anywhere;
    }
  `,
})
export class SendTest {
  protected readonly typed = typed;
  private readonly source = inject(WordingSource);
  readonly tried = input.required<Tried>();
  protected readonly isEmail = computed(() => this.tried().channel === 'email');
  protected readonly to = signal('');
  protected readonly asFive = signal(false);
  protected readonly isBusy = signal(false);
  protected readonly said = signal('');
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  /** A member has an address, and no number. */
  protected readonly canSend = computed(() => this.isEmail() || this.to().trim() !== '');

  protected send(submit: Event): void {
    submit.preventDefault();
    submit.stopPropagation();
    const to = this.to()
      .split(/[,;]/)
      .map((one) => one.trim())
      .filter(Boolean);
    this.isBusy.set(true);
    this.said.set('');
    this.problem.set('');
    this.problems.set([]);
    this.source.sendTest({ ...this.tried(), asFive: this.asFive(), to }).subscribe({
      next: ({ sent, to, refused }) => {
        this.isBusy.set(false);
        const not = refused.map((one) => `${one.to}: ${one.said}`).join(' ');
        this.said.set(`Sent ${sayCount(sent, 'test', 'tests')} to ${to.join(', ')}. ${not}`);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
      },
    });
  }
}
