import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { replyStates, sayZone, zoneNames, type FieldTest, type ReplyState, type SegmentCondition } from '@convite/core';
import { forkJoin, map, type Observable } from 'rxjs';
import { EventsApi } from '../api/events';
import { Chooser, type Choice } from '../ui/chooser';
import { ListsField } from '../ui/lists-field';
import { PersonPicker } from '../ui/person-picker';
import { sayInstant } from '../ui/say';
import { chosenOf, typed } from '../ui/typed';
import { WordsField } from '../ui/words-field';
import { blankCondition, conditionKinds, kindWords } from './condition-kinds';
import type { SegmentAround } from './segment-around';

const replyWords: Readonly<Record<ReplyState, string>> = {
  accepted: 'yes',
  tentative: 'perhaps',
  declined: 'no',
  'needs-action': 'nothing yet',
};
const messages = ['cue', 'digest', 'invitation', 'notice', 'answer', 'manual'] as const;
const testsOf = {
  text: ['any-of', 'begins-with', 'filled'],
  choice: ['any-of', 'filled'],
  number: ['number', 'filled'],
  date: ['date', 'day-of-year', 'filled'],
  'date-time': ['date', 'day-of-year', 'filled'],
  'yes-no': ['number', 'filled'],
} as const;
const testWords: Readonly<Record<FieldTest['is'], string>> = {
  'any-of': 'is one of',
  'begins-with': 'begins with',
  number: 'is from … to',
  date: 'is from … to',
  'day-of-year': 'falls, in any year, on',
  filled: 'is filled in',
};

