import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { LocatedProblem } from '@convite/contract';
import {
  inPlainAlphabet,
  measureText,
  plainTextOf,
  prepareDocument,
  type Block,
  type Channel,
  type WordingDocument,
} from '@convite/core';
import { FieldProblem } from '../field-problem';
import { typed } from '../typed';
import { offeredFor } from './insertions';
import { RichEditor } from './rich-editor';
import { StartFrom } from './start-from';

/** What a message says: the one editor for all of them. An email has a subject, a line beside it and blocks; a text is typed, and says what it will cost. */
@Component({
  selector: 'cv-wording-editor',
  imports: [FieldProblem, MatFormFieldModule, MatInputModule, RichEditor, StartFrom],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-start-from
      [channel]="channel()"
      [isOfEvent]="isOfEvent()"
      [wording]="wording()"
      (begun)="wordingChange.emit($event)"
    />
    @if (channel() === 'email') {
      <mat-form-field subscriptSizing="dynamic"
        ><mat-label>Subject</mat-label
        ><input
          matInput
          dir="auto"
          maxlength="500"
          [value]="wording().subject"
          (input)="change({ subject: typed($event) })"
      /></mat-form-field>
      <cv-field-problem [problems]="allProblems()" path="subject" />
      <mat-form-field subscriptSizing="dynamic"
        ><mat-label>Line beside the subject</mat-label
        ><input
          matInput
          dir="auto"
          maxlength="300"
          placeholder="left empty, mail programs show how the message begins"
          [value]="wording().preheader ?? ''"
          (input)="change({ preheader: typed($event) || undefined })"
      /></mat-form-field>
      <cv-field-problem [problems]="allProblems()" path="preheader" />
      @defer (on immediate) {
        <cv-rich-editor [wording]="wording()" [ofEvent]="isOfEvent()" (blocks)="change({ blocks: $event })" />
      } @placeholder {
        <p class="quiet" role="status">Opening the editor …</p>
      }
      <cv-field-problem [problems]="allProblems()" path="body" />
    } @else {
      <mat-form-field subscriptSizing="dynamic"
        ><mat-label>Text</mat-label
        ><textarea matInput #body dir="auto" rows="4" [value]="text()" (input)="write(typed($event))"></textarea>
      </mat-form-field>
      <cv-field-problem [problems]="allProblems()" path="body" />
      <p class="small" [class.quiet]="measure().parts < 2">
        {{ measure().units }} of {{ measure().unitsPerPart }}
        {{ measure().encoding === 'UCS-2' ? 'characters' : 'septets' }}, {{ measure().encoding }}, {{ measure().parts }}
        {{ measure().parts === 1 ? 'part' : 'parts' }} as typed; fields are counted when filled (see the preview).
        @if (measure().costly.length) {
          Without {{ measure().costly.join(' ') }} more would fit.
          @if (plainer(); as plain) {
            <button type="button" class="link" (click)="write(plain)">
              Write them so that they cost less: {{ replaced() }}
            </button>
          }
        }
      </p>
      <div class="chips" role="group" aria-label="Merge fields">
        @for (field of fields(); track field.name) {
          <button type="button" class="chip" [title]="field.says" (click)="insert(body, field.name)">
            {{ field.name }}
          </button>
        }
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 10px;
    }
    p {
      margin: 0;
    }
  `,
})
export class WordingEditor {
  protected readonly typed = typed;
  readonly channel = input.required<Channel>();
  readonly wording = input.required<WordingDocument>();
  readonly problems = input<readonly LocatedProblem[]>([]);
  /** Fields and blocks of an event are offered. */
  readonly isOfEvent = input(true);
  readonly wordingChange = output<WordingDocument>();
  protected readonly fields = computed(() =>
    offeredFor('', this.isOfEvent()).filter(({ insertion }) => insertion.kind === 'field'),
  );
  protected readonly text = computed(() => plainTextOf(this.wording()));
  protected readonly measure = computed(() => measureText(this.text()));
  /** The same in the cheaper alphabet as far as that goes; empty where nothing is gained. */
  protected readonly plainer = computed(() => {
    const [text, plain] = [this.text(), inPlainAlphabet(this.text())];
    return plain === text ? '' : plain;
  });
  protected readonly replaced = computed(() =>
    this.measure()
      .costly.map((character) => [character, inPlainAlphabet(character)])
      .filter(([from, to]) => from !== to)
      .map(([from = '', to = '']) => `${from} → ${to}`)
      .join(', '),
  );
  /** Our own reading as one types, and what the server added. */
  protected readonly allProblems = computed(() => {
    const own: LocatedProblem[] = prepareDocument(this.wording()).problems.map(({ code, path, facts }) => ({
      code,
      path,
      ...(facts && { facts: { ...facts } }),
    }));
    const seen = new Set(own.map(({ code, path }) => code + path));
    return [...own, ...this.problems().filter(({ code, path }) => !seen.has(code + path))];
  });

  protected change(part: { subject?: string; preheader?: string | undefined; blocks?: readonly Block[] }): void {
    this.wordingChange.emit({ ...this.wording(), ...part });
  }
  protected write(text: string): void {
    this.change({ blocks: text === '' ? [] : [{ kind: 'plain', text }] });
  }
  protected insert(body: HTMLTextAreaElement, name: string): void {
    const { selectionStart, selectionEnd } = body;
    const text = this.text();
    this.write(`${text.slice(0, selectionStart)}{{${name}}}${text.slice(selectionEnd)}`);
    body.focus();
  }
}
