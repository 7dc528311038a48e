import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatButtonModule } from '@angular/material/button';
import type { EventDetail, LocatedProblem } from '@convite/contract';
import {
  checkEntry,
  entryColours,
  isSame,
  mergeFields,
  mostShownGuests,
  readWording,
  sayEntry,
  sayMinutes,
  type Entry,
} from '@convite/core';
import { EventsApi } from '../api/events';
import { problemsOf, sayError } from '../refused';
import { FieldProblem } from '../ui/field-problem';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';

const usualAlarms = [10, 30, 60, 120, 1440, 10_080];

/** How the entry stands in people's calendars: its text, alarms, privacy and looks. Saved as a version of the event. */
@Component({
  selector: 'cv-entry-options',
  imports: [FieldProblem, MatButtonModule, MatCheckboxModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Options of the entry">
      <h2>How the entry stands in calendars</h2>
      <div class="grid">
        <mat-checkbox [checked]="entry().asksReply" (change)="set({ asksReply: !entry().asksReply })"
          >Asks for a reply</mat-checkbox
        >
        <mat-checkbox [checked]="entry().isBusy" (change)="set({ isBusy: !entry().isBusy })"
          >Shows the time as busy</mat-checkbox
        >
        <mat-checkbox [checked]="entry().isPrivate" (change)="set({ isPrivate: !entry().isPrivate })"
          >Private</mat-checkbox
        >
        <mat-checkbox [checked]="entry().showsGuests" (change)="set({ showsGuests: !entry().showsGuests })"
          >Guests see each other, up to {{ mostShown }}</mat-checkbox
        >
      </div>
      <div>
        <strong>Alarms</strong>
        <span class="alarms">
          @for (minutes of alarmChoices(); track minutes) {
            <mat-checkbox [checked]="entry().alarmsMinutes.includes(minutes)" (change)="toggleAlarm(minutes)">{{
              sayMinutes(minutes)
            }}</mat-checkbox>
          }
          <label
            ><mat-form-field class="inline count" subscriptSizing="dynamic"
              ><input
                matInput
                #another
                type="number"
                min="0"
                aria-label="Another alarm, minutes before"
                placeholder="other"
                (change)="toggleAlarm(+another.value); another.value = ''"
            /></mat-form-field>
            minutes</label
          >
        </span>
        <cv-field-problem [problems]="problems()" path="entry.alarmsMinutes" />
      </div>
      <label class="part"
        ><span>Text of the entry <span class="quiet">instead of the description; fields work here too</span></span>
        <mat-form-field subscriptSizing="dynamic">
          <textarea
            matInput
            rows="4"
            dir="auto"
            [value]="entry().text"
            (input)="set({ text: typed($event) })"
          ></textarea>
        </mat-form-field>
      </label>
      <cv-field-problem [problems]="problems()" path="entry.text" />
      <div class="chips" role="group" aria-label="Merge fields">
        @for (field of fields; track field) {
          <button type="button" class="chip" (click)="set({ text: entry().text + '{{' + field + '}}' })">
            {{ field }}
          </button>
        }
      </div>
      <mat-checkbox [checked]="entry().isStyled" (change)="set({ isStyled: !entry().isStyled })"
        >Also styled: paragraphs, lists (- ), *bold* and links, for calendars that show them</mat-checkbox
      >
      <div class="grid">
        <div>
          <mat-form-field subscriptSizing="dynamic"
            ><mat-label>Categories, instead of the topics</mat-label
            ><input
              matInput
              [value]="entry().categories.join(', ')"
              (change)="set({ categories: listOf(typed($event)) })"
          /></mat-form-field>
        </div>
        <div>
          <mat-form-field subscriptSizing="dynamic"
            ><mat-label>Colour</mat-label
            ><select matNativeControl (change)="set({ colour: typed($event) })">
              <option value="">none</option>
              @for (colour of colours; track colour) {
                <option [value]="colour" [selected]="colour === entry().colour">{{ colour }}</option>
              }
            </select></mat-form-field
          >
        </div>
        <div>
          <mat-form-field subscriptSizing="dynamic"
            ><mat-label>Picture, by its address</mat-label
            ><input matInput type="url" [value]="entry().imageUrl" (change)="set({ imageUrl: typed($event).trim() })"
          /></mat-form-field>
        </div>
        <div>
          <mat-form-field subscriptSizing="dynamic"
            ><mat-label>Position, latitude and longitude</mat-label
            ><input matInput [value]="position()" placeholder="41.73, -8.16" (change)="typePosition(typed($event))"
          /></mat-form-field>
        </div>
      </div>
      <cv-field-problem [problems]="problems()" path="entry.imageUrl" />
      <cv-field-problem [problems]="problems()" path="entry.position" />
      @if (isChanged()) {
        <p class="small quiet">Not saved yet: {{ change() }}</p>
        @if (problem()) {
          <p class="note alarm" role="alert">{{ problem() }}</p>
        }
        <div class="row">
          <button matButton="filled" [disabled]="problems().length > 0" (click)="save()">Save the entry</button>
          <button matButton (click)="entry.set(event().facts.entry)">Undo</button>
        </div>
      }
    </section>
  `,
  styles: `
    .grid {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 6px 18px;
    }
    .alarms {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 16px;
      align-items: center;
    }
    .part {
      display: grid;
      gap: 3px;
    }
    @media (max-width: 700px) {
      .grid {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class EntryOptions {
  protected readonly typed = typed;
  private readonly api = inject(EventsApi);
  private readonly toast = inject(Toast);
  readonly event = input.required<EventDetail>();
  readonly saved = output();
  protected readonly entry = linkedSignal<Entry>(() => this.event().facts.entry);
  protected readonly colours = entryColours;
  protected readonly mostShown = mostShownGuests;
  protected readonly fields = Object.keys(mergeFields).filter((name) => !name.startsWith('link.opt'));
  protected readonly sayMinutes = sayMinutes;
  protected readonly problem = signal('');
  private readonly serverProblems = signal<readonly LocatedProblem[]>([]);
  protected readonly problems = computed(() => [
    ...checkEntry(this.entry()),
    ...readWording(this.entry().text, 'entry.text').problems,
    ...this.serverProblems(),
  ]);
  protected readonly alarmChoices = computed(() =>
    [...new Set([...usualAlarms, ...this.entry().alarmsMinutes])].sort((a, b) => a - b),
  );
  protected readonly position = computed(() => {
    const { position } = this.entry();
    return position ? `${position.latitude}, ${position.longitude}` : '';
  });
  protected readonly isChanged = computed(() => !isSame(this.entry(), this.event().facts.entry));
  protected readonly change = computed(() => {
    const before = sayEntry(this.event().facts.entry);
    return sayEntry(this.entry())
      .filter((line) => !before.includes(line))
      .join('; ');
  });

  protected listOf = (text: string): string[] =>
    text
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean)
      .slice(0, 20);
  protected set(change: Partial<Entry>): void {
    this.serverProblems.set([]);
    this.entry.update((entry) => ({ ...entry, ...change }));
  }
  protected toggleAlarm(minutes: number): void {
    const { alarmsMinutes } = this.entry();
    const others = alarmsMinutes.filter((one) => one !== minutes);
    this.set({ alarmsMinutes: others.length === alarmsMinutes.length ? [...others, minutes] : others });
  }
  protected typePosition(text: string): void {
    const [latitude, longitude] = text.split(/[,;]/).map((part) => Number.parseFloat(part));
    const isEmpty = !text.trim();
    this.set({ position: isEmpty ? null : { latitude: latitude ?? NaN, longitude: longitude ?? NaN } });
  }
  protected save(): void {
    const { id, facts, version } = this.event();
    this.api.save(id, { ...facts, entry: this.entry() }, version).subscribe({
      next: () => {
        this.problem.set('');
        this.toast.say('The entry is saved. People get it with the next invitation or notice.');
        this.saved.emit();
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.serverProblems.set(problemsOf(error));
      },
    });
  }
}
