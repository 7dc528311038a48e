import { ChangeDetectionStrategy, Component, DestroyRef, inject, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import type { Subscription } from 'rxjs';
import { sayNumber } from '../ui/say';
import { Habits } from '../ui/time/habits';
import { Toggle, type ToggleOption } from '../ui/toggle';
import { chosenFile, typed } from '../ui/typed';
import { PeopleFile, type SeenSheet } from '../workers/people-file';

type Way = 'file' | 'paste' | 'one';
/** A file that was read, and what stands in it. */
export interface Opened {
  readonly file: PeopleFile;
  readonly name: string;
  readonly sheets: readonly SeenSheet[];
  /** Name and address, one after the other: there are no columns to speak of. */
  readonly isPlain: boolean;
}

const ways: readonly ToggleOption<Way>[] = [
  { key: 'file', label: 'A file' },
  { key: 'paste', label: 'Paste' },
  { key: 'one', label: 'One person' },
];
/** A field of this many characters holds every key up. */
const mostTyped = 100_000;

/** Where people come from: a file that is dropped, text that is pasted, or one person typed. */
@Component({
  selector: 'cv-bring-source',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule, MatProgressBarModule, Toggle],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-toggle label="Where they come from" [options]="ways" [(value)]="way" />
    @switch (way()) {
      @case ('file') {
        <label
          class="drop"
          [class.over]="isOver()"
          (dragover)="over($event, true)"
          (dragleave)="over($event, false)"
          (drop)="drop($event)"
        >
          <strong>Drop a file here, or choose one</strong>
          <span class="quiet small"
            >CSV, a workbook (.xlsx), an address book (.vcf), or a calendar (.ics) whose attendees are people</span
          >
          <input
            type="file"
            aria-label="File with people"
            accept=".csv,.tsv,.txt,.xlsx,.vcf,.ics,text/csv,text/plain,text/vcard,text/calendar"
            (change)="take(chosenFile($event))"
          />
        </label>
      }
      @case ('paste') {
        @if (isLarge()) {
          <p class="note">
            {{ sayNumber(text().length) }} characters are pasted.
            <button class="link" type="button" (click)="text.set('')">Paste something else</button>
          </p>
        } @else {
          <mat-form-field subscriptSizing="dynamic">
            <mat-label>Paste addresses, or rows of a spreadsheet</mat-label>
            <textarea
              matInput
              rows="7"
              dir="auto"
              placeholder="Ana Lopes &lt;ana@people.example&gt;, one a line or separated by commas; or cells with their headings"
              [value]="text()"
              (input)="text.set(typed($event))"
              (paste)="paste($event)"
            ></textarea>
          </mat-form-field>
        }
        <button
          matButton="outlined"
          type="button"
          [disabled]="!text().trim()"
          (click)="read(text(), 'pasted', isPlain)"
        >
          Read it
        </button>
      }
      @case ('one') {
        <form class="fields" (submit)="readOne($event, name.value, email.value, mobile.value)">
          <mat-form-field class="third" subscriptSizing="dynamic"
            ><mat-label>Name</mat-label><input matInput #name dir="auto" maxlength="200"
          /></mat-form-field>
          <mat-form-field class="third" subscriptSizing="dynamic"
            ><mat-label>Email</mat-label><input matInput #email maxlength="254"
          /></mat-form-field>
          <mat-form-field class="third" subscriptSizing="dynamic"
            ><mat-label>Mobile number</mat-label><input matInput #mobile maxlength="40"
          /></mat-form-field>
          <div><button matButton="outlined">Go on</button></div>
        </form>
      }
    }
    @if (share() !== null) {
      <div class="row" role="status">
        <mat-progress-bar class="grow" mode="determinate" [value]="(share() ?? 0) * 100" />
        <span class="quiet small">Reading …</span>
        <button class="link" type="button" (click)="stop()">Stop</button>
      </div>
    }
    @if (problem()) {
      <p class="note alarm" role="alert">{{ problem() }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 12px;
    }
    .drop {
      display: grid;
      gap: 6px;
      justify-items: center;
      padding: 26px 16px;
      border: 1px dashed var(--quiet);
      border-radius: 6px;
      cursor: pointer;
      text-align: center;
    }
    .drop.over,
    .drop:focus-within {
      border-color: var(--lead);
      background: var(--lead-wash);
    }
    textarea {
      font: 13px/1.5 var(--mono);
    }
    button {
      justify-self: start;
    }
  `,
})
export class BringSource {
  protected readonly ways = ways;
  protected readonly typed = typed;
  protected readonly chosenFile = chosenFile;
  protected readonly sayNumber = sayNumber;
  private readonly habits = inject(Habits);
  readonly opened = output<Opened>();
  protected readonly way = signal<Way>('file');
  protected readonly text = signal('');
  protected readonly isOver = signal(false);
  /** How much of it is read; null while nothing is. */
  protected readonly share = signal<number | null>(null);
  protected readonly problem = signal('');
  protected readonly isLarge = (): boolean => this.text().length > mostTyped;
  private reading: { readonly file: PeopleFile; readonly heard: Subscription } | null = null;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.stop());
  }

  /** Nothing but names and addresses stands in what was pasted. */
  protected readonly isPlain = ({ columns }: SeenSheet): boolean =>
    columns.length === 2 && columns[0]?.heading === 'Name' && columns[1]?.heading === 'Email';

  protected over(event: DragEvent, isOver: boolean): void {
    event.preventDefault();
    this.isOver.set(isOver);
  }
  protected drop(event: DragEvent): void {
    this.over(event, false);
    this.take(event.dataTransfer?.files[0]);
  }
  /** What is large never goes into the field at all. */
  protected paste(event: ClipboardEvent): void {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (this.text().length + text.length <= mostTyped) return;
    event.preventDefault();
    this.text.set(this.text() + text);
  }
  protected take(file: File | undefined): void {
    if (file) this.read(file, file.name.slice(0, 200), this.isPlain);
  }
  protected readOne(submit: Event, ...cells: readonly [string, string, string]): void {
    submit.preventDefault();
    if (!cells[1].trim() && !cells[2].trim()) return this.problem.set('Type an email address, or a mobile number.');
    const plain = cells.map((cell) => cell.replace(/[\t\n]+/g, ' '));
    this.read(`Name\tEmail\tMobile\n${plain.join('\t')}`, plain[0] || plain[1] || 'one person', () => true);
  }
  protected read(what: File | string, name: string, isPlain: (sheet: SeenSheet) => boolean): void {
    this.stop();
    this.problem.set('');
    this.share.set(0);
    const file = new PeopleFile();
    const heard = file.read(what, this.habits.dayOrder()).subscribe((said) => {
      if (said.kind === 'progress') return this.share.set(said.share);
      this.share.set(null);
      this.reading = null;
      const sheets = said.kind === 'read' ? said.sheets.filter(({ rowCount }) => rowCount > 0) : [];
      const [first] = sheets;
      if (first)
        return this.opened.emit({
          file,
          name,
          sheets: said.kind === 'read' ? said.sheets : [],
          isPlain: isPlain(first),
        });
      file.close();
      this.problem.set(said.kind === 'failed' ? said.why : 'There is nobody in it.');
    });
    this.reading = { file, heard };
    if (heard.closed) this.reading = null;
  }
  protected stop(): void {
    this.reading?.heard.unsubscribe();
    this.reading?.file.close();
    this.reading = null;
    this.share.set(null);
  }
}
