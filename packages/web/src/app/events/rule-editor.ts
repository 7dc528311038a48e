import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { sayDay } from '../ui/say';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import type { LocatedProblem } from '@convite/contract';
import {
  expandRule,
  instantsOf,
  isDay,
  localSecondsOf,
  occurrencesBetween,
  plainRule,
  readRule,
  ruleOf,
  sayRepeats,
  sayRule,
  startOf,
  wallTimeOf,
  weekdayOf,
  writeRule,
  type EventFacts,
  type Frequency,
  type Rule,
  type Series,
  type Span,
} from '@convite/core';
import { FieldProblem } from '../ui/field-problem';
import { dayChoices, rhythms, shapeOf } from './rule-choices';
import { TimeField } from '../ui/time/time-field';
import { typed } from '../ui/typed';
import { MatButtonToggleModule } from '@angular/material/button-toggle';

const shownDates = 6;
const lookMs = 20 * 366 * 86_400_000;
const emptySeries: Series = { rule: '', added: [], exceptions: [] };

/** How an event repeats: in plain words, with the next dates as they come out, and the rule as calendars read it. */
@Component({
  selector: 'cv-rule-editor',
  imports: [FieldProblem, MatButtonToggleModule, MatFormFieldModule, MatInputModule, TimeField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset [disabled]="disabled()">
      <legend class="visually-hidden">Repeats</legend>
      <div class="row">
        <label
          >Repeats
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><select matNativeControl aria-label="Repeats" (change)="chooseRhythm(typed($event))">
              <option value="once" [selected]="rhythm() === 'once'">not at all</option>
              @for (one of rhythms; track one.frequency) {
                <option [value]="one.frequency" [selected]="rhythm() === one.frequency">{{ one.name }}</option>
              }
              @if (rhythm() === 'other') {
                <option value="other" selected>by a rule of its own</option>
              }
            </select></mat-form-field
          ></label
        >
        @if (rule(); as rule) {
          <label
            >every
            <mat-form-field class="inline count" subscriptSizing="dynamic"
              ><input
                matInput
                type="number"
                min="1"
                max="99"
                aria-label="Every so many"
                [value]="rule.interval"
                (change)="set({ interval: atLeastOne(typed($event)) })"
            /></mat-form-field>
            {{ unit() }}</label
          >
          @if (rule.frequency === 'WEEKLY') {
            <span class="days" role="group" aria-label="On">
              @for (day of weekdays; track day.number) {
                <mat-button-toggle [checked]="hasDay(day.number)" (change)="toggleDay(day.number)">{{
                  day.name
                }}</mat-button-toggle>
              }
            </span>
          }
          @if (choices().length) {
            <mat-form-field class="inline" subscriptSizing="dynamic"
              ><select matNativeControl aria-label="On which day" (change)="chooseDay(typed($event))">
                @for (choice of choices(); track choice.name; let index = $index) {
                  <option [value]="index" [selected]="index === choiceIndex()">{{ choice.name }}</option>
                }
              </select></mat-form-field
            >
          }
          <label
            >Stops
            <mat-form-field class="inline" subscriptSizing="dynamic"
              ><select matNativeControl aria-label="Stops repeating" (change)="chooseEnding(typed($event))">
                <option value="never" [selected]="ending() === 'never'">never</option>
                <option value="until" [selected]="ending() === 'until'">on a day</option>
                <option value="count" [selected]="ending() === 'count'">after so many times</option>
              </select></mat-form-field
            ></label
          >
          @if (rule.until !== null) {
            <cv-time-field
              label="Last day"
              kind="day"
              [isTerse]="true"
              [value]="rule.until.slice(0, 10)"
              (valueChange)="until($event)"
            />
          }
          @if (rule.count !== null) {
            <mat-form-field class="inline count" subscriptSizing="dynamic"
              ><input
                matInput
                type="number"
                min="1"
                max="999"
                aria-label="So many times"
                [value]="rule.count"
                (change)="set({ count: atLeastOne(typed($event)), until: null })"
            /></mat-form-field>
          }
        }
      </div>
      @if (facts().series) {
        <div class="outcome">
          <div>
            <p>
              <strong>{{ words() }}</strong>
            </p>
            <ol aria-label="Next dates">
              @for (date of dates(); track date) {
                <li>{{ date }}</li>
              }
            </ol>
          </div>
          <div>
            <div>
              <mat-form-field subscriptSizing="dynamic"
                ><mat-label>The rule as calendars read it</mat-label
                ><input
                  matInput
                  class="mono"
                  aria-label="Rule"
                  spellcheck="false"
                  [value]="facts().series?.rule ?? ''"
                  (change)="typeRule(typed($event))"
              /></mat-form-field>
            </div>
            <cv-field-problem [problems]="problems()" path="series.rule" />
            @if (firstDate(); as first) {
              <button type="button" class="link small" (click)="moveStart.emit(first)">
                Move the start to {{ sayStart(first) }}
              </button>
            }
          </div>
        </div>
      }
    </fieldset>
  `,
  styles: `
    fieldset {
      border: 1px solid var(--line);
      border-radius: 4px;
      padding: 12px 14px;
      margin: 0;
      min-width: 0;
    }
    select {
      max-width: 290px;
    }
    input[type='number'] {
      width: 62px;
    }
    .days {
      display: inline-flex;
      gap: 3px;
    }
    .outcome {
      display: grid;
      grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
      gap: 6px 24px;
      margin-top: 10px;
    }
    ol {
      columns: 2;
      margin: 0;
      padding-left: 20px;
      font-size: 13px;
    }
    .raw {
      display: grid;
      gap: 3px;
      font-size: 13px;
      color: var(--quiet);
    }
    .raw input {
      color: var(--ink);
    }
    @media (max-width: 800px) {
      .outcome {
        grid-template-columns: minmax(0, 1fr);
      }
      ol {
        columns: 1;
      }
    }
  `,
})
export class RuleEditor {
  protected readonly typed = typed;
  readonly facts = input.required<EventFacts>();
  readonly problems = input<readonly LocatedProblem[]>([]);
  readonly disabled = input(false);
  /** Dates are listed from here on. */
  readonly fromMs = input(0);
  readonly seriesChange = output<Series | null>();
  /** The first date that the rule names, for a start that is not one of them. */
  readonly moveStart = output<string>();

  protected readonly rhythms = rhythms;
  protected readonly weekdays = ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'].map((name, index) => ({
    name,
    number: index + 1,
  }));
  protected readonly rule = computed(() => ruleOf(this.facts()));
  protected readonly rhythm = computed(() => {
    const { series } = this.facts();
    if (!series) return 'once';
    const frequency = this.rule()?.frequency;
    return rhythms.some((one) => one.frequency === frequency) ? String(frequency) : 'other';
  });
  protected readonly unit = computed(
    () => rhythms.find(({ frequency }) => frequency === this.rule()?.frequency)?.unit ?? 'times its unit',
  );
  private readonly start = computed(() => startOf(this.facts().span));
  protected readonly choices = computed(() => {
    const rule = this.rule();
    const isLong = rule?.frequency === 'MONTHLY' || rule?.frequency === 'YEARLY';
    return rule && isLong && this.start() ? dayChoices(rule.frequency, this.start().slice(0, 10), rule) : [];
  });
  protected readonly choiceIndex = computed(() => {
    const rule = this.rule();
    const said = rule && sayRule(shapeOf(rule));
    return this.choices().findIndex(({ name }) => name === said);
  });
  protected readonly ending = computed(() =>
    this.rule()?.count != null ? 'count' : this.rule()?.until != null ? 'until' : 'never',
  );
  protected readonly words = computed(() => sayRepeats(this.facts()));
  protected readonly dates = computed(() => {
    const facts = this.facts();
    if (this.problems().some(({ path }) => path.startsWith('span') || path === 'zone')) return [];
    const { startMs } = instantsOf(facts);
    const fromMs = Math.max(startMs, this.fromMs());
    return occurrencesBetween(facts, fromMs, fromMs + lookMs, shownDates).map(
      ({ facts: { span }, calledOff }) => `${sayShort(span)}${calledOff ? ', called off' : ''}`,
    );
  });
  protected readonly firstDate = computed(() => {
    const rule = this.rule();
    if (!rule || !this.problems().some(({ code }) => code === 'start-not-in-rule')) return null;
    const startS = localSecondsOf(this.start());
    const [first] = expandRule(
      { ...rule, count: null },
      { startS, zone: 'UTC', fromS: startS, toS: startS + lookMs / 1000, most: 1 },
    ).startsS;
    return first === undefined ? null : wallTimeOf(first).slice(0, this.start().length);
  });

  protected sayStart = (start: string): string => start.replace('T', ' ');
  protected atLeastOne = (text: string): number => Math.max(1, Math.min(999, Math.round(Number(text)) || 1));

  protected chooseRhythm(value: string): void {
    if (value === 'once') return this.seriesChange.emit(null);
    const start = this.start().slice(0, 10);
    const frequency = value as Frequency;
    const [first] = dayChoices(frequency, start, null);
    const rule =
      frequency === 'WEEKLY'
        ? { ...plainRule(frequency), days: [{ weekday: weekdayOf(start), nth: 0 }] }
        : frequency === 'DAILY'
          ? plainRule(frequency)
          : (first?.rule ?? plainRule(frequency));
    this.emit(rule);
  }
  /** What cannot be read yet changes nothing. */
  protected until(day: string): void {
    if (isDay(day)) this.set({ until: day, count: null });
  }
  protected set(change: Partial<Rule>): void {
    const rule = this.rule();
    if (rule) this.emit({ ...rule, ...change });
  }
  protected hasDay(weekday: number): boolean {
    return this.rule()?.days.some((day) => day.weekday === weekday) ?? false;
  }
  protected toggleDay(weekday: number): void {
    const days = this.rule()?.days ?? [];
    const others = days.filter((day) => day.weekday !== weekday);
    const next = others.length === days.length ? [...days, { weekday, nth: 0 }] : others;
    // The last day stays: a week without a day would mean the start's own.
    if (next.length) this.set({ days: [...next].sort((a, b) => a.weekday - b.weekday) });
  }
  protected chooseDay(index: string): void {
    const rule = this.rule();
    const choice = this.choices()[Number(index)];
    if (rule && choice) this.emit({ ...choice.rule, interval: rule.interval, count: rule.count, until: rule.until });
  }
  protected chooseEnding(value: string): void {
    const day = this.start().slice(0, 10);
    const inHalfAYear = new Date(Date.parse(day) + 182 * 86_400_000).toISOString().slice(0, 10);
    if (value === 'never') this.set({ until: null, count: null });
    else if (value === 'until') this.set({ until: inHalfAYear, count: null });
    else this.set({ count: 10, until: null });
  }
  /** What was typed is kept as it stands when it cannot be read, with what is wrong beside it. */
  protected typeRule(text: string): void {
    const read = readRule(text, this.facts().zone, 'series.rule');
    if (read.ok) this.emit(read.value);
    else this.seriesChange.emit({ ...(this.facts().series ?? emptySeries), rule: text.trim() });
  }
  private emit(rule: Rule): void {
    this.seriesChange.emit({ ...(this.facts().series ?? emptySeries), rule: writeRule(rule) });
  }
}

/** A date on one line; its zone stands in the form above. */
const sayShort = (span: Span): string =>
  span.kind === 'timed' ? `${sayDay(span.start.slice(0, 10))} ${span.start.slice(11)}` : sayDay(span.firstDay);
