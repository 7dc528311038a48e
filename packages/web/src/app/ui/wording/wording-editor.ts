import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import { of, type Observable } from 'rxjs';
import type { LocatedProblem } from '@convite/contract';
import {
  designs,
  hasDrifted,
  inPlainAlphabet,
  languages,
  measureText,
  plainTextOf,
  prepareDocument,
  timeWords,
  type Channel,
  type Design,
  type Language,
  type Version,
  type WordingDocument,
} from '@convite/core';
import { Chooser, type Choice } from '../chooser';
import { FieldProblem } from '../field-problem';
import { Toggle, type ToggleOption } from '../toggle';
import { typed } from '../typed';
import { designWords } from './design-words';
import { offeredFor } from './insertions';
import { RichEditor } from './rich-editor';
import { StartFrom } from './start-from';

/** What a message says: the one editor for all of them. An email has a subject, a line beside it and blocks; a text is typed, and says what it will cost. */
@Component({
  selector: 'cv-wording-editor',
  imports: [Chooser, FieldProblem, MatFormFieldModule, MatInputModule, MatSelectModule, RichEditor, StartFrom, Toggle],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-start-from
      [channel]="channel()"
      [isOfEvent]="isOfEvent()"
      [wording]="wording()"
      (begun)="wordingChange.emit($event)"
    />
    <div class="row">
      @if (channel() === 'email' && !isBlock()) {
        <mat-form-field class="design" subscriptSizing="dynamic"
          ><mat-label>Design</mat-label
          ><mat-select [value]="wording().design ?? ''" (selectionChange)="design($event.value)">
            <mat-option value="">As the house’s mails</mat-option>
            @for (one of designs; track one) {
              <mat-option [value]="one">{{ designWords[one] }}</mat-option>
            }
          </mat-select></mat-form-field
        >
      }
      @if (spoken().length) {
        <cv-toggle label="Language" [options]="spoken()" [value]="shown()" (valueChange)="speak($event)" />
      }
      @if (unspoken().length) {
        <mat-form-field class="add" subscriptSizing="dynamic"
          ><mat-label>In another language</mat-label
          ><mat-select [value]="null" (selectionChange)="addLanguage($event.value); $event.source.value = null">
            @for (one of unspoken(); track one.key) {
              <mat-option [value]="one.key">{{ one.label }}</mat-option>
            }
          </mat-select></mat-form-field
        >
      }
      @if (language(); as one) {
        <button type="button" class="link small" (click)="dropLanguage(one)">Take {{ nameOf(one) }} out</button>
      }
    </div>
    @if (channel() === 'email') {
      @if (!isBlock()) {
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>Subject</mat-label
          ><input
            matInput
            dir="auto"
            maxlength="500"
            [value]="said().subject"
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
            [value]="said().preheader ?? ''"
            (input)="change({ preheader: typed($event) || undefined })"
        /></mat-form-field>
        <cv-field-problem [problems]="allProblems()" path="preheader" />
      }
      @defer (on immediate) {
        <cv-rich-editor [wording]="said()" [ofEvent]="isOfEvent()" (blocks)="change({ blocks: $event })" />
      } @placeholder {
        <p class="quiet" role="status">Opening the editor …</p>
      }
      <cv-field-problem [problems]="allProblems()" path="body" />
      @if (isBlock()) {
        <p class="small quiet">It stands in messages by its name, and says there what it says here.</p>
      } @else if (said().plain; as plain) {
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>Plain text, written apart</mat-label
          ><textarea
            matInput
            dir="auto"
            rows="8"
            maxlength="20000"
            [value]="plain.text"
            (input)="writeApart(typed($event))"
          ></textarea>
        </mat-form-field>
        <cv-field-problem [problems]="allProblems()" path="plain" />
        <p class="small">
          @if (hasDrifted()) {
            <span class="alarm">The message has been changed since this was written.</span>
            <button type="button" class="link" (click)="writeApart(plain.text)">It is right as it stands</button> ·
          }
          <button type="button" class="link" (click)="change({ plain: undefined })">
            Make it from the message again
          </button>
        </p>
      } @else {
        <p class="small quiet">
          Who reads plain text gets the same words.
          <button type="button" class="link" (click)="writeApart(text())">Write the plain text apart</button>
        </p>
      }
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
      <cv-chooser
        label="Put in a field"
        placeholder="Put in a field"
        [find]="findField"
        [clears]="true"
        (chosen)="insert(body, $event.value)"
      />
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
    .design {
      width: 250px;
    }
    .add {
      width: 200px;
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
  /** A part of messages: it has no subject, and looks as they do. */
  readonly isBlock = input(false);
  readonly wordingChange = output<WordingDocument>();
  protected readonly findField = (typed: string): Observable<readonly Choice<string>[]> =>
    of(
      offeredFor(typed, this.isOfEvent())
        .filter(({ insertion }) => insertion.kind === 'field')
        .map(({ name, says }) => ({ value: name, name, about: says })),
    );
  /** In which language it is written just now; null for the first. */
  protected readonly language = linkedSignal<readonly Language[], Language | null>({
    source: () => languagesOf(this.wording()),
    computation: (spoken, before) => spoken.find((one) => one === before?.value) ?? null,
  });
  protected readonly said = computed((): Version => {
    const language = this.language();
    return (language && this.wording().languages?.[language]) ?? this.wording();
  });
  protected readonly shown = computed((): Language | 'first' => this.language() ?? 'first');
  protected readonly spoken = computed((): ToggleOption<Language | 'first'>[] => {
    const spoken = languagesOf(this.wording());
    return spoken.length ? [{ key: 'first', label: 'First language' }, ...spoken.map(optionOf)] : [];
  });
  protected readonly unspoken = computed(() => {
    const spoken = languagesOf(this.wording());
    return languages.filter((one) => !spoken.includes(one)).map(optionOf);
  });
  protected readonly nameOf = (language: Language): string => timeWords[language].englishName;
  protected readonly designs = designs;
  protected readonly designWords = designWords;
  protected readonly hasDrifted = computed(() => hasDrifted(this.said()));
  protected readonly text = computed(() => plainTextOf(this.said()));
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
    const own: LocatedProblem[] = prepareDocument(this.said()).problems.map(({ code, path, facts }) => ({
      code,
      path,
      ...(facts && { facts: { ...facts } }),
    }));
    const seen = new Set(own.map(({ code, path }) => code + path));
    const language = this.language();
    // Those of another language stand where that is written.
    const here = this.problems().flatMap((one) => {
      if (language === null) return [one];
      return one.path.startsWith(`${language}.`) ? [{ ...one, path: one.path.slice(language.length + 1) }] : [];
    });
    return [...own, ...here.filter(({ code, path }) => !seen.has(code + path))];
  });

  protected change(part: Partial<Version>): void {
    const [wording, language] = [this.wording(), this.language()];
    if (language === null) return this.wordingChange.emit({ ...wording, ...part });
    this.tellLanguages({ ...wording.languages, [language]: { ...this.said(), ...part } });
  }
  protected design(design: Design | ''): void {
    this.wordingChange.emit({ ...this.wording(), design: design || undefined });
  }
  protected speak(language: Language | 'first'): void {
    this.language.set(language === 'first' ? null : language);
  }
  /** It begins as what is there to be translated. */
  protected addLanguage(language: Language | null): void {
    if (language === null) return;
    const { subject, preheader, blocks } = this.wording();
    this.tellLanguages({ ...this.wording().languages, [language]: { subject, preheader, blocks } });
    this.language.set(language);
  }
  protected dropLanguage(language: Language): void {
    const { [language]: _, ...others } = this.wording().languages ?? {};
    this.tellLanguages(others);
  }
  private tellLanguages(said: WordingDocument['languages']): void {
    const isSome = said && Object.keys(said).length > 0;
    this.wordingChange.emit({ ...this.wording(), languages: isSome ? said : undefined });
  }
  protected writeApart(text: string): void {
    this.change({ plain: { text, of: plainTextOf(this.said()) } });
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

const languagesOf = ({ languages: said }: WordingDocument): Language[] => languages.filter((one) => said?.[one]);
const optionOf = (key: Language) => ({ key, label: timeWords[key].name });
