import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { rxResource } from '@angular/core/rxjs-interop';
import { map } from 'rxjs';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { editOf, personEdit, type List, type LocatedProblem, type PersonEdit } from '@convite/contract';
import { isLanguage, isSame, languages, timeWords } from '@convite/core';
import * as z from 'zod';
import { AudienceApi } from '../api/audience';
import { reloadOn } from '../api/live';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { problemsOf, Refused, sayError } from '../refused';
import { FieldProblem } from '../ui/field-problem';
import { followStored } from '../ui/form/follow-stored';
import { Meanwhile } from '../ui/form/meanwhile';
import { keepTyped } from '../ui/form/unsaved';
import { Panel } from '../ui/panel';
import { Toast } from '../ui/toast';
import { ZoneField } from '../ui/time/zone-field';
import { When } from '../ui/when';
import { typed } from '../ui/typed';
import { PersonAddresses } from './person-addresses';
import { PersonComing } from './person-coming';
import { PersonHeld } from './person-held';
import { PersonNotes } from './person-notes';
import { PersonSame } from './person-same';
import { PersonTimeline } from './person-timeline';
import { personWords } from './person-parts';

const nobody: PersonEdit = {
  name: '',
  email: '',
  mobile: '',
  zone: '',
  language: '',
  lists: [],
  topics: [],
  fields: {},
  textConsent: false,
  emailConsent: true,
  liftBounce: false,
  how: '',
};
/** What is typed may not be whole yet. */
const typedPerson = personEdit.extend({ zone: z.string().max(60) });
const kept = z.object({ base: typedPerson, value: typedPerson });

