import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { sayDay, sayMonth, sayNumber } from '../say';

/** How much falls on one day. */
export interface HeatDay {
  readonly day: string;
  readonly value: number;
}

const short = new Intl.NumberFormat('en', { notation: 'compact', maximumSignificantDigits: 3 });

/** Days side by side, the warmer the more falls on them, each with its number: weeks under each other where it is narrow. */
@Component({
  selector: 'cv-heat-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ol [attr.aria-label]="label()">
      @for (one of cells(); track one.day) {
        <li [class.weekend]="one.isWeekend" [title]="one.said">
          <span class="value" aria-hidden="true">{{ one.value ? one.short : '·' }}</span>
          <span class="heat" aria-hidden="true" [style.--heat]="one.heat"></span>
          <span class="day" aria-hidden="true">{{ one.date }}<br />{{ one.month }}</span>
          <span class="visually-hidden">{{ one.said }}</span>
        </li>
      }
    </ol>
  `,
  styles: `
    :host {
      display: block;
      container-type: inline-size;
    }
    ol {
      display: grid;
      grid-template-columns: repeat(28, minmax(0, 1fr));
      gap: 6px 2px;
      margin: 0;
      padding: 0;
      list-style: none;
      font-size: 11px;
      font-variant-numeric: tabular-nums;
      text-align: center;
    }
    @container (max-width: 1000px) {
      ol {
        grid-template-columns: repeat(14, minmax(0, 1fr));
      }
    }
    @container (max-width: 480px) {
      ol {
        grid-template-columns: repeat(7, minmax(0, 1fr));
      }
    }
    li {
      position: relative;
      display: flex;
      flex-direction: column;
      gap: 2px;
      min-width: 0;
    }
    .heat {
      height: 22px;
      border: 1px solid var(--line);
      border-radius: 2px;
      background: color-mix(in srgb, var(--lead) calc(var(--heat) * 100%), transparent);
    }
    .day {
      color: var(--quiet);
    }
    .weekend .day {
      font-weight: 600;
    }
  `,
})
export class HeatStrip {
  readonly days = input.required<readonly HeatDay[]>();
  /** What it shows, in a sentence. */
  readonly label = input.required<string>();
  /** What is counted, one and many. */
  readonly words = input<readonly [string, string]>(['message', 'messages']);
  protected readonly cells = computed(() => {
    const days = this.days();
    const most = Math.max(1, ...days.map(({ value }) => value));
    const [one, many] = this.words();
    return days.map(({ day, value }, index) => {
      const weekday = new Date(`${day}T00:00Z`).getUTCDay();
      return {
        day,
        value,
        short: short.format(value),
        heat: (value === 0 ? 0 : 0.12 + (0.88 * value) / most).toFixed(3),
        date: String(Number(day.slice(8))),
        // Named where it begins.
        month: index === 0 || day.endsWith('-01') ? sayMonth(day.slice(0, 7)).slice(0, 3) : '',
        isWeekend: weekday === 0 || weekday === 6,
        said: `${sayDay(day)}: ${sayNumber(value)} ${value === 1 ? one : many}`,
      };
    });
  });
}
