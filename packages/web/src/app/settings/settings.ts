import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { rxResource, toSignal } from '@angular/core/rxjs-interop';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import type { LocatedProblem, Settings } from '@convite/contract';
import { webCalendarVariables, type DayOrder } from '@convite/core';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { problemsOf, sayError } from '../refused';
import { FieldProblem } from '../ui/field-problem';
import { ZoneField } from '../ui/time/zone-field';
import { Toast } from '../ui/toast';
import { AuditLog } from './audit-log';
import { samplePattern } from './sample-pattern';
import { ProgramKeys } from './program-keys';
import { Team } from './team';

/** Organisation, senders, web calendars, team, and the audit log. */
@Component({
  selector: 'cv-settings',
  imports: [
    AuditLog,
    FieldProblem,
    MatButtonModule,
    MatFormFieldModule,
    MatInputModule,
    MatSelectModule,
    ReactiveFormsModule,
    Team,
    ProgramKeys,
    ZoneField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Settings</h1>
        @if (!session.isOwner()) {
          <span class="quiet">An owner may change these.</span>
        }
      </div>
      @if (saved.error()) {
        <p class="note alarm" role="alert">The settings cannot be read just now.</p>
      } @else if (!saved.hasValue()) {
        <p class="quiet" role="status">Reading the settings …</p>
      }
      @if (saved.hasValue()) {
        <div class="columns wide">
          <form class="stack loose" [formGroup]="form" (ngSubmit)="save()">
            <section class="sheet fields" aria-label="Organisation">
              <h2>Organisation</h2>
              <div class="half">
                <mat-form-field
                  ><mat-label>Name</mat-label><input matInput formControlName="organisation" /></mat-form-field
                ><cv-field-problem [problems]="problems()" path="organisation" />
              </div>
              <div class="quarter">
                <cv-zone-field label="Time zone" formControlName="zone" /><cv-field-problem
                  [problems]="problems()"
                  path="zone"
                />
              </div>
              <div class="quarter">
                <mat-form-field
                  ><mat-label>Telephone region</mat-label
                  ><input matInput formControlName="region" maxlength="2" /></mat-form-field
                ><cv-field-problem [problems]="problems()" path="region" />
              </div>
              <div class="quarter">
                <mat-form-field
                  ><mat-label>A day in numbers is</mat-label
                  ><mat-select formControlName="dayOrder">
                    <mat-option value="day-first">day, month: 27/11</mat-option>
                    <mat-option value="month-first">month, day: 11/27</mat-option>
                    <mat-option value="iso">year, month, day</mat-option>
                  </mat-select></mat-form-field
                >
              </div>
              <div class="quarter">
                <mat-form-field
                  ><mat-label>A week begins on</mat-label
                  ><mat-select formControlName="firstWeekday">
                    <mat-option [value]="1">Monday</mat-option>
                    <mat-option [value]="7">Sunday</mat-option>
                  </mat-select></mat-form-field
                >
              </div>
              <div>
                <mat-form-field
                  ><mat-label>Postal address, in the foot of every email</mat-label
                  ><textarea matInput rows="2" formControlName="postalAddress"></textarea></mat-form-field
                ><cv-field-problem [problems]="problems()" path="postalAddress" />
              </div>
            </section>
            <section class="sheet fields" aria-label="Senders">
              <h2>Senders</h2>
              <div class="third">
                <mat-form-field
                  ><mat-label>Emails come from</mat-label
                  ><input matInput formControlName="senderName" /></mat-form-field
                ><cv-field-problem [problems]="problems()" path="sender.name" />
              </div>
              <div class="third">
                <mat-form-field
                  ><mat-label>with the address</mat-label
                  ><input matInput type="email" formControlName="senderEmail" /></mat-form-field
                ><cv-field-problem [problems]="problems()" path="sender.email" />
              </div>
              <div class="third">
                <mat-form-field
                  ><mat-label>Answers go to</mat-label
                  ><input matInput type="email" formControlName="replyTo" /></mat-form-field
                ><cv-field-problem [problems]="problems()" path="sender.replyTo" />
              </div>
              <div class="third">
                <mat-form-field
                  ><mat-label>Letters are handed on to</mat-label
                  ><input matInput type="email" formControlName="lettersTo" /></mat-form-field
                ><cv-field-problem [problems]="problems()" path="lettersTo" />
              </div>
              <div class="third">
                <mat-form-field
                  ><mat-label>Texts come from</mat-label
                  ><input matInput formControlName="textSender" maxlength="20" /></mat-form-field
                ><cv-field-problem [problems]="problems()" path="textSender" />
              </div>
              <fieldset class="pace" formGroupName="pace">
                <legend>
                  At most so many messages, as the mail server and the text gateway allow; empty for no bound
                </legend>
                @for (channel of channels; track channel) {
                  <div class="fields" [formGroupName]="channel">
                    <span class="quarter">{{ channel === 'email' ? 'Emails' : 'Texts' }}</span>
                    @for (unit of units; track unit[0]) {
                      <div class="quarter">
                        <mat-form-field
                          ><mat-label>{{ unit[1] }}</mat-label
                          ><input matInput type="number" min="1" [formControlName]="unit[0]" /></mat-form-field
                        ><cv-field-problem [problems]="problems()" [path]="'pace.' + channel + '.' + unit[0]" />
                      </div>
                    }
                  </div>
                }
              </fieldset>
              <div class="half">
                <mat-form-field
                  ><mat-label>Keep what went out, in months; empty for ever</mat-label
                  ><input matInput type="number" min="3" max="240" formControlName="keepMonths" /></mat-form-field
                ><cv-field-problem [problems]="problems()" path="keepMonths" />
              </div>
              <div class="half">
                <mat-form-field
                  ><mat-label>Topics, separated by commas</mat-label><input matInput formControlName="topics"
                /></mat-form-field>
              </div>
            </section>
            <section class="sheet stack" aria-label="Web calendars">
              <h2>Web calendars</h2>
              <p class="small">
                A name and the address pattern (RFC 6570) that makes a new entry there. Example:
                <code class="mono">https://calendar.example/add&#123;?title,start,end,place&#125;</code>
              </p>
              <div formArrayName="webCalendars" class="stack">
                @for (group of form.controls.webCalendars.controls; track group; let index = $index) {
                  <div [formGroupName]="index" class="fields">
                    <div class="quarter">
                      <mat-form-field
                        ><mat-label>Name</mat-label><input matInput formControlName="name"
                      /></mat-form-field>
                    </div>
                    <div class="pattern">
                      <mat-form-field
                        ><mat-label>Pattern</mat-label><input matInput class="mono" formControlName="pattern"
                      /></mat-form-field>
                      <cv-field-problem [problems]="patternProblems(index)" path="pattern" /><cv-field-problem
                        [problems]="problems()"
                        [path]="'webCalendars.' + index + '.pattern'"
                      />
                      @if (sample(index); as link) {
                        <p class="small quiet wrap">Sample: {{ link }}</p>
                      }
                    </div>
                    @if (session.isOwner()) {
                      <button matButton type="button" (click)="form.controls.webCalendars.removeAt(index)">
                        Remove
                      </button>
                    }
                  </div>
                }
              </div>
              @if (session.isOwner()) {
                <div>
                  <button matButton="outlined" type="button" (click)="addCalendar('', '')">Add a web calendar</button>
                </div>
              }
              <details>
                <summary>What a pattern may use</summary>
                <dl class="facts small">
                  @for (variable of variables; track variable[0]) {
                    <dt class="mono">{{ variable[0] }}</dt>
                    <dd>{{ variable[1] }}</dd>
                  }
                </dl>
              </details>
            </section>
            <section class="sheet stack" aria-label="Signing in">
              <h2>Signing in</h2>
              <label class="check"
                ><input type="checkbox" formControlName="requiresSecondFactor" /> Everybody on the team signs in with a
                second factor; who has none yet sets it up first</label
              >
            </section>
            <section class="sheet stack" aria-label="Calendars and time zones">
              <h2>Calendars and time zones</h2>
              <label class="check"
                ><input type="checkbox" formControlName="allowPrivateAddresses" /> Watched calendars may stand inside
                this house’s own network</label
              >
              @if (about.hasValue()) {
                <p class="small quiet">
                  Time zones by the tz database {{ about.value().zoneData }}, {{ about.value().zones }} zones. A newer
                  Node brings newer data.
                </p>
              }
            </section>
            @if (problem()) {
              <p class="note alarm" role="alert">{{ problem() }}</p>
            }
            @if (session.isOwner()) {
              <div><button matButton="filled">Save the settings</button></div>
            }
          </form>
          <div class="stack loose">
            <cv-team />
            @if (session.isOwner()) {
              <cv-program-keys />
            }
            @if (session.canMarket()) {
              <cv-audit-log />
            }
          </div>
        </div>
      }
    </main>
  `,
  styles: `
    .fields > h2 {
      margin-bottom: 8px;
    }
    .fields > .pattern {
      grid-column: span 7;
    }
    .pace {
      grid-column: 1 / -1;
      display: grid;
      gap: 12px;
      margin: 0;
      padding: 0;
      border: 0;
    }
    .pace span {
      align-self: center;
    }
  `,
})
export class SettingsPage {
  private readonly api = inject(SettingsApi);
  private readonly toast = inject(Toast);
  private readonly fb = inject(NonNullableFormBuilder);
  protected readonly session = inject(Session);
  protected readonly variables = Object.entries(webCalendarVariables);
  protected readonly channels = ['email', 'text'] as const;
  protected readonly units = [
    ['perSecond', 'a second'],
    ['perHour', 'an hour'],
    ['perDay', 'a day'],
  ] as const;
  protected readonly about = rxResource({ stream: () => this.api.about() });
  protected readonly saved = rxResource({ stream: () => this.api.get() });
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly form = this.fb.group({
    organisation: '',
    postalAddress: '',
    zone: '',
    region: '',
    senderName: '',
    senderEmail: '',
    replyTo: '',
    lettersTo: '',
    textSender: '',
    pace: this.fb.group({ email: this.paceGroup(), text: this.paceGroup() }),
    keepMonths: this.fb.control<number | null>(null),
    topics: '',
    allowPrivateAddresses: false,
    dayOrder: this.fb.control<DayOrder>('day-first'),
    firstWeekday: this.fb.control<1 | 7>(1),
    requiresSecondFactor: false,
    webCalendars: this.fb.array([this.calendarGroup('', '')]),
  });
  private readonly changes = toSignal(this.form.valueChanges);
  private readonly samples = computed(() => {
    this.changes();
    return this.form.controls.webCalendars.getRawValue().map(({ pattern }) => samplePattern(pattern));
  });

  constructor() {
    effect(() => {
      if (this.saved.hasValue()) {
        const value = this.saved.value();
        untracked(() => this.fill(value));
      }
    });
    if (!this.session.isOwner()) this.form.disable();
  }

  protected patternProblems = (index: number): readonly LocatedProblem[] => this.samples()[index]?.problems ?? [];
  protected sample = (index: number): string => this.samples()[index]?.link ?? '';

  protected addCalendar(name: string, pattern: string): void {
    this.form.controls.webCalendars.push(this.calendarGroup(name, pattern));
  }
  protected save(): void {
    const { senderName, senderEmail, replyTo, topics, ...value } = this.form.getRawValue();
    const settings: Settings = {
      ...value,
      region: value.region.toUpperCase(),
      sender: { name: senderName, email: senderEmail, replyTo },
      topics: topics
        .split(',')
        .map((topic) => topic.trim())
        .filter(Boolean),
    };
    this.api.save(settings).subscribe({
      next: () => {
        this.problem.set('');
        this.problems.set([]);
        this.toast.say('The settings are saved.');
        // The shell reads and writes days as they say.
        this.session.load().subscribe();
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
      },
    });
  }
  private fill({ sender, topics, webCalendars, ...value }: Settings): void {
    this.form.controls.webCalendars.clear();
    for (const { name, pattern } of webCalendars) this.addCalendar(name, pattern);
    this.form.patchValue({
      ...value,
      senderName: sender.name,
      senderEmail: sender.email,
      replyTo: sender.replyTo,
      topics: topics.join(', '),
    });
    if (!this.session.isOwner()) this.form.disable();
  }
  private paceGroup() {
    const bound = () => this.fb.control<number | null>(null);
    return this.fb.group({ perSecond: bound(), perHour: bound(), perDay: bound() });
  }
  private calendarGroup(name: string, pattern: string) {
    return this.fb.group({ name, pattern });
  }
}
