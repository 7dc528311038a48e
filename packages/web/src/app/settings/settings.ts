import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { rxResource, toSignal } from '@angular/core/rxjs-interop';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import { Router, RouterLink, RouterLinkActive } from '@angular/router';
import * as z from 'zod';
import {
  plainLook,
  settings as settingsShape,
  type HouseLook,
  type LocatedProblem,
  type Settings,
} from '@convite/contract';
import {
  languages,
  noPressure,
  timeWords,
  webCalendarVariables,
  type Clock,
  type DayOrder,
  type HousePressure,
  type HouseQuiet,
  type Language,
} from '@convite/core';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { problemsOf, sayError } from '../refused';
import { FieldProblem, FormProblems } from '../ui/field-problem';
import { followStored } from '../ui/form/follow-stored';
import { FormBar } from '../ui/form/form-bar';
import { Meanwhile } from '../ui/form/meanwhile';
import { Section } from '../ui/form/section';
import { keepTyped } from '../ui/form/unsaved';
import { ZoneField } from '../ui/time/zone-field';
import { Toast } from '../ui/toast';
import { AuditLog } from './audit-log';
import { settingsWords } from './settings-parts';
import { WorkdayChoice, type WorkdaysChange } from './workdays';
import { paceUnitWords } from './sender-words';
import { samplePattern } from './sample-pattern';
import { HousePicture } from './house-picture';
import { MailLook } from './mail-look';
import { Senders } from './senders';
import { PersonalLinks } from './personal-links';
import { ProgramKeys } from './program-keys';
import { Webhooks } from './webhooks';
import { Team } from './team';
import { Fold } from '../ui/fold';

