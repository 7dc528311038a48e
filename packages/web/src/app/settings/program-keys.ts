import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { sayInstant } from '../ui/say';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { map, type Observable } from 'rxjs';
import { keyDays, programScopes, type ProgramScope } from '@convite/contract';

import { EventsApi } from '../api/events';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { Chooser, type Choice } from '../ui/chooser';
import { ReadingProblem } from '../ui/reading-problem';
import { SharedClock } from '../ui/shared-clock';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { typed } from '../ui/typed';

const scopeWords: Readonly<Record<ProgramScope, string>> = {
  'times:write': 'bring people’s own times',
  'subscribers:read': 'read people',
  'subscribers:write': 'bring, change and erase people',
  'lists:read': 'read lists',
  'lists:write': 'make lists, and who is on them',
  'consents:read': 'read consents',
  'consents:write': 'take consents down',
};

/** Keys by which programs read and bring people, lists, consents and times. Each is shown once. */
@Component({
  selector: 'cv-program-keys',
  imports: [Chooser, MatButtonModule, MatCheckboxModule, MatFormFieldModule, MatInputModule, ReadingProblem, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Keys for programs">
      <h2>Keys for programs</h2>
      <p class="small quiet">
        What programs may ask, with examples, stands at
        <a href="/docs/api" target="_blank" rel="noopener">/docs/api</a>.
      </p>
      <cv-reading-problem [of]="keys" what="The keys" />
      @for (key of keys.value(); track key.id) {
        <div class="row">
          <span class="grow"
            ><strong>{{ key.name }}</strong>
            <span class="small quiet">
              {{ sayScopes(key.scopes) }} · {{ key.eventId === null ? 'all events' : key.eventTitle || 'one event' }} ·
              @if (hasEnded(key.expiresAt)) {
                <span class="alarm">its time is over</span> ·
              } @else {
                until <cv-when [at]="key.expiresAt" [zone]="zone" [dayOnly]="true" [short]="true" /> ·
              }
              @if (key.usedAt) {
                used <cv-when [at]="key.usedAt" [zone]="zone" />
              } @else {
                never used
              }
            </span></span
          >
          <button class="link small" (click)="remove(key.id)">Remove</button>
        </div>
      } @empty {
        @if (!keys.hasFailed()) {
          <p class="quiet small">None. A booking desk would bring people’s times with one.</p>
        }
      }
      @if (made()) {
        <p class="note good small" role="status">
          Copy it now, it is not shown again:<br /><code class="mono wrap">{{ made() }}</code>
        </p>
      }
      <form class="row" (submit)="make($event)">
        <mat-form-field class="grow" subscriptSizing="dynamic"
          ><input
            matInput
            aria-label="Name of a new key"
            placeholder="Booking desk"
            [value]="name()"
            (input)="name.set(typed($event))"
        /></mat-form-field>
        <cv-chooser
          label="For which event"
          placeholder="for all events"
          [find]="findEvents"
          [chosenName]="event()?.name ?? ''"
          (chosen)="event.set($event)"
        />
        @if (event()) {
          <button class="link small" type="button" (click)="event.set(null)">for all events</button>
        }
        <mat-form-field class="inline" subscriptSizing="dynamic"
          ><select matNativeControl aria-label="For how long" (change)="days.set(typed($event))">
            @for (n of keyDays; track n) {
              <option [value]="n" [selected]="n === 365">for {{ n }} days</option>
            }
          </select></mat-form-field
        >
        <fieldset>
          <legend>It may</legend>
          @for (scope of scopes; track scope) {
            <mat-checkbox [checked]="chosen().includes(scope)" (change)="toggle(scope)">{{
              scopeWords[scope]
            }}</mat-checkbox>
          }
        </fieldset>
        <button matButton="outlined" [disabled]="!name().trim() || chosen().length === 0">Make a key</button>
      </form>
    </section>
  `,
  styles: `
    fieldset {
      display: flex;
      flex-wrap: wrap;
      flex-basis: 100%;
      gap: 0 12px;
    }
  `,
})
export class ProgramKeys {
  protected readonly typed = typed;
  private readonly api = inject(SettingsApi);
  private readonly toast = inject(Toast);
  protected readonly keys = reading(() => this.api.keys(), []);
  protected readonly zone = inject(Session).zone();
  private readonly clock = inject(SharedClock);
  private readonly eventsApi = inject(EventsApi);
  protected readonly findEvents = (search: string): Observable<readonly Choice<number>[]> =>
    this.eventsApi.list({ when: 'coming', search, after: 0 }).pipe(
      map(({ rows }) =>
        rows.map(({ id, title, startAt, zone }) => ({
          value: id,
          name: title,
          about: sayInstant(Date.parse(startAt), zone),
        })),
      ),
    );
  protected readonly keyDays = keyDays;
  protected readonly scopes = programScopes;
  protected readonly scopeWords = scopeWords;
  protected readonly chosen = signal<readonly ProgramScope[]>(['times:write']);
  protected readonly name = signal('');
  protected readonly event = signal<Choice<number> | null>(null);
  protected readonly days = signal('365');
  protected readonly made = signal('');

  protected hasEnded = (at: string): boolean => Date.parse(at) <= this.clock.nowMs();

  protected sayScopes(scopes: readonly ProgramScope[]): string {
    return scopes.map((scope) => scopeWords[scope]).join(', ') || 'nothing';
  }
  protected toggle(scope: ProgramScope): void {
    this.chosen.update((chosen) =>
      chosen.includes(scope) ? chosen.filter((one) => one !== scope) : [...chosen, scope],
    );
  }

  protected make(submit: Event): void {
    submit.preventDefault();
    const days = keyDays.find((n) => String(n) === this.days()) ?? 365;
    this.api
      .makeKey({ name: this.name().trim(), eventId: this.event()?.value ?? null, days, scopes: [...this.chosen()] })
      .subscribe({
        next: ({ key }) => {
          this.made.set(key);
          this.name.set('');
          this.event.set(null);
          this.keys.reload();
        },
        error: (error: unknown) => this.toast.fail(error),
      });
  }
  protected remove(id: number): void {
    this.api.removeKey(id).subscribe({
      next: () => this.keys.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
