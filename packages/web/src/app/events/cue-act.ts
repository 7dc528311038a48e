import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { ActChoices } from '@convite/contract';
import type { CueAct } from '@convite/core';
import { EventsApi } from '../api/events';
import { reading } from '../api/reading';
import { ReadingProblem } from '../ui/reading-problem';
import { typed } from '../ui/typed';

const kinds: readonly { readonly kind: CueAct['kind']; readonly says: string }[] = [
  { kind: 'join', says: 'put them on a list' },
  { kind: 'leave', says: 'take them off a list' },
  { kind: 'field', says: 'set a field of theirs' },
  { kind: 'task', says: 'give a member a task' },
  { kind: 'call', says: 'call another system' },
];
const none: ActChoices = { lists: [], fields: [], members: [], webhooks: [] };

/** What a cue does instead of writing to people. */
@Component({
  selector: 'cv-cue-act',
  imports: [MatFormFieldModule, MatInputModule, ReadingProblem],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-reading-problem [of]="choices" what="What there is to choose from" />
    <div class="row" role="group" aria-label="What it does">
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><select matNativeControl aria-label="What it does" (change)="begin(typed($event))">
          @for (one of kinds; track one.kind) {
            <option [value]="one.kind" [selected]="one.kind === act().kind">{{ one.says }}</option>
          }
        </select></mat-form-field
      >
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><select matNativeControl [attr.aria-label]="ofWhat()" (change)="choose(typed($event))">
          <option value="0" [selected]="chosen() === 0">{{ ofWhat() }} …</option>
          @for (one of offered(); track one.id) {
            <option [value]="one.id" [selected]="one.id === chosen()">{{ one.name }}</option>
          }
        </select></mat-form-field
      >
      @if (act().kind === 'field') {
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><input
            matInput
            aria-label="To"
            placeholder="to; nothing empties it"
            [value]="words()"
            (input)="say(typed($event))"
        /></mat-form-field>
      }
    </div>
    @if (act().kind === 'task') {
      <mat-form-field subscriptSizing="dynamic"
        ><mat-label>What is to be done</mat-label
        ><input matInput maxlength="500" [value]="words()" (input)="say(typed($event))"
      /></mat-form-field>
      <p class="small quiet">
        They are told by mail when its moment comes, and it stands under “Needs you” until it is done.
      </p>
    }
    @if (act().kind === 'call' && !offered().length) {
      <p class="small quiet">An owner sets up other systems under Settings.</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
    }
    p {
      margin: 0;
    }
  `,
})
export class CueActChoice {
  private readonly api = inject(EventsApi);
  protected readonly typed = typed;
  protected readonly kinds = kinds;
  readonly act = input.required<CueAct>();
  readonly actChange = output<CueAct>();
  protected readonly choices = reading(() => this.api.actChoices(), none);
  protected readonly offered = computed(() => {
    const { lists, fields, members, webhooks } = this.choices.value();
    return { join: lists, leave: lists, field: fields, task: members, call: webhooks }[this.act().kind];
  });
  protected readonly ofWhat = computed(
    () => ({ join: 'List', leave: 'List', field: 'Field', task: 'Member', call: 'System' })[this.act().kind],
  );
  protected readonly chosen = computed(() => numberIn(this.act()));
  protected readonly words = computed(() => {
    const act = this.act();
    return act.kind === 'task' ? act.text : act.kind === 'field' ? act.value : '';
  });

  protected begin(text: string): void {
    const kind = kinds.find((one) => one.kind === text)?.kind ?? 'join';
    const before = this.act();
    // From one list to another way with the same.
    const kept = (kind === 'join' || kind === 'leave') && (before.kind === 'join' || before.kind === 'leave');
    this.actChange.emit(withChoice(blankOf(kind), kept ? numberIn(before) : 0));
  }
  protected choose(id: string): void {
    this.actChange.emit(withChoice(this.act(), Number(id)));
  }
  protected say(words: string): void {
    const act = this.act();
    if (act.kind === 'task') this.actChange.emit({ ...act, text: words });
    if (act.kind === 'field') this.actChange.emit({ ...act, value: words });
  }
}

const blankOf = (kind: CueAct['kind']): CueAct => {
  switch (kind) {
    case 'join':
    case 'leave':
      return { kind, list: 0 };
    case 'field':
      return { kind, field: 0, value: '' };
    case 'task':
      return { kind, member: 0, text: '' };
    case 'call':
      return { kind, webhook: 0 };
  }
};

function numberIn(act: CueAct): number {
  switch (act.kind) {
    case 'join':
    case 'leave':
      return act.list;
    case 'field':
      return act.field;
    case 'task':
      return act.member;
    case 'call':
      return act.webhook;
  }
}

function withChoice(act: CueAct, id: number): CueAct {
  switch (act.kind) {
    case 'join':
    case 'leave':
      return { ...act, list: id };
    case 'field':
      return { ...act, field: id };
    case 'task':
      return { ...act, member: id };
    case 'call':
      return { ...act, webhook: id };
  }
}