/** The house in sections, each with its own address: who it is, as whom it writes, its web calendars, its team, and what was done. */
@Component({
  selector: 'cv-settings',
  imports: [
    AuditLog,
    FieldProblem,
    Fold,
    FormBar,
    FormProblems,
    HousePicture,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    MatSelectModule,
    MailLook,
    WorkdayChoice,
    Meanwhile,
    PersonalLinks,
    ProgramKeys,
    Webhooks,
    ReactiveFormsModule,
    RouterLink,
    RouterLinkActive,
    Section,
    Senders,
    Team,
    ZoneField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './settings.html',
  styleUrl: './settings.scss',
})
export class SettingsPage {
  /** Which section, from the address. */
  readonly section = input<string>('house');
  protected readonly sections = computed(() =>
    allSections.filter(
      ({ key }) =>
        (!['programs', 'links'].includes(key) || this.session.isOwner()) && (key !== 'log' || this.session.canMarket()),
    ),
  );
  private readonly api = inject(SettingsApi);
  private readonly toast = inject(Toast);
  private readonly router = inject(Router);
  private readonly fb = inject(NonNullableFormBuilder);
  protected readonly session = inject(Session);
  protected readonly variables = Object.entries(webCalendarVariables);
  protected readonly channels = ['email', 'text'] as const;
  protected readonly languages = languages.map((key) => ({ key, name: timeWords[key].name }));
  protected readonly units = paceUnitWords;
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
    avoidWords: '',
    textPerPart: this.fb.control<number | null>(null),
    textCurrency: 'EUR',
    allowPrivateAddresses: false,
    dayOrder: this.fb.control<DayOrder>('day-first'),
    page: this.fb.group({ colour: '#4a2545', mapPattern: '' }),
    look: this.fb.control<HouseLook>(plainLook),
    clock: this.fb.control<Clock>('24'),
    language: this.fb.control<Language>('en'),
    firstWeekday: this.fb.control<1 | 7>(1),
    requiresSecondFactor: false,
    // Set where it is looked at, in the audience; here it stays what it is.
    pressure: this.fb.control<HousePressure>(noPressure),
    quiet: this.fb.control<HouseQuiet | null>(null),
    countsLinks: this.fb.control<Settings['countsLinks']>('not'),
    countsOpens: false,
    notesPages: false,
    asksRelease: false,
    standby: this.fb.group({ minutes: 10, email: '', mobile: '' }),
    askAbove: 100,
    workdays: this.fb.control<number[]>([1, 2, 3, 4, 5]),
    holidays: this.fb.control<string[]>([]),
    webCalendars: this.fb.array([this.calendarGroup('', '')]),
  });
  private readonly changes = toSignal(this.form.valueChanges);
  protected readonly isBusy = signal(false);
  private readonly typed = computed(() => {
    this.changes();
    return this.said();
  });
  private readonly stored = computed(() => (this.saved.hasValue() ? this.saved.value() : null));
  protected readonly followed = followStored(this.stored, { typed: this.typed, show: (value) => this.fill(value) });
  protected readonly isChanged = this.followed.isChanged;
  protected readonly words = settingsWords;
  private readonly samples = computed(() => {
    this.changes();
    return this.form.controls.webCalendars.getRawValue().map(({ pattern }) => samplePattern(pattern));
  });

  constructor() {
    keepTyped({
      key: () => (this.followed.base() ? 'settings' : ''),
      value: computed(() => ({ base: this.followed.base() ?? this.typed(), value: this.typed() })),
      isChanged: this.isChanged,
      read: (text) => kept.safeParse(text).data ?? null,
      restore: (before) => this.followed.restore(before),
    });
    reloadOn(
      () => ['settings'],
      () => this.saved.reload(),
    );
    if (!this.session.isOwner()) this.form.disable();
  }

  protected patternProblems = (index: number): readonly LocatedProblem[] => this.samples()[index]?.problems ?? [];
  protected sample = (index: number): string => this.samples()[index]?.link ?? '';

  protected addCalendar(name: string, pattern: string): void {
    this.form.controls.webCalendars.push(this.calendarGroup(name, pattern));
  }
  protected undo(): void {
    this.followed.drop();
    this.clear();
  }
  protected clear(): void {
    this.problem.set('');
    this.problems.set([]);
  }
  protected said(): Settings {
    const { senderName, senderEmail, replyTo, topics, avoidWords, textPerPart, textCurrency, ...value } =
      this.form.getRawValue();
    return {
      ...value,
      region: value.region.toUpperCase(),
      sender: { name: senderName, email: senderEmail, replyTo },
      topics: byCommas(topics),
      avoidWords: byCommas(avoidWords),
      textPrice: textPerPart === null ? null : { perPart: textPerPart, currency: textCurrency.trim().toUpperCase() },
    };
  }
  protected save(): void {
    const settings = this.said();
    const was = this.followed.base();
    this.isBusy.set(true);
    this.api.save({ ...settings, ...(was && { was }) }).subscribe({
      next: () => {
        this.isBusy.set(false);
        this.followed.wasSaved(settings);
        this.saved.set(settings);
        this.problem.set('');
        this.problems.set([]);
        this.toast.say('The settings are saved.');
        // The shell reads and writes days as they say.
        this.session.load().subscribe();
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
        // Somebody may have saved meanwhile: then both are shown.
        this.saved.reload();
        const [first] = this.problems();
        // The field at fault may stand in another section.
        const at = first ? sectionOf(first.path) : this.section();
        if (at !== this.section()) void this.router.navigate(['/settings', at]);
      },
    });
  }
  private fill({ sender, topics, avoidWords, textPrice, webCalendars, ...value }: Settings): void {
    this.form.controls.webCalendars.clear();
    for (const { name, pattern } of webCalendars) this.addCalendar(name, pattern);
    this.form.patchValue({
      ...value,
      senderName: sender.name,
      senderEmail: sender.email,
      replyTo: sender.replyTo,
      topics: topics.join(', '),
      avoidWords: avoidWords.join(', '),
      textPerPart: textPrice?.perPart ?? null,
      textCurrency: textPrice?.currency ?? 'EUR',
    });
    if (!this.session.isOwner()) this.form.disable();
  }
  protected testStandby(): void {
    this.api.testStandby().subscribe({
      next: () => this.toast.say('A test is on its way to who is saved there.'),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected setWorkdays({ workdays, holidays }: WorkdaysChange): void {
    this.form.patchValue({ workdays, holidays });
  }
  private paceGroup() {
    const bound = () => this.fb.control<number | null>(null);
    return this.fb.group({ perSecond: bound(), perHour: bound(), perDay: bound() });
  }
  private calendarGroup(name: string, pattern: string) {
    return this.fb.group({ name, pattern });
  }
}

const byCommas = (typed: string): string[] =>
  typed
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean);

const kept = z.object({ base: settingsShape, value: settingsShape });

const allSections = [
  { key: 'house', name: 'House' },
  { key: 'look', name: 'Look of mails' },
  { key: 'senders', name: 'Senders and pace' },
  { key: 'other-senders', name: 'Other senders' },
  { key: 'calendars', name: 'Web calendars' },
  { key: 'signing-in', name: 'Signing in' },
  { key: 'team', name: 'Team' },
  { key: 'programs', name: 'Keys for programs' },
  { key: 'links', name: 'Personal links' },
  { key: 'log', name: 'Audit log' },
] as const;

/** Where a field stands. */
const sectionOf = (path: string): string =>
  /^(sender|lettersTo|textSender|textPrice|pace|asksRelease|standby|askAbove)/.test(path)
    ? 'senders'
    : path.startsWith('look')
      ? 'look'
      : path.startsWith('webCalendars')
        ? 'calendars'
        : 'house';
