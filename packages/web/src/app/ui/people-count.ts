import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { Tally } from '@convite/contract';
import type { FiringState } from '@convite/core';
import { sayNumber } from './say';
import { SharedClock } from './shared-clock';

const firedStates: readonly FiringState[] = ['sending', 'done', 'failed'];

/** How many people a firing is for, and how far it is: a kept count says when it was taken. */
@Component({
  selector: 'cv-people-count',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<span [title]="title()">{{ text() }}</span>
    @if (withAge() && age()) {
      <div class="small quiet">{{ age() }}</div>
    }`,
})
export class PeopleCount {
  readonly tally = input.required<Pick<Tally, 'gets' | 'countedAt'> & Partial<Tally>>();
  readonly state = input.required<FiringState>();
  /** Beside others that have gone out, what is still to go is told apart by an arrow. */
  readonly withArrow = input(false);
  /** Says below it how long ago it was counted. */
  readonly withAge = input(false);
  private readonly clock = inject(SharedClock);

  protected readonly text = computed(() => {
    const arrow = this.withArrow() && !hasFired(this.tally(), this.state()) ? '→ ' : '';
    return arrow + sayPeople(this.tally(), this.state());
  });
  protected readonly age = computed(() => {
    const { countedAt } = this.tally();
    return countedAt === null || hasFired(this.tally(), this.state())
      ? ''
      : `counted ${ago(this.clock.nowMs() - Date.parse(countedAt))}`;
  });
  protected readonly title = computed(() => {
    const { gets, countedAt, sent = 0, failed = 0 } = this.tally();
    if (hasFired(this.tally(), this.state()))
      return `${sayNumber(gets)} people, ${sayNumber(sent)} sent, ${sayNumber(failed)} not reached`;
    return countedAt === null ? 'being counted' : `about ${sayNumber(gets)}, ${this.age()}`;
  });
}

/** The count in few characters: `…` while it is being taken. */
export function sayPeople(tally: Pick<Tally, 'gets' | 'countedAt'> & Partial<Tally>, state: FiringState): string {
  const { gets, countedAt, sent = 0, waiting = 0 } = tally;
  if (!hasFired(tally, state)) return countedAt === null ? '…' : sayNumber(gets);
  return state === 'sending' || waiting ? `${sayNumber(sent)} of ${sayNumber(gets)}` : sayNumber(sent);
}

/** One that was stopped on its way has sent something and is counted no more. */
const hasFired = ({ gets, countedAt, sent = 0 }: Partial<Tally>, state: FiringState): boolean =>
  firedStates.includes(state) || (countedAt === null && ((gets ?? 0) > 0 || sent > 0));

function ago(ms: number): string {
  const minutes = Math.round(ms / 60_000);
  if (minutes < 1) return 'just now';
  if (minutes < 90) return `${minutes} min ago`;
  const hours = Math.round(minutes / 60);
  return hours < 36 ? `${hours} hours ago` : `${Math.round(hours / 24)} days ago`;
}
