import { ChangeDetectionStrategy, Component, computed, input, signal } from '@angular/core';
import { sayNumber } from '../say';
import { RouterLink } from '@angular/router';
import { of, type Observable } from 'rxjs';
import type { AudienceCount as Count, Person } from '@convite/contract';
import { reasons } from '@convite/core';
import { Panel } from '../panel';

import { Cell, type Column } from '../table/column';
import { rowSource, type PageOf } from '../table/row-source';
import { Table } from '../table/table';

const sentences: Readonly<Record<Count['without'][number]['reason'], string>> = {
  'not-chosen': 'answered otherwise',
  'left-out': 'are on a list left out',
  answered: 'answered already, and are left out',
  'other-topics': 'asked for other topics',
  'by-text': 'get a text in its place',
  'no-own-time': 'have no time of their own yet',
  'no-join-link': 'are no guests, and the message depends on the join link, which only guests see',
  'opted-out': 'opted out',
  paused: 'asked for quiet for a while',
  'no-consent': 'came without consent to email',
  'no-email': 'have no email address',
  bounced: 'have an address that bounces',
  'no-mobile': 'have no mobile number',
  'no-text-consent': 'did not consent to texts',
  'same-person': 'are the same person as another, or share the number of one',
  'quiet-hours': 'are in quiet hours until after the start',
  'over-limit': 'had as many messages within a week as they may get',
  'already-invited': 'are invited already',
  'had-it': 'had it with the people of another zone',
};
export const sayReason = (reason: string): string =>
  Object.entries(sentences).find(([known]) => known === reason)?.[1] ?? reason;

/** Whom a message does not reach, and why, in one line; empty where it reaches all. */
export const sayWithout = ({ without }: Pick<Count, 'without'>): string =>
  without.length
    ? `Not to those who: ${without.map(({ reason, count }) => `${sayNumber(count)} ${sayReason(reason)}`).join('; ')}.`
    : '';

/** The people behind a part of a count. @param reason null for those who get it */
export type PeopleBehind = (reason: Reason | null, after: number) => Observable<PageOf<Person>>;
type Reason = Count['without'][number]['reason'] | 'waiting' | 'nameless';
const nobody: PageOf<Person> = { rows: [], next: null };

/** How many get a message, and how many do not, because. Where it is known how, each part opens its people. */
@Component({
  selector: 'cv-audience-count',
  imports: [Cell, Panel, RouterLink, Table],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './audience-count.html',
  styles: `
    .gets {
      margin: 0;
    }
    strong {
      font-size: 18px;
      color: var(--yes);
    }
    progress {
      width: 100%;
      height: 4px;
      accent-color: var(--lead);
    }
    p {
      margin: 2px 0 0;
    }
    ul {
      margin: 2px 0 0;
      padding-left: 18px;
    }
  `,
})
export class AudienceCount {
  readonly count = input.required<Count>();
  /** Of what share of all people it was taken yet. */
  readonly share = input(1);
  readonly people = input<PeopleBehind | null>(null);
  /** As they are asked. */
  protected readonly inOrder = computed(() =>
    [...this.count().without].sort((a, b) => reasons.indexOf(a.reason) - reasons.indexOf(b.reason)),
  );
  protected readonly say = sayReason;
  protected readonly sayNumber = sayNumber;
  /** The part whose people are looked at. */
  protected readonly opened = signal<{ readonly reason: Reason | null } | null>(null);
  protected readonly title = computed(() => {
    const { reason = null } = this.opened() ?? {};
    if (reason === 'nameless') return 'They get it, and their name is not known';
    if (reason === 'waiting') return 'They get it as their quiet hours end';
    return reason === null ? 'They get it' : `They do not get it: they ${sayReason(reason)}`;
  });
  protected readonly columns: readonly Column[] = [
    { key: 'name', label: 'Name', onCard: 'title' },
    { key: 'address', label: 'Address', onCard: 'fact' },
  ];
  protected readonly source = rowSource(
    () => this.opened() ?? undefined,
    ({ reason }, after) => this.people()?.(reason, Number(after ?? 0)) ?? of(nobody),
    ({ reason }) => reason,
  );
}
