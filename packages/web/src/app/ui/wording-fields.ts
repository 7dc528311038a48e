import { ChangeDetectionStrategy, Component, computed, type ElementRef, input, output, viewChild } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { LocatedProblem, WordingText } from '@convite/contract';
import { isOfEvent, measureText, mergeFields, readWording, type Channel } from '@convite/core';
import { FieldProblem } from './field-problem';
import { typed } from './typed';

const fields = Object.entries(mergeFields).map(([name, says]) => ({ name, says }));

/** Subject and body with merge fields: press a field to put it where the cursor stands. Texts show what they will cost. */
@Component({
  selector: 'cv-wording-fields',
  imports: [FieldProblem, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (channel() === 'email') {
      <mat-form-field
        ><mat-label>Subject</mat-label
        ><input matInput dir="auto" [value]="wording().subject" (input)="change({ subject: typed($event) })"
      /></mat-form-field>
      <cv-field-problem [problems]="allProblems()" path="subject" />
    }
    <mat-form-field
      ><mat-label>{{ channel() === 'email' ? 'Message' : 'Text' }}</mat-label
      ><textarea
        matInput
        #body
        dir="auto"
        [rows]="channel() === 'email' ? 11 : 4"
        [value]="wording().body"
        (input)="change({ body: typed($event) })"
      ></textarea>
    </mat-form-field>
    <cv-field-problem [problems]="allProblems()" path="body" />
    @if (channel() === 'text') {
      <p class="small" [class.quiet]="measure().parts < 2">
        {{ measure().units }} of {{ measure().unitsPerPart }}
        {{ measure().encoding === 'UCS-2' ? 'characters' : 'septets' }}, {{ measure().encoding }}, {{ measure().parts }}
        {{ measure().parts === 1 ? 'part' : 'parts' }} as typed; fields are counted when filled (see the preview).
        @if (measure().costly.length) {
          Without {{ measure().costly.join(' ') }} more would fit.
        }
      </p>
    }
    <div class="chips" role="group" aria-label="Merge fields">
      @for (field of fields(); track field.name) {
        <button type="button" class="chip" [title]="field.says" (click)="insert(field.name)">{{ field.name }}</button>
      }
    </div>
  `,
  styles: `
    :host {
      display: block;
    }
    cv-field-problem + mat-form-field,
    .chips {
      margin-top: 12px;
    }
  `,
})
export class WordingFields {
  protected readonly typed = typed;
  readonly channel = input.required<Channel>();
  readonly wording = input.required<WordingText>();
  readonly problems = input<readonly LocatedProblem[]>([]);
  /** Fields of an event are offered. */
  readonly isOfEvent = input(true);
  readonly wordingChange = output<WordingText>();
  private readonly body = viewChild.required<ElementRef<HTMLTextAreaElement>>('body');
  protected readonly fields = computed(() => fields.filter(({ name }) => this.isOfEvent() || !isOfEvent(name)));
  protected readonly measure = computed(() => measureText(this.wording().body));
  /** Our own reading as one types, and what the server added. */
  protected readonly allProblems = computed(() => {
    const { subject, body } = this.wording();
    const own: LocatedProblem[] = [
      ...readWording(subject, 'subject').problems,
      ...readWording(body, 'body').problems,
    ].map(({ code, path, facts }) => ({ code, path, ...(facts && { facts: { ...facts } }) }));
    const seen = new Set(own.map(({ code, path }) => code + path));
    return [...own, ...this.problems().filter(({ code, path }) => !seen.has(code + path))];
  });

  protected change(part: Partial<WordingText>): void {
    this.wordingChange.emit({ ...this.wording(), ...part });
  }
  protected insert(name: string): void {
    const { selectionStart, selectionEnd } = this.body().nativeElement;
    const { body } = this.wording();
    this.change({ body: `${body.slice(0, selectionStart)}{{${name}}}${body.slice(selectionEnd)}` });
    this.body().nativeElement.focus();
  }
}
