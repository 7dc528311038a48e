import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import type { CueRow, EventDetail } from '@convite/contract';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Fold } from '../ui/fold';
import { sayCount } from '../ui/say';
import { SharedClock } from '../ui/shared-clock';
import { CurrentEvent } from './current-event';
import { isMild, sayHazard } from './hazard-words';

/** Something of an event that is not finished, and where it is mended. */
export interface Unfinished {
  readonly words: string;
  /** A section of the event, or Settings. */
  readonly at: 'details' | 'guests' | 'countdown' | 'settings';
  readonly cue: number | null;
}

/** What is not finished of an event, in the order of the work; nothing of one that is over or called off. */
export function findUnfinished(
  { facts, invited, toInvite, toInviteSegments, status, endAt }: EventDetail,
  cues: readonly CueRow[],
  nowMs: number,
): Unfinished[] {
  if (status === 'called-off' || Date.parse(endAt) < nowMs) return [];
  const found: Unfinished[] = [];
  const add = (words: string, at: Unfinished['at'], cue: number | null = null): void => {
    found.push({ words, at, cue });
  };
  if (!facts.venue && !facts.joinLink) add('It says neither a place nor where to join', 'details');
  if (!facts.description.trim()) add('Nothing says what happens there', 'details');
  if (invited === 0 && toInvite.length + toInviteSegments.length === 0 && !facts.registration)
    add('Nobody is invited, and nobody can register', 'guests');
  if (cues.length === 0) add('Nobody is reminded: there is no cue', 'countdown');
  const ofHouse = new Set<string>();
  for (const { id, name, firing, hazards } of cues) {
    for (const hazard of hazards) {
      const words = sayHazard(hazard, facts.zone);
      if (hazard.code === 'no-postal-address' || hazard.code === 'sender-unproven') ofHouse.add(words);
      else if (!isMild(hazard)) add(`“${name}”: ${words}`, 'countdown', id);
    }
    if (firing.state === 'missed') add(`“${name}” was missed: send it by hand, or leave it`, 'countdown', id);
  }
  for (const words of ofHouse) add(`${words.slice(0, 1).toUpperCase()}${words.slice(1)}`, 'settings');
  return found;
}

/** Everything unfinished of the event that is open, each with the link that mends it. */
@Component({
  selector: 'cv-readiness',
  imports: [Fold, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (unfinished().length) {
      <cv-fold [heading]="heading()">
        <ul>
          @for (one of unfinished(); track $index) {
            <li>
              <a [routerLink]="linkOf(one)" [queryParams]="one.cue === null ? {} : { cue: one.cue }">{{ one.words }}</a>
            </li>
          }
        </ul>
      </cv-fold>
    }
  `,
  styles: `
    :host {
      display: block;
      margin-bottom: 12px;
    }
    ul {
      margin: 0;
      padding-left: 20px;
    }
    li {
      padding: 3px 0;
    }
  `,
})
export class Readiness {
  private readonly current = inject(CurrentEvent);
  private readonly api = inject(EventsApi);
  private readonly clock = inject(SharedClock);
  private readonly cues = rxResource({
    params: () => this.current.id() || undefined,
    stream: ({ params }) => this.api.cues(params),
  });
  readonly unfinished = computed(() => {
    const event = this.current.detail();
    return event && this.cues.hasValue() ? findUnfinished(event, this.cues.value() ?? [], this.clock.nowMs()) : [];
  });
  protected readonly heading = computed(
    () => `${sayCount(this.unfinished().length, 'thing', 'things')} to finish before this event is ready`,
  );

  constructor() {
    reloadOn(
      () => this.current.topics(),
      () => this.cues.reload(),
    );
  }

  protected linkOf = ({ at }: Unfinished): (string | number)[] =>
    at === 'settings' ? ['/settings'] : ['/events', this.current.id(), at];
}