/** One subscriber: what is known of them, their lists, and what they said about being written to, with how. */
@Component({
  selector: 'cv-person-panel',
  imports: [
    FieldProblem,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    Meanwhile,
    Panel,
    PersonAddresses,
    PersonComing,
    PersonHeld,
    PersonNotes,
    PersonSame,
    PersonTimeline,
    When,
    ZoneField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-panel [label]="name()" (closed)="closed.emit()">
      @if (person(); as it) {
        <section class="stack loose">
          <cv-meanwhile what="person" [words]="words" [followed]="followed" [mine]="edit()" (settled)="clear()" />
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
            @if (it.phone) {
              <p class="small">{{ it.phone }} <span class="quiet">a landline: no text is sent to it</span></p>
            }
            <div>
              <cv-zone-field label="Time zone" [value]="edit().zone" (valueChange)="change('zone', $event)" />
              @if (it.zoneFrom && edit().zone === it.zone) {
                <p class="small quiet">
                  A guess, from the country of their {{ it.zoneFrom === 'phone' ? 'telephone number' : 'address' }}.
                </p>
              }
              <cv-field-problem [problems]="problems()" path="zone" />
            </div>
            <mat-form-field subscriptSizing="dynamic"
              ><mat-label>Reads</mat-label
              ><select matNativeControl (change)="reads(typed($event))">
                <option value="" [selected]="edit().language === ''">as the house writes</option>
                @for (one of languages; track one.key) {
                  <option [value]="one.key" [selected]="edit().language === one.key">{{ one.name }}</option>
                }
              </select></mat-form-field
            >
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
              @if (!it.emailConsent && !it.optedOut) {
                <p class="small quiet">
                  Nobody said that they agreed: they hear of what they are guests of, and of nothing else.
                </p>
              }
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
              @for (list of offered(); track list.id) {
                <mat-checkbox [checked]="edit().lists.includes(list.id)" (change)="toggle(list.id)">{{
                  list.name
                }}</mat-checkbox>
              }
            </fieldset>
            @if (topics().length) {
              <fieldset>
                <legend>
                  Asked for the topics{{ edit().topics.length ? '' : ': none, so they hear of everything' }}
                </legend>
                @for (topic of topics(); track topic) {
                  <mat-checkbox [checked]="edit().topics.includes(topic)" (change)="toggleTopic(topic)">{{
                    topic
                  }}</mat-checkbox>
                }
              </fieldset>
            }
            @if (it.mindsNoting) {
              <p class="small quiet">Wants nothing noted of the pages that they open.</p>
            }
            @if (it.mostPerWeek; as most) {
              <p class="small">
                Wants {{ most === 1 ? 'one message' : most + ' messages' }} a week at most, as they said themselves.
              </p>
            }
            @if (it.pausedUntil; as until) {
              <p class="small">Asked for quiet until <cv-when [at]="until" [zone]="zone" />.</p>
            }
            @if (it.fields.length) {
              <fieldset>
                <legend>Further fields</legend>
                @for (field of it.fields; track field.id) {
                  <div>
                    <mat-form-field subscriptSizing="dynamic"
                      ><mat-label>{{ field.name }}</mat-label
                      ><input
                        matInput
                        dir="auto"
                        maxlength="1000"
                        [type]="field.type === 'date' ? 'date' : field.type === 'date-time' ? 'datetime-local' : 'text'"
                        [value]="edit().fields[field.id] ?? ''"
                        (input)="setField(field.id, typed($event))"
                    /></mat-form-field>
                    <cv-field-problem [problems]="problems()" [path]="'fields.' + field.id" />
                  </div>
                }
              </fieldset>
            }
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
          <cv-person-coming [personId]="personId()" />
          <cv-person-timeline [personId]="personId()" />
          <cv-person-notes [personId]="personId()" />
          <cv-person-same [personId]="personId()" (changed)="readAgain()" />
          @if (session.canMarket()) {
            <cv-person-addresses [personId]="personId()" (changed)="resource.reload()" />
          }
          @if (session.canMarket()) {
            <cv-person-held [personId]="personId()" [name]="name()" (erased)="leaveErased()" />
          }
        </section>
      } @else if (resource.error()) {
        <p class="note alarm" role="alert">{{ readProblem() }}</p>
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
  protected readonly zone = this.session.zone();
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
  /** Nobody of that number, or nothing that can be read just now. */
  protected readonly readProblem = computed(() => {
    const error = this.resource.error();
    return error instanceof Refused && error.details.status === 404
      ? 'There is nobody of this number, or not any more.'
      : 'This subscriber cannot be read just now.';
  });
  protected readonly name = computed(() => {
    const person = this.person();
    return person ? person.name || person.email || person.mobile : 'A subscriber';
  });
  private readonly stored = computed(
    () => {
      const person = this.person();
      return person && editOf(person);
    },
    { equal: isSame },
  );
  protected readonly edit = signal<PersonEdit>(nobody);
  protected readonly followed = followStored(this.stored, {
    typed: this.edit,
    show: (edit) => this.edit.set(edit),
  });
  /** What is put away is offered to nobody who is not on it. */
  protected readonly offered = computed(() =>
    this.lists().filter(({ id, isArchived }) => !isArchived || this.edit().lists.includes(id)),
  );
  private readonly settings = inject(SettingsApi);
  private readonly houseTopics = reading(() => this.settings.get().pipe(map(({ topics }) => topics)), []);
  /** Those that the house offers, and those that they have beside. */
  protected readonly topics = computed(() => [
    ...new Set([...this.houseTopics.value(), ...(this.person()?.topics ?? [])]),
  ]);
  protected readonly languages = languages.map((key) => ({ key, name: timeWords[key].name }));
  protected readonly words = personWords(() => this.lists());
  protected readonly changesConsent = computed(() => {
    const [person, edit] = [this.person(), this.edit()];
    return (
      person !== null &&
      (edit.liftBounce ||
        edit.textConsent !== person.textConsent ||
        (edit.textConsent && edit.mobile !== person.mobile) ||
        edit.emailConsent !== person.emailConsent)
    );
  });
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);

  constructor() {
    keepTyped({
      key: () => (this.followed.base() ? `person.${this.personId()}` : ''),
      value: computed(() => ({ base: this.followed.base() ?? nobody, value: this.edit() })),
      isChanged: this.followed.isChanged,
      read: (text) => kept.safeParse(text).data ?? null,
      restore: (before) => this.followed.restore(before),
    });
    reloadOn(
      () => ['subscribers'],
      () => this.resource.reload(),
    );
  }

  protected clear(): void {
    this.problem.set('');
    this.problems.set([]);
  }
  /** What is typed of somebody who is gone is no loss. */
  protected leaveErased(): void {
    const base = this.followed.base();
    if (base) this.edit.set(base);
    this.saved.emit();
    this.closed.emit();
  }
  protected readAgain(): void {
    this.resource.reload();
    this.saved.emit();
  }
  protected toggleTopic(topic: string): void {
    this.edit.update((edit) => ({
      ...edit,
      topics: edit.topics.includes(topic) ? edit.topics.filter((one) => one !== topic) : [...edit.topics, topic],
    }));
  }
  protected setField(id: number, text: string): void {
    this.edit.update((edit) => ({ ...edit, fields: { ...edit.fields, [String(id)]: text } }));
  }
  protected change(field: 'name' | 'email' | 'mobile' | 'zone' | 'how', value: string): void {
    this.edit.update((edit) => ({ ...edit, [field]: value }));
  }
  protected reads(language: string): void {
    this.edit.update((edit) => ({ ...edit, language: isLanguage(language) ? language : '' }));
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
    const edit = this.edit();
    const was = this.followed.base();
    this.api.editPerson(this.personId(), { ...edit, ...(was && { was }) }).subscribe({
      next: ({ leftOut }) => {
        this.clear();
        this.edit.set({ ...edit, liftBounce: false, how: '' });
        this.followed.wasSaved(this.edit());
        const gone = leftOut.map(({ name, eventTitle }) => [name, eventTitle].filter(Boolean).join(' · '));
        this.toast.say(gone.length ? `Saved. They do not get any more: ${gone.join('; ')}.` : 'Saved.');
        this.readAgain();
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
        // Somebody may have saved meanwhile: then both are shown.
        this.resource.reload();
      },
    });
  }
}
