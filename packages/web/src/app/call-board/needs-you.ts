import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { Need } from '@convite/contract';
import { When } from '../ui/when';

const sentences: Readonly<Record<Need['kind'], (count: number) => string>> = {
  'draft-due': () => 'Still a draft, due soon',
  'no-join-link': (count) => `Not sent to ${count} who are no guests: it depends on the join link`,
  release: (count) => `${count} to be read and released`,
  missed: () => 'Missed',
  failed: (count) => `${count} could not be delivered`,
  trouble: () => 'Something is not there',
  fault: () => 'Something cannot be read',
  letter: (count) => (count === 1 ? 'Somebody wrote to you' : `${count} letters`),
  'import-stopped': () => 'An import stands half done',
  task: () => 'A task',
  'refusal-reports': (count) => `Mail to ${count} people reported as refused`,
  misuse: (count) => `${count} possible ${count === 1 ? 'misuse' : 'misuses'} of links and forms`,
  bounced: (count) => `${count} ${count === 1 ? 'address bounces' : 'addresses bounce'}`,
  'old-version': (count) => `${count} hold or know an old version`,
  'set-aside': (count) => `${count} ${count === 1 ? 'reply' : 'replies'} set aside`,
  proposal: (count) => (count === 1 ? 'Another time is proposed' : `${count} other times are proposed`),
  'watch-failing': () => 'A watched calendar cannot be read',
  'webhook-failing': () => 'Another system does not take what it is told',
};
const sections: Readonly<Record<Need['kind'], string>> = {
  'draft-due': 'countdown',
  'no-join-link': 'countdown',
  release: '',
  missed: 'countdown',
  failed: 'countdown',
  trouble: '',
  fault: '',
  letter: 'guests',
  'import-stopped': '',
  task: 'countdown',
  'refusal-reports': '',
  misuse: '',
  bounced: '',
  'old-version': 'changes',
  'set-aside': 'guests',
  proposal: 'guests',
  'watch-failing': '',
  'webhook-failing': '',
};

/** Where what is about no event is settled; else among the people. */
const withoutEvent: Readonly<Partial<Record<Need['kind'], string>>> = {
  failed: '/digests',
  letter: '/letters',
  release: '/releases',
  'refusal-reports': '/log',
  misuse: '/settings/links',
  'watch-failing': '/events/import',
  'webhook-failing': '/settings',
};

/** What a machine cannot settle. */
@Component({
  selector: 'cv-needs-you',
  imports: [RouterLink, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <aside class="sheet" aria-label="Needs you">
      <h2>Needs you</h2>
      @for (need of needs(); track $index) {
        <div class="need">
          @if (need.kind === 'trouble' || need.kind === 'fault') {
            <strong class="alarm">{{ say(need) }}</strong>
          } @else {
            <a [routerLink]="linkOf(need)" [queryParams]="need.kind === 'failed' ? { state: 'not-reached' } : {}">{{
              say(need)
            }}</a>
          }
          <span class="quiet small rtl-safe">{{ need.title }}</span>
          @if (need.taskId !== null && canMarket()) {
            <button class="link small" type="button" (click)="finished.emit(need.taskId)">Done</button>
          }
          @if (need.at) {
            <span class="quiet small"><cv-when [at]="need.at" [zone]="zone()" /></span>
          }
        </div>
      } @empty {
        <p class="quiet">Nothing. Everything is in hand.</p>
      }
    </aside>
  `,
  styles: `
    aside {
      border-top: 3px solid var(--alarm);
    }
    .need {
      display: grid;
      padding: 8px 0;
      border-top: 1px solid var(--line);
      overflow-wrap: anywhere;
    }
    h2 {
      margin-bottom: 8px;
    }
    a {
      color: var(--alarm);
      font-weight: 600;
    }
  `,
})
export class NeedsYou {
  readonly needs = input.required<readonly Need[]>();
  readonly zone = input.required<string>();
  readonly canMarket = input(false);
  /** The task with that number is done. */
  readonly finished = output<number>();
  protected say = (need: Need): string => sentences[need.kind](need.count);
  protected linkOf = (need: Need): string[] =>
    need.kind === 'failed' && need.firingId !== null
      ? ['/sendings', String(need.firingId)]
      : need.eventId === null
        ? [withoutEvent[need.kind] ?? '/audience']
        : ['/events', String(need.eventId), sections[need.kind]];
}
