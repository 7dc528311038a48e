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
import { sayNumber } from '../ui/say';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatButtonModule } from '@angular/material/button';
import { map, of, switchMap, tap } from 'rxjs';
import { mostImported, sayProblem, type ImportResult, type List } from '@convite/contract';
import { readAddresses } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { sayError } from '../refused';
import { chosenFile, typed } from '../ui/typed';

/** Takes pasted addresses, or a small CSV file, into a list; bad lines come back with their number and reason. */
@Component({
  selector: 'cv-import-panel',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet halves" aria-label="Add people">
      <div class="stack">
        <div class="row">
          <mat-form-field class="grow" subscriptSizing="dynamic"
            ><mat-label>Into</mat-label>
            <select
              matNativeControl
              [value]="target() ?? ''"
              (change)="target.set(typed($event) === '' ? null : +typed($event))"
            >
              @if (lists().length) {
                <option value="">choose a list</option>
              }
              @for (list of offered(); track list.id) {
                <option [value]="list.id" [selected]="list.id === target()">{{ list.name }}</option>
              }
              <option value="0" [selected]="target() === 0">a new list …</option>
            </select></mat-form-field
          >
          @if (target() === 0) {
            <mat-form-field class="grow" subscriptSizing="dynamic"
              ><mat-label>Name of the new list</mat-label
              ><input matInput maxlength="120" [value]="newName()" (input)="newName.set(typed($event))"
            /></mat-form-field>
          }
          <label class="file"
            >or take a CSV file
            <input type="file" accept=".csv,text/csv,text/plain" (change)="take(chosenFile($event))"
          /></label>
        </div>
        @if (isLarge()) {
          <p class="note">
            {{ sayNumber(text().length) }} characters.
            <button class="link" type="button" (click)="type('')">Put something else here</button>
          </p>
        } @else {
          <label class="stack"
            >{{ kind() === 'csv' ? csvHint : pasteHint }}
            <mat-form-field subscriptSizing="dynamic">
              <textarea
                matInput
                rows="8"
                dir="auto"
                [value]="text()"
                (input)="type(typed($event))"
                (paste)="paste($event)"
              ></textarea>
            </mat-form-field>
          </label>
        }
        @if (tooMuch(); as words) {
          <p class="note alarm" role="alert">{{ words }}</p>
        } @else if (problem()) {
          <p class="note alarm" role="alert">{{ problem() }}</p>
        }
        <div class="row">
          <button
            matButton="filled"
            (click)="send()"
            [disabled]="
              isBusy() ||
              !text().trim() ||
              target() === null ||
              (target() === 0 && !newName().trim()) ||
              tooMuch() !== ''
            "
          >
            Add them
          </button>
          <button matButton (click)="closed.emit()">Close</button>
          @if (isBusy()) {
            <span class="quiet" role="status">Adding …</span>
          }
        </div>
      </div>
      <div class="stack" aria-live="polite">
        @if (result(); as it) {
          <p class="note good">
            <strong>{{ sayNumber(it.added) }}</strong> added{{
              it.already ? ', ' + sayNumber(it.already) + ' were on the list already' : ''
            }}.
          </p>
        } @else if (isLarge()) {
          <p class="quiet">Too long to be looked through as you type; it is read when you add it.</p>
        } @else if (kind() === 'addresses' && text().trim()) {
          <p>
            <strong>{{ read().addresses.length }}</strong>
            {{ read().addresses.length === 1 ? 'address' : 'addresses' }} found.
          </p>
        }
        @if (shownProblems().length) {
          <h3>Not taken</h3>
          <ul class="small">
            @for (problem of shownProblems(); track $index) {
              <li>
                <strong>{{ problem.path }}</strong>: {{ say(problem) }}
              </li>
            }
          </ul>
          @if (allProblems().length > shownProblems().length) {
            <p class="small">and {{ sayNumber(allProblems().length - shownProblems().length) }} more.</p>
          }
        }
      </div>
    </section>
  `,
  styles: `
    textarea {
      width: 100%;
      font: 13px/1.5 var(--mono);
    }
    ul {
      margin: 0;
      padding-left: 18px;
      max-height: 240px;
      overflow: auto;
    }
    .file input {
      max-width: 230px;
    }
  `,
})
export class ImportPanel {
  protected readonly sayNumber = sayNumber;
  protected readonly typed = typed;
  protected readonly chosenFile = chosenFile;
  private readonly api = inject(AudienceApi);
  readonly lists = input.required<readonly List[]>();
  readonly listId = input<number | null>(null);
  readonly done = output();
  readonly closed = output();
  /** 0 for a list that is made of it; there is no other way in a house without lists. */
  protected readonly target = linkedSignal<number | null>(() => this.listId() ?? (this.lists().length ? null : 0));
  protected readonly offered = computed(() => this.lists().filter(({ isArchived }) => !isArchived));
  protected readonly newName = signal('Subscribers');
  protected readonly kind = signal<'addresses' | 'csv'>('addresses');
  protected readonly text = signal('');
  protected readonly result = signal<ImportResult | null>(null);
  protected readonly problem = signal('');
  protected readonly isBusy = signal(false);
  protected readonly say = sayProblem;
  protected readonly csvHint = 'The file, with its heading row: email, name, mobile, zone, language, text consent';
  protected readonly pasteHint = 'Paste addresses: Name <address>, one a line or separated by commas';
  /** The very reading that the server will do, as one types. */
  protected readonly read = computed(() =>
    readAddresses(this.kind() === 'addresses' && !this.isLarge() ? this.text() : ''),
  );
  protected readonly allProblems = computed(() => this.result()?.problems ?? this.read().problems);
  protected readonly shownProblems = computed(() => this.allProblems().slice(0, 200));
  /** A field of this many characters holds every key up. */
  protected readonly isLarge = computed(() => this.text().length > 100_000);
  /** Said before it is sent, with what to do. */
  protected readonly tooMuch = computed(() =>
    this.text().length > mostImported
      ? `This is too much at once: ${sayNumber(this.text().length)} characters, and ${sayNumber(mostImported)} at most (about 50,000 people). Split it, and add the parts one after the other.`
      : '',
  );

  protected type(text: string): void {
    this.text.set(text);
    this.result.set(null);
    if (!text.trim()) this.kind.set('addresses');
  }
  /** What is large never goes into the field at all. */
  protected paste(event: ClipboardEvent): void {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (this.text().length + text.length <= 100_000) return;
    event.preventDefault();
    this.type(this.text() + text);
  }
  protected take(file: File | undefined): void {
    if (!file) return;
    void file.text().then((text) => {
      this.kind.set('csv');
      this.text.set(text);
      this.result.set(null);
    });
  }
  protected send(): void {
    const chosen = this.target();
    if (chosen === null) return;
    this.isBusy.set(true);
    const list = chosen === 0 ? this.api.createList(this.newName().trim()).pipe(map(({ id }) => id)) : of(chosen);
    list
      .pipe(
        // Made once: when the people cannot be taken, they are for the list that there is now.
        tap((id) => this.target.set(id)),
        switchMap((id) => this.api.import(id, { kind: this.kind(), text: this.text() })),
      )
      .subscribe({
        next: (result) => {
          this.result.set(result);
          this.problem.set('');
          this.isBusy.set(false);
          this.done.emit();
        },
        error: (error: unknown) => {
          this.problem.set(sayError(error));
          this.isBusy.set(false);
        },
      });
  }
}
