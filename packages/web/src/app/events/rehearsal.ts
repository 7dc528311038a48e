import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { RouterLink } from '@angular/router';
import { rxResource } from '@angular/core/rxjs-interop';
import { archetypes, type Archetype, type RehearsalScene } from '@convite/contract';
import { sayZone } from '@convite/core';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { sayReason } from '../ui/audience/audience-count';
import { MailBody } from '../ui/mail-body';
import { PersonPicker } from '../ui/person-picker';
import { sayInstant, sayShortDay } from '../ui/say';
import { StateMark } from '../ui/state-mark';
import { Toggle, type ToggleOption } from '../ui/toggle';
import { typed } from '../ui/typed';
import { When } from '../ui/when';
import { OurWord } from '../ui/word';
import { wallTimeAt } from '@convite/core';
import { CurrentEvent } from './current-event';
import { RehearsalAll } from './rehearsal-all';

const archetypeWords: Readonly<Record<Archetype, string>> = {
  'far-away': 'lives eleven hours away',
  'registered-yesterday': 'registered yesterday',
  unanswered: 'was invited and has not answered',
  waitlisted: 'is on the waiting list',
  'no-mobile': 'has no mobile number',
  'no-texts': 'said no to texts',
  'no-consent': 'agreed to nothing',
  'opted-out': 'opted out',
  'no-name': 'gave no name',
};

