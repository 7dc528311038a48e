import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { sayInstant, sayShortDay, sayTime } from '../ui/say';
import { RouterLink } from '@angular/router';
import type { Board, BoardItem } from '@convite/contract';
import { sayZone, wallTimeAt, sayLane } from '@convite/core';
import { BoardApi } from '../api/board';
import { Session } from '../api/session';
import { ByHandSender } from '../by-hand-sender';
import { sayWhom } from '../ui/say-whom';
import { PeopleCount } from '../ui/people-count';
import { StateMark } from '../ui/state-mark';
import { Toast } from '../ui/toast';

export type BoardEntry =
  | { readonly kind: 'firing'; readonly item: BoardItem }
  | { readonly kind: 'start'; readonly start: Board['starts'][number] };

/** One line of the call board: a firing with its channel, audience and state, or the start of an event. */
@Component({
  selector: 'cv-board-row',
  imports: [PeopleCount, RouterLink, StateMark],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (start(); as start) {
      <div class="line start">
        <time>{{ time(start.at) }}</time>
        <span class="title"
          ><span class="star" aria-hidden="true">★</span>&ngsp;<a [routerLink]="['/events', start.eventId]">{{
            start.title
          }}</a>
          begins</span
        >
      </div>
    }
    @if (item(); as item) {
      <div class="line" [class.text]="item.channel === 'text'">
        <time>{{ time(item.dueAt) }}</time>
        <span class="title">
          @if (item.eventId) {
            <a
              [routerLink]="[
                '/events',
                item.eventId,
                item.kind === 'notice' ? 'changes' : item.kind === 'invitation' ? 'guests' : 'countdown',
              ]"
              >{{ item.title }}</a>&ngsp;<span class="quiet">· {{ item.eventTitle }}{{ dateOf(item) }}</span>
          } @else if (item.kind === 'manual') {
            <a [routerLink]="['/sendings', item.firingId]">{{ item.title }}</a>
          } @else {
            <a routerLink="/digests">{{ item.title }}</a>&ngsp;<span class="quiet">· digest</span>
          }
          @if (item.note) {
            <span class="why small">{{ item.note }}</span>
          }
          @if (item.tally.finishAt; as last) {
            <span class="why small">At the sender’s pace the last leaves {{ instant(last) }}</span>
          }
        </span>
        <span class="channel small">{{ sayLane(item.channel) }}</span>
        @if (item.channel !== 'act' || item.tally.gets > 0) {
          <cv-people-count class="number count" [tally]="item.tally" [state]="item.state" [withArrow]="true" />
        } @else {
          <span class="number count"></span>
        }
        @if (item.tally.failed) {
          <a class="missing" [routerLink]="['/sendings', item.firingId]" [queryParams]="{ state: 'not-reached' }"
            ><cv-state [state]="item.state" [missing]="item.tally.failed"
          /></a>
        } @else {
          <cv-state [state]="item.state" />
        }
        <span class="act">
          @if (session.canMarket()) {
            @if (item.state === 'set' || item.state === 'standby' || item.state === 'sending') {
              <button class="link small" (click)="stop(item)" [attr.aria-label]="'Hold ' + item.title">Hold</button>
            }
            @if (item.state === 'stopped' && item.dueAt > now()) {
              <button class="link small" (click)="setAgain(item)">Set again</button>
            }
            @if (item.canSendByHand) {
              <button class="link small" (click)="sendNow(item)">Send now</button>
            }
          }
        </span>
      </div>
    }
  `,
  styles: `
    .line {
      display: grid;
      grid-template-columns: 128px minmax(0, 1fr) 44px 84px 122px 78px;
      gap: 12px;
      align-items: center;
      min-height: 36px;
      padding: 2px 12px;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-top-width: 0;
      border-left: 4px solid var(--lead);
    }
    .line.text {
      border-left-color: var(--text-channel);
    }
    .line.start {
      grid-template-columns: 128px minmax(0, 1fr);
      background: transparent;
      border-left-color: var(--standby);
    }
    :host {
      display: block;
    }
    :host(:first-of-type) .line {
      border-top-width: 1px;
    }
    time {
      white-space: nowrap;
      color: var(--quiet);
    }
    .title {
      min-width: 0;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      unicode-bidi: plaintext;
    }
    .title a {
      font-weight: 600;
    }
    .why {
      display: block;
      white-space: normal;
      color: var(--quiet);
    }
    .star {
      color: #a8720a;
    }
    .channel {
      color: var(--lead);
    }
    .text .channel {
      color: var(--text-channel);
      font-weight: 600;
    }
    .act {
      text-align: right;
    }
    @media (max-width: 700px) {
      /* When, how it stands and what can be done on one line; what it is below, whole. */
      .line:not(.start) {
        grid-template-columns: minmax(0, 1fr) auto auto;
        gap: 2px 12px;
        padding: 8px 12px;
      }
      .line:not(.start) .title {
        order: 1;
        grid-column: 1 / -1;
        white-space: normal;
      }
      .channel,
      .count {
        display: none;
      }
    }
  `,
})
export class BoardRow {
  protected readonly sayLane = sayLane;
  private readonly api = inject(BoardApi);
  private readonly byHand = inject(ByHandSender);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  readonly entry = input.required<BoardEntry>();
  readonly zone = input.required<string>();
  /** Shows the day too, where no heading says it. */
  readonly withDay = input(false);
  readonly changed = output();

  protected readonly item = computed(() => {
    const entry = this.entry();
    return entry.kind === 'firing' ? entry.item : null;
  });
  protected readonly start = computed(() => {
    const entry = this.entry();
    return entry.kind === 'start' ? entry.start : null;
  });
  protected instant = (at: string): string => sayInstant(Date.parse(at), this.zone());

  protected time(at: string): string {
    if (this.withDay())
      return `${sayShortDay(wallTimeAt(Date.parse(at), this.zone()).slice(0, 10))} ${sayTime(Date.parse(at), this.zone())}`;
    return `${sayTime(Date.parse(at), this.zone())} ${sayZone(this.zone())}`;
  }
  protected now(): string {
    return new Date().toISOString();
  }
  protected stop(item: BoardItem): void {
    this.api.stop(item.firingId).subscribe({
      next: () => this.done(`Held: “${item.title}” will not go out.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected setAgain(item: BoardItem): void {
    this.api.setAgain(item.firingId).subscribe({
      next: () => this.done(`“${item.title}” is set again.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  /** Of a series, the date that it is for. */
  protected dateOf(item: BoardItem): string {
    const { occurrenceAt } = item;
    const date = occurrenceAt ? sayShortDay(wallTimeAt(Date.parse(occurrenceAt), this.zone()).slice(0, 10)) : '';
    return [date, sayWhom(item, this.zone())]
      .filter(Boolean)
      .map((part) => `, ${part}`)
      .join('');
  }
  protected sendNow(item: BoardItem): void {
    this.byHand.send(item.firingId).subscribe({
      next: () => this.done(`“${item.title}” is going out.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  private done(text: string): void {
    this.toast.say(text);
    this.changed.emit();
  }
}
