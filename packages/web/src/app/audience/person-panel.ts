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
import { MatCheckboxModule } from '@angular/material/checkbox';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { List, LocatedProblem, PersonEdit } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { Session } from '../api/session';
import { problemsOf, sayError } from '../refused';
import { FieldProblem } from '../ui/field-problem';
import { Panel } from '../ui/panel';
import { Toast } from '../ui/toast';
import { ZoneField } from '../ui/time/zone-field';
import { When } from '../ui/when';
import { typed } from '../ui/typed';
import { PersonMessages } from './person-messages';

const nobody: PersonEdit = {
  name: '',
  email: '',
  mobile: '',
  zone: '',
  lists: [],
  textConsent: false,
  emailConsent: true,
  liftBounce: false,
  how: '',
};

/** One subscriber: what is known of them, their lists, and what they said about being written to, with how. */
@Component({
  selector: 'cv-person-panel',
  imports: [
    FieldProblem,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    Panel,
    PersonMessages,
    When,
    ZoneField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-panel [label]="name()" (closed)="closed.emit()">
      @if (person(); as it) {
        <section class="stack loose">
          <form class="stack" (submit)="save($event)">
            @for (field of fields; track field.name) {
              <div>
                <mat-form-field subscriptSizing="dynamic"
                  ><mat-label>{{ field.label }}</mat-label
                  ><input matInput [value]="edit()[field.name]" (input)="change(field.name, typed($event))"
                /></mat-form-field>
                <cv-field-problem [problems]="problems()" [path]="field.name" />
              </div>
            }
            <div>
              <cv-zone-field label="Time zone" [value]="edit().zone" (valueChange)="change('zone', $event)" />
              <cv-field-problem [problems]="problems()" path="zone" />
            </div>
            @if (problem()) {
              <p class="note alarm" role="alert">{{ problem() }}</p>
            }
            <div class="row">
              @if (session.canMarket()) {
                <button matButton="filled">Save</button>
              }
            </div>
          </form>
          <div class="stack">
            <fieldset>
              <legend>May be written to</legend>
              <mat-checkbox [checked]="edit().emailConsent" (change)="flip('emailConsent')">by email</mat-checkbox>
              <mat-checkbox [checked]="edit().textConsent" (change)="flip('textConsent')"
                >by text
                @if (!edit().mobile) {
                  <span class="quiet small">needs a mobile number</span>
                } @else if (edit().textConsent && !edit().emailConsent) {
                  <span class="quiet small">agreed once, then opted out of everything: none are sent</span>
                }
              </mat-checkbox>
              @if (it.bounced) {
                <p class="small">
                  <span class="alarm">The address bounced:</span> <q>{{ it.bounceText }}</q>
                </p>
                <mat-checkbox [checked]="edit().liftBounce" (change)="flip('liftBounce')"
                  >write to it again</mat-checkbox
                >
              }
            </fieldset>
            @if (changesConsent()) {
              <label class="stack tight"
                >How did they say so?
                <mat-form-field class="inline" subscriptSizing="dynamic"
                  ><input
                    matInput
                    placeholder="on the phone, on the form at the door …"
                    [value]="edit().how"
                    (input)="change('how', typed($event))" /></mat-form-field
                ><cv-field-problem [problems]="problems()" path="how" />
              </label>
            }
            <fieldset>
              <legend>On the lists</legend>
              @for (list of lists(); track list.id) {
                <mat-checkbox [checked]="edit().lists.includes(list.id)" (change)="toggle(list.id)">{{
                  list.name
                }}</mat-checkbox>
              }
            </fieldset>
            @if (it.consents.length) {
              <h3>What was taken down</h3>
              <ul class="small">
                @for (one of it.consents; track $index) {
                  <li>
                    {{ one.channel }} {{ one.isGiven ? 'yes' : 'no' }}: “{{ one.how }}”
                    <span class="quiet">· {{ one.by && one.by + ', ' }}<cv-when [at]="one.at" [zone]="zone" /></span>
                  </li>
                }
              </ul>
            }
          </div>
          <cv-person-messages [personId]="personId()" />
        </section>
      } @else if (resource.error()) {
        <p class="note alarm" role="alert">This subscriber cannot be read just now.</p>
      } @else {
        <p class="quiet" role="status">Reading …</p>
      }
    </cv-panel>
  `,
  styles: `
    .tight {
      gap: 3px;
    }
    ul {
      margin: 0;
      padding-left: 18px;
    }
  `,
})
export class PersonPanel {
  protected readonly typed = typed;
  private readonly api = inject(AudienceApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly zone = this.session.me()?.organisation.zone ?? 'UTC';
  readonly personId = input.required<number>();
  readonly lists = input.required<readonly List[]>();
  readonly closed = output();
  readonly saved = output();
  protected readonly fields = [
    { name: 'name', label: 'Name' },
    { name: 'email', label: 'Email' },
    { name: 'mobile', label: 'Mobile number' },
  ] as const;
  protected readonly resource = rxResource({
    params: () => this.personId(),
    stream: ({ params }) => this.api.person(params),
  });
  protected readonly person = computed(() => (this.resource.hasValue() ? (this.resource.value() ?? null) : null));
  protected readonly name = computed(() => {
    const person = this.person();
    return person ? person.name || person.email || person.mobile : 'A subscriber';
  });
  protected readonly edit = linkedSignal<PersonEdit>(() => {
    const person = this.person();
    if (!person) return nobody;
    const { name, email, mobile, zone, lists, textConsent, emailConsent } = person;
    return { name, email, mobile, zone, lists, textConsent, emailConsent, liftBounce: false, how: '' };
  });
  protected readonly changesConsent = computed(() => {
    const [person, edit] = [this.person(), this.edit()];
    return (
      person !== null &&
      (edit.liftBounce || edit.textConsent !== person.textConsent || edit.emailConsent !== person.emailConsent)
    );
  });
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);

  protected change(field: 'name' | 'email' | 'mobile' | 'zone' | 'how', value: string): void {
    this.edit.update((edit) => ({ ...edit, [field]: value }));
  }
  protected flip(field: 'textConsent' | 'emailConsent' | 'liftBounce'): void {
    this.edit.update((edit) => ({ ...edit, [field]: !edit[field] }));
  }
  protected toggle(id: number): void {
    this.edit.update(({ lists, ...edit }) => ({
      ...edit,
      lists: lists.includes(id) ? lists.filter((one) => one !== id) : [...lists, id],
    }));
  }
  protected save(submit: Event): void {
    submit.preventDefault();
    this.api.editPerson(this.personId(), this.edit()).subscribe({
      next: () => {
        this.problem.set('');
        this.problems.set([]);
        this.toast.say('Saved.');
        this.resource.reload();
        this.saved.emit();
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
      },
    });
  }
}