/** A dry run of the countdown for one person, as a storyboard on their own clock: what comes, in which words, and why not. */
@Component({
  selector: 'cv-rehearsal',
  imports: [
    MailBody,
    MatFormFieldModule,
    MatInputModule,
    OurWord,
    PersonPicker,
    RehearsalAll,
    RouterLink,
    StateMark,
    Toggle,
    When,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (current.detail(); as event) {
      <p class="small"><a [routerLink]="['/events', event.id, 'countdown']">Countdown</a></p>
      <div class="row">
        <h2>Rehearsal</h2>
        <cv-word class="small quiet" word="rehearsal">what a rehearsal is</cv-word>
        <cv-toggle class="push" label="For whom" [options]="ofWhom" [(value)]="isForAll" />
      </div>
      @if (isForAll()) {
        <cv-rehearsal-all [eventId]="event.id" />
      } @else {
        <div class="row choose">
          <cv-person-picker (chosen)="choose($event.id)" />
          <span>or somebody like them who</span>
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><select matNativeControl aria-label="Somebody like them who" (change)="actAs(typed($event))">
              <option value="" [selected]="archetype() === ''">is as they are</option>
              @for (one of archetypes; track one) {
                <option [value]="one" [selected]="archetype() === one">{{ words[one] }}</option>
              }
            </select></mat-form-field
          >
        </div>
        @if (run.hasValue()) {
          @if (run.value(); as it) {
            <p>
              As
              <strong
                ><bdi>{{ it.person.name || 'somebody without a name' }}</bdi></strong
              >{{ like() }}, on the clock of {{ city(it.person.zone) }}: {{ sum() }}
            </p>
            <ol>
              @for (scene of it.scenes; track scene.cueId) {
                <li>
                  <div class="when">
                    @if (scene.dueAt; as at) {
                      <strong>{{ say(scene.waitsUntil ?? at, it.person.zone) }}</strong>
                      <div class="small quiet"><cv-when [at]="scene.waitsUntil ?? at" [zone]="it.zone" /></div>
                    } @else {
                      <span class="quiet">no moment for them</span>
                    }
                  </div>
                  <div class="what stack">
                    <div class="row">
                      <a [routerLink]="['/events', event.id, 'countdown']" [queryParams]="{ cue: scene.cueId }">{{
                        scene.name
                      }}</a>
                      <span class="quiet small">{{ scene.does ? 'task' : 'by ' + scene.channel }}</span>
                      <cv-state [state]="scene.state" />
                      @if (scene.occurrenceAt; as start) {
                        <span class="quiet small">for {{ day(start, it.zone) }}</span>
                      }
                    </div>
                    @if (scene.whyNot; as why) {
                      <p class="note">Does not come: they {{ reason(why) }}.</p>
                    } @else if (!goes(scene)) {
                      <p class="note">{{ whyItRests(scene) }}</p>
                    }
                    @if (scene.waitsUntil) {
                      <p class="small quiet">
                        They are in quiet hours at its moment, and get it
                        {{ isEarly(scene) ? 'before those begin' : 'as those end' }}.
                      </p>
                    }
                    @if (scene.does && scene.whyNot === null) {
                      <p class="small">It {{ scene.does }}.</p>
                    }
                    @if (scene.message; as message) {
                      @if (message.channel === 'text') {
                        <p class="bubble pre">{{ message.text }}</p>
                      } @else {
                        <div>
                          <strong class="rtl-safe">{{ message.subject }}</strong>
                          @if (message.preheader) {
                            <span class="quiet small">&ngsp;{{ message.preheader }}</span>
                          }
                        </div>
                        <cv-mail-body [html]="message.html" />
                      }
                    }
                  </div>
                </li>
              } @empty {
                <li>No cue yet: there is nothing to rehearse.</li>
              }
            </ol>
          }
        } @else if (run.error()) {
          <p class="note alarm" role="alert">
            The rehearsal cannot be read just now. <button class="link" (click)="run.reload()">Try again</button>
          </p>
        } @else {
          <p class="quiet" role="status">Going through the countdown …</p>
        }
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 12px;
    }
    .choose {
      align-items: center;
    }
    ol {
      list-style: none;
      margin: 0;
      padding: 0;
      border-left: 2px solid var(--line);
    }
    li {
      display: grid;
      grid-template-columns: 220px minmax(0, 1fr);
      gap: 6px 24px;
      padding: 16px 0 16px 20px;
      border-bottom: 1px solid var(--line);
    }
    .what {
      max-width: 720px;
    }
    cv-mail-body {
      max-height: 260px;
    }
    .bubble {
      margin: 0;
      padding: 10px 14px;
      max-width: 360px;
      border-radius: 12px;
      background: color-mix(in srgb, var(--text-channel) 14%, var(--sheet));
      overflow-wrap: anywhere;
    }
    @media (max-width: 700px) {
      li {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class RehearsalScreen {
  protected readonly current = inject(CurrentEvent);
  private readonly api = inject(EventsApi);
  protected readonly typed = typed;
  protected readonly archetypes = archetypes;
  protected readonly words = archetypeWords;
  protected readonly reason = sayReason;
  protected readonly ofWhom: readonly ToggleOption<boolean>[] = [
    { key: false, label: 'one person' },
    { key: true, label: 'everybody' },
  ];
  protected readonly isForAll = signal(false);
  private readonly person = signal(0);
  protected readonly archetype = signal<Archetype | ''>('');
  protected readonly run = rxResource({
    params: () => {
      const id = this.current.id();
      return id ? { id, person: this.person(), as: this.archetype() } : undefined;
    },
    stream: ({ params: { id, ...query } }) => this.api.rehearsal(id, query),
  });
  protected readonly like = computed(() => {
    const archetype = this.archetype();
    return archetype === '' ? '' : `, if that were somebody who ${archetypeWords[archetype]}`;
  });
  protected readonly sum = computed(() => {
    const scenes = this.run.hasValue() ? (this.run.value()?.scenes ?? []) : [];
    const come = scenes.filter((scene) => scene.whyNot === null && this.goes(scene)).length;
    return `${come} of ${scenes.length} cues ${come === 1 ? 'comes' : 'come'}.`;
  });

  constructor() {
    reloadOn(
      () => [...this.current.topics(), 'clock'],
      () => this.run.reload(),
    );
  }

  protected choose(id: number): void {
    this.person.set(id);
  }
  protected actAs(text: string): void {
    this.archetype.set(archetypes.find((one) => one === text) ?? '');
  }
  protected city = (zone: string): string => sayZone(zone);
  protected say = (at: string, zone: string): string => sayInstant(Date.parse(at), zone);
  protected day = (at: string, zone: string): string => sayShortDay(wallTimeAt(Date.parse(at), zone).slice(0, 10));
  /** As it stands, it goes out by itself, or has. */
  protected readonly isEarly = ({ waitsUntil, dueAt }: RehearsalScene): boolean =>
    waitsUntil !== null && dueAt !== null && waitsUntil < dueAt;
  protected goes = ({ state, dueAt }: RehearsalScene): boolean =>
    dueAt !== null && ['set', 'standby', 'sending', 'done'].includes(state);
  protected whyItRests({ state, dueAt }: RehearsalScene): string {
    if (dueAt === null) return 'It has no moment for them.';
    if (state === 'draft') return 'A draft: it does not go until somebody sets it.';
    return state === 'stopped' ? 'Held: it does not go until somebody sets it again.' : 'Its moment has passed.';
  }
}