/** One condition of a segment: what is asked, and of what. */
@Component({
  selector: 'cv-condition-row',
  imports: [Chooser, ListsField, MatCheckboxModule, MatFormFieldModule, MatInputModule, PersonPicker, WordsField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-form-field class="kind" subscriptSizing="dynamic"
      ><select matNativeControl aria-label="What is asked" (change)="turnInto($event)">
        @for (kind of kinds; track kind) {
          <option [value]="kind" [selected]="condition().kind === kind">{{ kindWords[kind] }}</option>
        }
      </select></mat-form-field
    >
    <div class="what">
      @switch (condition().kind) {
        @case ('list') {
          <cv-lists-field
            label="Any of the lists"
            [lists]="around().lists"
            [chosen]="its('list')?.lists ?? []"
            (chosenChange)="set({ kind: 'list', lists: $event })"
          />
        }
        @case ('segment') {
          <cv-lists-field
            label="Any of the segments"
            [lists]="others()"
            [chosen]="its('segment')?.segments ?? []"
            (chosenChange)="set({ kind: 'segment', segments: $event })"
          />
        }
        @case ('topic') {
          <cv-words-field
            label="Any of the topics"
            hint="type a topic"
            [options]="around().topics"
            [allowsOthers]="true"
            [chosen]="its('topic')?.topics ?? []"
            (chosenChange)="set({ kind: 'topic', topics: $event })"
          />
        }
        @case ('zone') {
          <cv-words-field
            label="Any of the time zones"
            hint="type a city"
            [options]="zones"
            [say]="sayZone"
            [chosen]="its('zone')?.zones ?? []"
            (chosenChange)="set({ kind: 'zone', zones: $event })"
          />
        }
        @case ('consent') {
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><select matNativeControl aria-label="By which way" (change)="byWay($event)">
              <option value="email" [selected]="its('consent')?.channel === 'email'">by email</option>
              <option value="text" [selected]="its('consent')?.channel === 'text'">by text</option>
            </select></mat-form-field
          >
        }
        @case ('person') {
          <div class="stack tight">
            <cv-person-picker (chosen)="addPerson($event.id)" />
            <span class="small"
              >{{ its('person')?.ids?.length ?? 0 }} picked
              @if (its('person')?.ids?.length) {
                <button class="link" type="button" (click)="set({ kind: 'person', ids: [] })">without them</button>
              }
            </span>
          </div>
        }
        @case ('field') {
          <div class="row">
            <mat-form-field class="inline" subscriptSizing="dynamic"
              ><select matNativeControl aria-label="Which field" (change)="ofField(+typed($event))">
                <option value="0" [selected]="!its('field')?.field">choose a field</option>
                @for (field of around().fields; track field.id) {
                  <option [value]="field.id" [selected]="its('field')?.field === field.id">{{ field.name }}</option>
                }
              </select></mat-form-field
            >
            <mat-form-field class="inline" subscriptSizing="dynamic"
              ><select matNativeControl aria-label="How it is compared" (change)="compare($event)">
                @for (one of tests(); track one) {
                  <option [value]="one" [selected]="test().is === one">{{ testWords[one] }}</option>
                }
              </select></mat-form-field
            >
          </div>
          @switch (test().is) {
            @case ('any-of') {
              <cv-words-field
                label="Any of these"
                hint="type a value, then Enter"
                [allowsOthers]="true"
                [chosen]="values()"
                (chosenChange)="setTest({ is: 'any-of', values: $event })"
              />
            }
            @case ('day-of-year') {
              <cv-words-field
                label="Any of these days"
                hint="11-27, then Enter"
                [allowsOthers]="true"
                [chosen]="values()"
                (chosenChange)="setDays($event)"
              />
            }
            @case ('begins-with') {
              <mat-form-field class="inline" subscriptSizing="dynamic"
                ><input
                  matInput
                  aria-label="Beginning"
                  maxlength="200"
                  [value]="beginning()"
                  (change)="setTest({ is: 'begins-with', text: typed($event) })"
              /></mat-form-field>
            }
            @case ('filled') {}
            @default {
              <div class="row">
                @for (end of ends; track end) {
                  <mat-form-field class="inline" subscriptSizing="dynamic"
                    ><mat-label>{{ end }}</mat-label
                    ><input
                      matInput
                      [type]="test().is === 'date' ? 'date' : 'number'"
                      [value]="bound(end)"
                      (change)="setBound(end, typed($event))"
                  /></mat-form-field>
                }
              </div>
            }
          }
        }
        @case ('got') {
          <div class="row">
            <mat-form-field class="inline" subscriptSizing="dynamic"
              ><select matNativeControl aria-label="Which kind of message" (change)="ofMessage($event)">
                @for (message of messages; track message) {
                  <option [value]="message" [selected]="its('got')?.message === message">{{ message }}</option>
                }
              </select></mat-form-field
            >
            <cv-chooser
              label="About which event"
              placeholder="about any event"
              [find]="findEvents"
              [chosenName]="eventName()"
              (chosen)="ofEvent($event.value, $event.name)"
            />
          </div>
        }
        @default {
          <cv-chooser
            label="Which event"
            placeholder="find an event"
            [find]="findEvents"
            [chosenName]="eventName()"
            (chosen)="ofEvent($event.value, $event.name)"
          />
        }
      }
      @if (its('answered'); as it) {
        <div class="row">
          @for (reply of replies; track reply) {
            <mat-checkbox [checked]="it.replies.includes(reply)" (change)="flip(reply)">{{
              replyWords[reply]
            }}</mat-checkbox>
          }
        </div>
      }
      @if (its('answered') || its('got')) {
        <label class="row small"
          >in the last
          <mat-form-field class="count" subscriptSizing="dynamic"
            ><input
              matInput
              type="number"
              min="1"
              max="3660"
              aria-label="Days"
              [value]="days()"
              (change)="within(typed($event))"
          /></mat-form-field>
          days{{ its('answered') ? '; empty for ever' : '' }}</label
        >
      }
    </div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 230px minmax(0, 1fr);
      gap: 8px 12px;
      align-items: start;
    }
    .what {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 8px;
    }
    @media (max-width: 700px) {
      :host {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class ConditionRow {
  protected readonly typed = typed;
  protected readonly sayZone = sayZone;
  protected readonly kinds = conditionKinds;
  protected readonly kindWords = kindWords;
  protected readonly testWords = testWords;
  protected readonly replies = replyStates;
  protected readonly replyWords = replyWords;
  protected readonly messages = messages;
  protected readonly zones = zoneNames();
  protected readonly ends = ['from', 'to'] as const;
  private readonly events = inject(EventsApi);
  readonly condition = input.required<SegmentCondition>();
  readonly around = input.required<SegmentAround>();
  readonly changed = output<SegmentCondition>();

  /** The condition, where it is of this kind. */
  protected its<K extends SegmentCondition['kind']>(kind: K): Extract<SegmentCondition, { kind: K }> | null {
    const condition = this.condition();
    return isOf(condition, kind) ? condition : null;
  }
  protected readonly others = computed(() =>
    this.around().segments.map(({ id, name, people }) => ({ id, name, count: people ?? 0, isArchived: false })),
  );
  protected readonly test = computed((): FieldTest => this.its('field')?.test ?? { is: 'filled' });
  protected readonly tests = computed((): readonly FieldTest['is'][] => {
    const field = this.around().fields.find(({ id }) => id === this.its('field')?.field);
    return field ? testsOf[field.type] : ['filled'];
  });
  protected readonly eventName = computed(() => {
    const condition = this.condition();
    return 'event' in condition && condition.event ? (this.around().events.get(condition.event) ?? '') : '';
  });
  protected readonly days = computed(() => {
    const condition = this.condition();
    return 'withinDays' in condition ? String(condition.withinDays ?? '') : '';
  });
  protected readonly values = computed(() => {
    const test = this.test();
    return test.is === 'any-of' ? test.values : test.is === 'day-of-year' ? test.days : [];
  });
  protected readonly beginning = computed(() => {
    const test = this.test();
    return test.is === 'begins-with' ? test.text : '';
  });
  protected readonly findEvents = (search: string): Observable<readonly Choice<number>[]> =>
    forkJoin(
      (['coming', 'past'] as const).map((when) =>
        this.events.list({ when, search, after: 0 }).pipe(map(({ rows }) => rows)),
      ),
    ).pipe(
      map((found) =>
        found
          .flatMap((rows) => rows.slice(0, 5))
          .map(({ id, title, startAt, zone }) => ({
            value: id,
            name: title,
            about: sayInstant(Date.parse(startAt), zone),
          })),
      ),
    );

  protected set(condition: SegmentCondition): void {
    this.changed.emit(condition);
  }
  protected turnInto(event: Event): void {
    const kind = chosenOf(conditionKinds, event);
    if (kind) this.set(blankCondition(kind));
  }
  protected byWay(event: Event): void {
    const channel = chosenOf(['email', 'text'] as const, event);
    if (channel) this.set({ kind: 'consent', channel });
  }
  protected addPerson(id: number): void {
    const ids = this.its('person')?.ids ?? [];
    if (!ids.includes(id)) this.set({ kind: 'person', ids: [...ids, id] });
  }
  protected ofField(field: number): void {
    const type = this.around().fields.find(({ id }) => id === field)?.type;
    this.set({ kind: 'field', field, test: blankTest(type ? testsOf[type][0] : 'filled') });
  }
  protected compare(event: Event): void {
    const is = chosenOf(this.tests(), event);
    if (is) this.setTest(blankTest(is));
  }
  protected setTest(test: FieldTest): void {
    this.set({ kind: 'field', field: this.its('field')?.field ?? 0, test });
  }
  protected setDays(days: readonly string[]): void {
    this.setTest({
      is: 'day-of-year',
      days: days.filter((day) => /^(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/.test(day)),
    });
  }
  protected bound(end: 'from' | 'to'): string {
    const test = this.test();
    return test.is === 'number' || test.is === 'date' ? String(test[end] ?? '') : '';
  }
  protected setBound(end: 'from' | 'to', text: string): void {
    const test = this.test();
    if (test.is === 'number') this.setTest({ ...test, [end]: text.trim() === '' ? null : Number(text) });
    if (test.is === 'date') this.setTest({ ...test, [end]: text || null });
  }
  protected flip(reply: ReplyState): void {
    const it = this.its('answered');
    if (!it) return;
    const replies = it.replies.includes(reply) ? it.replies.filter((one) => one !== reply) : [...it.replies, reply];
    this.set({ ...it, replies });
  }
  protected ofMessage(event: Event): void {
    const message = chosenOf(messages, event);
    const it = this.its('got');
    if (message && it) this.set({ ...it, message });
  }
  protected ofEvent(event: number, title: string): void {
    const condition = this.condition();
    if (!('event' in condition)) return;
    this.around().noteEvent(event, title);
    this.set({ ...condition, event });
  }
  protected within(text: string): void {
    const days = Math.min(3660, Math.max(1, Math.round(Number(text))));
    const answered = this.its('answered');
    const got = this.its('got');
    if (answered) this.set({ ...answered, withinDays: text.trim() === '' ? null : days });
    if (got) this.set({ ...got, withinDays: text.trim() === '' ? 30 : days });
  }
}

const isOf = <K extends SegmentCondition['kind']>(
  condition: SegmentCondition,
  kind: K,
): condition is Extract<SegmentCondition, { kind: K }> => condition.kind === kind;

function blankTest(is: FieldTest['is']): FieldTest {
  switch (is) {
    case 'any-of':
      return { is, values: [] };
    case 'begins-with':
      return { is, text: '' };
    case 'number':
    case 'date':
      return { is, from: null, to: null };
    case 'day-of-year':
      return { is, days: [] };
    case 'filled':
      return { is };
  }
}
