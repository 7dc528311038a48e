import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { signupFields, type List, type SignupFields, type SignupForm } from '@convite/contract';
import { isSame } from '@convite/core';
import * as z from 'zod';
import { Session } from '../api/session';
import { SignUpFormsApi } from '../api/sign-up-forms';
import { sayError } from '../refused';
import { followStored } from '../ui/form/follow-stored';
import { Meanwhile, type PartWords } from '../ui/form/meanwhile';
import { Section } from '../ui/form/section';
import { keepTyped } from '../ui/form/unsaved';
import { ListsField } from '../ui/lists-field';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';
import { WordsField } from '../ui/words-field';

export const blankForm: SignupFields = {
  name: '',
  intro: '',
  lists: [],
  topics: [],
  asksMobile: false,
  emailWords: 'Write to me about your events. I can stop it at any time.',
  textWords: '',
  thanks: 'You are in. We will write when there is something to tell.',
  isOpen: true,
};
/** What is typed may not be whole yet. */
const typedForm = signupFields.extend({
  name: z.string().max(120),
  intro: z.string().max(1000),
  emailWords: z.string().max(300),
  textWords: z.string().max(300),
  thanks: z.string().max(1000),
});
const kept = z.object({ base: typedForm, value: typedForm });

/** A form by which people sign up: what it asks, what they agree to in whose words, and where it is. */
@Component({
  selector: 'cv-sign-up-editor',
  imports: [
    ListsField,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    Meanwhile,
    Section,
    WordsField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="stack" (submit)="save($event)">
      <cv-meanwhile what="form" [words]="words()" [followed]="followed" [mine]="edit()" (settled)="problem.set('')" />
      <cv-section heading="What they see">
        <mat-form-field class="half" subscriptSizing="dynamic"
          ><mat-label>Heading</mat-label
          ><input matInput maxlength="120" dir="auto" [value]="edit().name" (input)="change({ name: typed($event) })"
        /></mat-form-field>
        <div class="half">
          <mat-checkbox [checked]="edit().isOpen" (change)="change({ isOpen: $event.checked })"
            >open: people can sign up</mat-checkbox
          >
        </div>
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>What stands above it</mat-label
          ><textarea
            matInput
            rows="3"
            dir="auto"
            maxlength="1000"
            [value]="edit().intro"
            (input)="change({ intro: typed($event) })"
          ></textarea>
        </mat-form-field>
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>What they read once they are in</mat-label
          ><textarea
            matInput
            rows="2"
            dir="auto"
            maxlength="1000"
            [value]="edit().thanks"
            (input)="change({ thanks: typed($event) })"
          ></textarea>
        </mat-form-field>
      </cv-section>
      <cv-section heading="What it asks" about="Name, address and time zone; nobody is in before they confirm by mail.">
        <div class="half">
          <cv-lists-field
            label="They go on the lists"
            [lists]="lists()"
            [chosen]="edit().lists"
            (chosenChange)="change({ lists: [...$event] })"
          />
        </div>
        <div class="half">
          <cv-words-field
            label="They choose among the topics"
            hint="type a topic"
            [options]="topics()"
            [chosen]="edit().topics"
            (chosenChange)="change({ topics: [...$event] })"
          />
        </div>
        <mat-checkbox [checked]="edit().asksMobile" (change)="change({ asksMobile: $event.checked })"
          >also a mobile number, for texts</mat-checkbox
        >
      </cv-section>
      <cv-section
        heading="What they agree to"
        about="Your words beside each box, which is never ticked for them. They are kept with the person."
      >
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>To email</mat-label
          ><input
            matInput
            maxlength="300"
            dir="auto"
            [value]="edit().emailWords"
            (input)="change({ emailWords: typed($event) })"
        /></mat-form-field>
        @if (edit().asksMobile) {
          <mat-form-field subscriptSizing="dynamic"
            ><mat-label>To texts</mat-label
            ><input
              matInput
              maxlength="300"
              dir="auto"
              [value]="edit().textWords"
              (input)="change({ textWords: typed($event) })"
          /></mat-form-field>
        }
      </cv-section>
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
      @if (session.canMarket()) {
        <div class="row">
          <button matButton="filled" [disabled]="form() !== null && !followed.isChanged()">Save</button>
        </div>
      }
    </form>
    @if (form(); as it) {
      <section class="place" aria-label="Where it is">
        <div class="stack tight">
          <h3>Where it is</h3>
          <a [href]="it.url" target="_blank" rel="noopener">{{ it.url }}</a>
          <div class="row">
            <button class="link small" type="button" (click)="copy(it.url, 'The address is copied.')">
              Copy the address
            </button>
            <a class="small" [href]="picture()" download="sign-up-address.svg">The picture, to print</a>
          </div>
          <h3>In another page</h3>
          <pre class="mono small" tabindex="0">{{ it.html }}</pre>
          <button class="link small" type="button" (click)="copy(it.html, 'The block is copied.')">
            Copy the block
          </button>
        </div>
        <img [src]="picture()" alt="The address of the form, for a telephone’s camera" width="160" height="160" />
      </section>
    }
  `,
  styles: `
    .place {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      gap: 20px;
      margin-top: 20px;
      padding-top: 20px;
      border-top: 1px solid var(--line);
      align-items: start;
    }
    .place button {
      justify-self: start;
    }
    pre {
      max-height: 180px;
      overflow: auto;
      margin: 0;
      padding: 10px;
      background: var(--paper);
      border: 1px solid var(--line);
    }
    img {
      background: #fff;
    }
    @media (max-width: 700px) {
      .place {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class SignUpEditor {
  protected readonly typed = typed;
  private readonly api = inject(SignUpFormsApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  /** Null for a new one. */
  readonly form = input.required<SignupForm | null>();
  readonly lists = input.required<readonly List[]>();
  readonly topics = input.required<readonly string[]>();
  readonly saved = output<number>();

  private readonly stored = computed(
    () => {
      const form = this.form();
      if (!form) return blankForm;
      const { id: _, url: __, html: ___, ...fields } = form;
      return fields;
    },
    { equal: isSame },
  );
  protected readonly edit = signal<SignupFields>(blankForm);
  protected readonly followed = followStored(this.stored, { typed: this.edit, show: (edit) => this.edit.set(edit) });
  protected readonly problem = signal('');
  protected readonly picture = computed(() => this.api.pictureUrl(this.form()?.id ?? 0));
  protected readonly words = computed((): PartWords<SignupFields, 'seen' | 'asked' | 'agreed'> => ({
    parts: {
      seen: ['name', 'intro', 'thanks', 'isOpen'],
      asked: ['lists', 'topics', 'asksMobile'],
      agreed: ['emailWords', 'textWords'],
    },
    names: { seen: 'What they see', asked: 'What it asks', agreed: 'What they agree to' },
    say: (form, part) =>
      part === 'seen'
        ? `${form.name}${form.isOpen ? '' : ', closed'}`
        : part === 'asked'
          ? `${form.lists.length} lists, ${form.topics.length} topics${form.asksMobile ? ', a number' : ''}`
          : [form.emailWords, form.textWords].filter(Boolean).join(' · '),
  }));

  constructor() {
    keepTyped({
      key: () => (this.followed.base() ? `sign-up.${this.form()?.id ?? 'new'}` : ''),
      value: computed(() => ({ base: this.followed.base() ?? blankForm, value: this.edit() })),
      isChanged: this.followed.isChanged,
      read: (text) => kept.safeParse(text).data ?? null,
      restore: (before) => this.followed.restore(before),
    });
  }

  protected change(part: Partial<SignupFields>): void {
    this.edit.update((edit) => ({ ...edit, ...part }));
  }
  protected save(submit: Event): void {
    submit.preventDefault();
    const fields = this.edit();
    if (!fields.name.trim()) return this.problem.set('Give the form a heading.');
    if (!fields.emailWords.trim()) return this.problem.set('Say what one agrees to by signing up.');
    const id = this.form()?.id ?? null;
    const was = id === null ? null : this.followed.base();
    this.api.save(id, { ...fields, ...(was && { was }) }).subscribe({
      next: (saved) => {
        this.problem.set('');
        this.followed.wasSaved(fields);
        this.toast.say('Saved.');
        this.saved.emit(saved);
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
  protected copy(text: string, said: string): void {
    void navigator.clipboard.writeText(text).then(
      () => this.toast.say(said),
      () => this.toast.say('It could not be copied: mark it, and copy it by hand.'),
    );
  }
}
