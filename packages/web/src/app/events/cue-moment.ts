import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import {
  anchors,
  goesByZones,
  sayZone,
  steps,
  units,
  type FixedMoment,
  type Moment,
  type OwnDateMoment,
  type RelativeMoment,
  type Step,
} from '@convite/core';
import { AudienceApi } from '../api/audience';
import { reading } from '../api/reading';
import { ReadingProblem } from '../ui/reading-problem';
import { ClockField } from '../ui/time/clock-field';
import { TimeField } from '../ui/time/time-field';
import { isTicked, typed } from '../ui/typed';

/** When a cue fires, as a sentence with boxes. */
@Component({
  selector: 'cv-cue-moment',
  imports: [ClockField, MatCheckboxModule, MatFormFieldModule, MatInputModule, ReadingProblem, TimeField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset>
      <legend>When</legend>
      <mat-form-field class="inline kind" subscriptSizing="dynamic"
        ><select matNativeControl aria-label="Kind of moment" [value]="moment().kind" (change)="kind(typed($event))">
          <option value="relative" [selected]="moment().kind === 'relative'">counted from the event</option>
          <option value="step" [selected]="moment().kind === 'step'">counted from what each person does</option>
          <option value="own-date" [selected]="moment().kind === 'own-date'">counted from a date of each person</option>
          <option value="fixed" [selected]="moment().kind === 'fixed'">at a fixed date and time</option>
        </select></mat-form-field
      >
      @if (counted(); as it) {
        <mat-form-field class="inline count" subscriptSizing="dynamic"
          ><input
            matInput
            type="number"
            min="0"
            max="1000"
            aria-label="How many"
            [value]="it.amount"
            (input)="amount(typed($event))"
        /></mat-form-field>
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><select matNativeControl aria-label="Unit" [value]="it.unit" (change)="unit(typed($event))">
            @for (unit of unitsOf(it); track unit) {
              <option [value]="unit" [selected]="unit === it.unit">{{ unit }}</option>
            }
          </select></mat-form-field
        >
        @if (direction(); as way) {
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><select matNativeControl aria-label="Before or after" [value]="way" (change)="goes(typed($event))">
              <option [selected]="way === 'before'" value="before">before</option>
              <option [selected]="way === 'after'" value="after">after</option>
            </select></mat-form-field
          >
        } @else {
          <span>after</span>
        }
      }
      @if (step(); as it) {
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><select matNativeControl aria-label="After what" (change)="take(typed($event))">
            @for (one of stepChoices; track one.step) {
              <option [value]="one.step" [selected]="one.step === it.step">{{ one.says }}</option>
            }
          </select></mat-form-field
        >
        @if (it.at) {
          <span>at</span>
        }
      }
      @if (relative(); as it) {
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><select matNativeControl aria-label="Of what" [value]="it.anchor" (change)="anchor(typed($event))">
            <option [selected]="it.anchor === 'start'" value="start">the start</option>
            <option [selected]="it.anchor === 'end'" value="end">the end</option>
            <option [selected]="it.anchor === 'deadline'" value="deadline">registration closes</option>
            <option [selected]="it.anchor === 'publication'" value="publication">the event is published</option>
          </select></mat-form-field
        >
        <mat-checkbox [checked]="it.at !== null" (change)="setTime($event.checked ? '10:00' : null)"
          >at a set time</mat-checkbox
        >
      }
      @if (ownDate(); as it) {
        <cv-reading-problem [of]="fields" what="The fields of people" />
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><select matNativeControl aria-label="Which date of theirs" (change)="field(typed($event))">
            <option value="0" [selected]="!isKnown(it.field)">choose a date of theirs</option>
            @for (field of dateFields(); track field.id) {
              <option [value]="field.id" [selected]="field.id === it.field">their {{ field.name }}</option>
            }
          </select></mat-form-field
        >
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><select matNativeControl aria-label="How often" [value]="it.repeats" (change)="repeats(typed($event))">
            <option [selected]="it.repeats === 'yearly'" value="yearly">every year</option>
            <option [selected]="it.repeats === 'once'" value="once">once</option>
          </select></mat-form-field
        >
        <span>at</span>
      }
      @if (time(); as at) {
        <cv-clock-field label="Clock time" [value]="at" (valueChange)="setTime($event)" />
      }
      @if (fixed(); as it) {
        <cv-time-field label="Date and time" [zone]="zone()" [value]="it.wall" (valueChange)="wall($event)" />
      }
      @if (canGoByPerson()) {
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><select matNativeControl aria-label="On whose clock" (change)="clock(typed($event))">
            <option value="event" [selected]="!byPerson()">on the clock of {{ city() }}</option>
            <option value="person" [selected]="byPerson()">on each person’s own clock</option>
          </select></mat-form-field
        >
      }
      @if (counted(); as it) {
        <mat-checkbox [checked]="it.onWorkdays === true" (change)="setWorkdays($event.checked)"
          >on working days only</mat-checkbox
        >
      }
      <span class="quiet small">{{ hint() }}</span>
    </fieldset>
  `,
  styles: `
    cv-clock-field {
      width: 160px;
    }
    .kind {
      width: 290px;
      max-width: 100%;
    }
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      display: flex;
      flex-wrap: wrap;
      gap: 6px 8px;
      align-items: center;
    }
    legend {
      font-weight: 600;
      padding: 0 0 4px;
    }
    input[type='number'] {
      width: 76px;
    }
    .small {
      flex-basis: 100%;
    }
  `,
})
export class CueMoment {
  private readonly audience = inject(AudienceApi);
  readonly moment = input.required<Moment>();
  readonly zone = input.required<string>();
  readonly momentChange = output<Moment>();
  protected readonly typed = typed;
  protected readonly isTicked = isTicked;
  protected readonly fields = reading(() => this.audience.fields(), []);
  protected readonly dateFields = computed(() =>
    this.fields.value().filter(({ type }) => type === 'date' || type === 'date-time'),
  );
  protected readonly city = computed(() => sayZone(this.zone()));
  protected readonly relative = computed(() => ofKind(this.moment(), 'relative'));
  protected readonly ownDate = computed(() => ofKind(this.moment(), 'own-date'));
  protected readonly step = computed(() => ofKind(this.moment(), 'step'));
  protected readonly stepChoices = stepChoices;
  protected readonly fixed = computed(() => ofKind(this.moment(), 'fixed'));
  protected readonly counted = computed(() => this.relative() ?? this.ownDate() ?? this.step());
  /** Null for what only comes after. */
  protected readonly direction = computed(() => (this.relative() ?? this.ownDate())?.direction ?? null);
  protected readonly time = computed(() => this.counted()?.at ?? null);
  protected readonly byPerson = computed(() => goesByZones(this.moment()));
  /** Where no clock time is set, a shift is exact, and the same instant for all. */
  protected readonly canGoByPerson = computed(() => this.fixed() !== null || this.time() !== null);
  protected readonly hint = computed(() => {
    const unknown = `; whose zone is not known, on the clock of ${this.city()}`;
    if (this.byPerson()) return `It goes once in each zone that people are in${unknown}.`;
    if (this.ownDate() && this.dateFields().length === 0)
      return 'No field of people holds a date yet: one comes with a list whose file has a column of dates, such as 1990-02-28.';
    if (this.step())
      return `${this.city()} time. Hours and minutes, up to three days, are exact for each; days go together. Nothing goes once what it is about has begun.`;
    return `${this.city()} time. Days, weeks and months keep the clock time across a clock change; hours and minutes are exact.`;
  });

  protected unitsOf = ({ kind }: Exclude<Moment, FixedMoment>): readonly string[] =>
    kind === 'own-date' ? dayUnits : units;
  protected isKnown = (field: number): boolean => this.dateFields().some(({ id }) => id === field);

  protected kind(kind: string): void {
    if (kind === 'fixed') this.momentChange.emit({ kind, wall: '' });
    else if (kind === 'own-date') {
      const field = this.dateFields()[0]?.id ?? 0;
      const direction = this.direction() ?? 'before';
      this.momentChange.emit({ kind, field, repeats: 'yearly', amount: 0, unit: 'days', direction, at: '10:00' });
    } else if (kind === 'step')
      this.momentChange.emit({ kind, step: 'registration', amount: 1, unit: 'days', at: '10:00' });
    else this.momentChange.emit({ kind: 'relative', amount: 1, unit: 'days', ...beforeStart });
  }
  protected amount(text: string): void {
    const amount = Math.min(1000, Math.max(0, Math.round(Number(text) || 0)));
    this.change({ amount }, { amount });
  }
  protected unit(text: string): void {
    const unit = units.find((one) => one === text) ?? 'days';
    const step = this.step();
    // Minutes and hours are exact; days have a clock time.
    if (step)
      return this.momentChange.emit({
        ...step,
        unit,
        at: unit === 'minutes' || unit === 'hours' ? null : (step.at ?? '10:00'),
      });
    this.change({ unit }, { unit: unit === 'weeks' || unit === 'months' ? unit : 'days' });
  }
  protected goes(text: string): void {
    const direction = text === 'after' ? text : 'before';
    this.change({ direction }, { direction });
  }
  protected anchor(text: string): void {
    const anchor = anchors.find((one) => one === text) ?? 'start';
    // Nothing comes before the publication.
    this.change(anchor === 'publication' ? { anchor, direction: 'after' } : { anchor }, {});
  }
  protected take(text: string): void {
    const [step, taken] = [this.step(), steps.find((one) => one === text)];
    if (step && taken) this.momentChange.emit({ ...step, step: taken });
  }
  protected setTime(at: string | null): void {
    this.change({ at }, at === null ? {} : { at });
  }
  protected setWorkdays(onWorkdays: boolean): void {
    const only = { onWorkdays: onWorkdays || undefined };
    this.change(only, only);
  }
  protected field(text: string): void {
    this.change({}, { field: Number(text) });
  }
  protected repeats(text: string): void {
    this.change({}, { repeats: text === 'once' ? text : 'yearly' });
  }
  protected wall(wall: string): void {
    const fixed = this.fixed();
    if (fixed) this.momentChange.emit({ ...fixed, wall });
  }
  protected clock(text: string): void {
    this.momentChange.emit({ ...this.moment(), clock: text === 'person' ? text : 'event' });
  }
  private change(ofEvent: Partial<RelativeMoment>, ofPerson: Partial<OwnDateMoment>): void {
    const [relative, own, step] = [this.relative(), this.ownDate(), this.step()];
    const { amount, at, onWorkdays } = ofPerson;
    if (step)
      this.momentChange.emit({
        ...step,
        ...(amount !== undefined && { amount }),
        ...(at !== undefined && { at }),
        ...('onWorkdays' in ofPerson && { onWorkdays }),
      });
    else if (relative) this.momentChange.emit({ ...relative, ...ofEvent });
    else if (own) this.momentChange.emit({ ...own, ...ofPerson });
  }
}

const stepChoices: readonly { readonly step: Step; readonly says: string }[] = [
  { step: 'invitation', says: 'they are invited' },
  { step: 'registration', says: 'they register' },
  { step: 'approval', says: 'they are given their place' },
];

const dayUnits = ['days', 'weeks', 'months'] as const;
const beforeStart = { direction: 'before', anchor: 'start', at: null } as const;

function ofKind<K extends Moment['kind']>(moment: Moment, kind: K): Extract<Moment, { kind: K }> | null {
  const isIt = (one: Moment): one is Extract<Moment, { kind: K }> => one.kind === kind;
  return isIt(moment) ? moment : null;
}
