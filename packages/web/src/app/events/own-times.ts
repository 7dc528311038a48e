import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatButtonModule } from '@angular/material/button';
import { map } from 'rxjs';
import { sayProblem, type OwnRequest, type OwnResult } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { EventsApi } from '../api/events';
import { reading } from '../api/reading';
import { sayError } from '../refused';
import { ReadingProblem } from '../ui/reading-problem';
import { chosenFile, typed } from '../ui/typed';

const parts = ['start', 'end', 'place', 'notes'] as const;

/** Gives people their own time, place or note: from a file, or from further columns that their files had. */
@Component({
  selector: 'cv-own-times',
  imports: [FormsModule, MatButtonModule, MatCheckboxModule, MatFormFieldModule, MatInputModule, ReadingProblem],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Own times">
      <h2>Own times</h2>
      <p class="small quiet">
        Convite invites only people who have their own time. Each gets an invitation and reminders for that time.
      </p>
      <div class="halves">
        <div class="stack">
          <h3>From a file or by pasting</h3>
          <p class="small quiet">
            Columns email, start, end, place, notes; a start as 2026-12-05 21:00 in {{ zone() }} time. Programs post the
            same to /programs/events/{{ eventId() }}/personal with a key from Settings.
          </p>
          <mat-form-field subscriptSizing="dynamic">
            <textarea
              matInput
              class="mono"
              rows="6"
              aria-label="Rows"
              placeholder="email,start,end,place&#10;ana@people.example,2026-12-05 21:00,2026-12-05 21:30,West eyepiece"
              [value]="text()"
              (input)="text.set(typed($event))"
            ></textarea>
          </mat-form-field>
          <div class="row">
            <input
              type="file"
              accept=".csv,text/csv,text/plain"
              aria-label="File"
              (change)="read(chosenFile($event))"
            />
            <button
              matButton="filled"
              class="push"
              [disabled]="!text().trim()"
              (click)="give({ kind: 'csv', text: text() })"
            >
              Give these
            </button>
          </div>
        </div>
        <div class="stack">
          <h3>From what their files said</h3>
          <cv-reading-problem [of]="fields" what="The columns" />
          <cv-reading-problem [of]="lists" what="The lists" />
          @if (fields.value().length) {
            <fieldset>
              <legend>People of</legend>
              @for (list of lists.value(); track list.id) {
                <mat-checkbox [checked]="chosen().includes(list.id)" (change)="toggle(list.id)">{{
                  list.name
                }}</mat-checkbox>
              }
            </fieldset>
            @for (part of parts; track part) {
              <label class="part"
                >{{ part }}
                <mat-form-field class="inline" subscriptSizing="dynamic"
                  ><select matNativeControl [attr.aria-label]="part" (change)="choose(part, typed($event))">
                    <option value="">as the event says</option>
                    @for (field of fields.value(); track field) {
                      <option [value]="field">{{ field }}</option>
                    }
                  </select></mat-form-field
                ></label
              >
            }
            <div>
              <button matButton="outlined" [disabled]="!chosen().length" (click)="giveFields()">Give these</button>
            </div>
          } @else if (!fields.hasFailed()) {
            <p class="small quiet">No imported file had columns beyond the usual ones yet.</p>
          }
        </div>
      </div>
      <form class="by-hand" (ngSubmit)="giveOne()">
        <h3>By hand</h3>
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>Email address</mat-label
          ><input matInput type="email" name="email" autocomplete="off" [(ngModel)]="one.email" required
        /></mat-form-field>
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>Start</mat-label
          ><input matInput type="datetime-local" name="start" [(ngModel)]="one.start" required
        /></mat-form-field>
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>End (optional)</mat-label><input matInput type="datetime-local" name="end" [(ngModel)]="one.end"
        /></mat-form-field>
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>Place (optional)</mat-label><input matInput name="place" maxlength="500" [(ngModel)]="one.place"
        /></mat-form-field>
        <button matButton="outlined" type="submit" [disabled]="!one.email.trim() || !one.start">Save</button>
      </form>
      @if (result(); as result) {
        <p class="note good" role="status">
          {{ result.saved }} {{ result.saved === 1 ? 'person has' : 'people have' }} their own time;
          {{ result.guests }} new {{ result.guests === 1 ? 'guest' : 'guests' }}.
        </p>
        @if (result.problems.length) {
          <ul class="small">
            @for (problem of result.problems; track $index) {
              <li>{{ problem.path }}: {{ say(problem) }}</li>
            }
          </ul>
        }
      }
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
    </section>
  `,
  styles: `
    textarea {
      width: 100%;
    }
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      display: grid;
    }
    legend {
      font-weight: 600;
      padding: 0;
    }
    .by-hand {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(180px, 1fr));
      gap: 10px;
      align-items: center;
    }
    .by-hand h3 {
      grid-column: 1 / -1;
      margin: 0;
    }
    .by-hand button {
      justify-self: start;
    }
    .part {
      display: grid;
      grid-template-columns: 60px 1fr;
      align-items: center;
    }
  `,
})
export class OwnTimes {
  protected readonly typed = typed;
  protected readonly chosenFile = chosenFile;
  private readonly api = inject(EventsApi);
  private readonly audience = inject(AudienceApi);
  readonly eventId = input.required<number>();
  readonly zone = input.required<string>();
  readonly given = output();
  protected readonly parts = parts;
  protected readonly say = sayProblem;
  protected readonly lists = reading(() => this.audience.lists(), []);
  protected readonly fields = reading(() => this.audience.fields().pipe(map((all) => all.map(({ name }) => name))), []);
  protected readonly text = signal('');
  protected readonly chosen = signal<readonly number[]>([]);
  private readonly columns = signal({ start: '', end: '', place: '', notes: '' });
  protected readonly result = signal<OwnResult | null>(null);
  protected readonly problem = signal('');

  protected read(file: File | undefined): void {
    void file?.text().then((text) => this.text.set(text));
  }
  protected toggle(id: number): void {
    this.chosen.update((chosen) => (chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id]));
  }
  protected choose(part: (typeof parts)[number], field: string): void {
    this.columns.update((columns) => ({ ...columns, [part]: field }));
  }
  protected giveFields(): void {
    this.give({ kind: 'fields', lists: [...this.chosen()], ...this.columns() });
  }
  /** Typed by hand; kept as typed until it is saved. */
  protected readonly one = { email: '', start: '', end: '', place: '' };
  protected giveOne(): void {
    const { email, start, end, place } = this.one;
    this.give({ kind: 'rows', rows: [{ email: email.trim(), start, end, place, name: '', mobile: '', notes: '' }] });
  }
  protected give(request: OwnRequest): void {
    this.api.giveOwn(this.eventId(), request).subscribe({
      next: (result) => {
        this.problem.set('');
        this.result.set(result);
        this.given.emit();
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
}
