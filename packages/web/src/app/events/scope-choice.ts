import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import type { OccurrenceRow } from '@convite/contract';
import { sayWhen, type Scope } from '@convite/core';
import { typed } from '../ui/typed';
import { Toggle, type ToggleOption } from '../ui/toggle';

/** Which dates of a series an edit is about, and what that means for people who were invited. */
@Component({
  selector: 'cv-scope-choice',
  imports: [MatFormFieldModule, MatInputModule, Toggle],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet" aria-label="Which dates">
      <div class="row">
        <span>You are editing</span>
        <cv-toggle
          label="Which dates this edit is about"
          [options]="kinds"
          [value]="scope().kind"
          (valueChange)="choose($event)"
        />
        @if (scope().kind !== 'all') {
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><select matNativeControl aria-label="Which date" (change)="pick(typed($event))">
              @for (date of dates(); track date.key) {
                <option [value]="date.key" [selected]="date.key === key()">{{ say(date) }}</option>
              }
            </select></mat-form-field
          >
        }
      </div>
      <p class="small quiet">{{ meaning() }}</p>
    </section>
  `,
  styles: `
    section {
      padding: 10px 16px;
    }
    p {
      margin: 6px 0 0;
    }
    select {
      max-width: 330px;
    }
  `,
})
export class ScopeChoice {
  protected readonly typed = typed;
  readonly scope = input.required<Scope>();
  readonly dates = input.required<readonly OccurrenceRow[]>();
  readonly invited = input(0);
  readonly nowMs = input.required<number>();
  readonly scopeChange = output<Scope>();

  protected readonly kinds: readonly ToggleOption<Scope['kind']>[] = [
    { key: 'all', label: 'all dates' },
    { key: 'one', label: 'one date' },
    { key: 'following', label: 'one and those that follow' },
  ];

  protected key(): string {
    const scope = this.scope();
    return scope.kind === 'all' ? '' : scope.key;
  }
  protected choose(kind: Scope['kind']): void {
    if (kind === 'all') return this.scopeChange.emit({ kind });
    const key =
      this.key() ||
      (this.dates().find(({ startAt }) => Date.parse(startAt) > this.nowMs())?.key ?? this.dates()[0]?.key);
    if (key) this.scopeChange.emit({ kind, key });
  }
  protected pick(key: string): void {
    const { kind } = this.scope();
    if (kind !== 'all') this.scopeChange.emit({ kind, key });
  }
  protected say = ({ facts, calledOff, isChanged }: OccurrenceRow): string =>
    `${sayWhen(facts, '')}${calledOff ? ', called off' : isChanged ? ', changed' : ''}`;
  protected meaning(): string {
    const count = this.invited();
    const people =
      count === 0 ? 'Nobody is invited yet.' : count === 1 ? 'One person is invited.' : `${count} people are invited.`;
    switch (this.scope().kind) {
      case 'all':
        return `${people} Every date changes, also in calendars that took the series over, once the notice is sent. Dates that were changed by themselves keep what differs.`;
      case 'one':
        return `${people} This date alone changes; the notice updates it inside the series that people hold. Its cues move with it.`;
      case 'following':
        return `${people} The series ends before this date, and a series of its own goes on from here, with the same cues and guests: their calendars shorten the old one and get the new one. When time or place changes they are asked again; otherwise their answers stay.`;
    }
  }
}
