import { ChangeDetectionStrategy, Component, computed, input, signal, viewChild } from '@angular/core';
import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import type { ListDetail } from '@convite/contract';
import { ChartFrame, type ChartPoint } from '../ui/chart/chart-frame';
import { sayMonth, sayNumber } from '../ui/say';

const height = 150;
const margin = { top: 8, right: 4, bottom: 22, left: 44 };
const labelWidth = 40;

/** A year of a list, month by month: who came above the line, who went and whose address began to bounce below it. */
@Component({
  selector: 'cv-growth-chart',
  imports: [ChartFrame],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-chart-frame [label]="summary()" [points]="points()" [heads]="heads" [(at)]="at" [start]="11">
      <ng-container legend
        ><span class="came">▲ came</span>&ngsp;<span class="went">▼ went</span>&ngsp;<span class="bounced"
          >▼ began to bounce</span
        ></ng-container
      >
      <svg [attr.viewBox]="'0 0 ' + width() + ' ' + height" [attr.height]="height" width="100%" aria-hidden="true">
        @for (tick of ticks(); track tick.y) {
          <line [attr.x1]="margin.left" [attr.x2]="width()" [attr.y1]="tick.y" [attr.y2]="tick.y" class="line" />
          <text [attr.x]="margin.left - 6" [attr.y]="tick.y + 4" text-anchor="end">{{ tick.value }}</text>
        }
        @for (bar of bars(); track bar.month; let index = $index) {
          @if (index === at()) {
            <rect [attr.x]="bar.x - 3" y="0" [attr.width]="bar.width + 6" [attr.height]="height - 20" class="here" />
          }
          <rect
            [attr.x]="bar.x"
            [attr.y]="bar.cameY"
            [attr.width]="bar.width"
            [attr.height]="bar.cameTall"
            class="came"
          />
          <rect [attr.x]="bar.x" [attr.y]="zero()" [attr.width]="bar.width" [attr.height]="bar.wentTall" class="went" />
          <rect
            [attr.x]="bar.x"
            [attr.y]="zero() + bar.wentTall"
            [attr.width]="bar.width"
            [attr.height]="bar.bouncedTall"
            class="bounced"
          />
          @if (bar.label) {
            <text [attr.x]="bar.x + bar.width / 2" [attr.y]="height - 6" text-anchor="middle">{{ bar.label }}</text>
          }
        }
        <line [attr.x1]="margin.left" [attr.x2]="width()" [attr.y1]="zero()" [attr.y2]="zero()" class="zero" />
      </svg>
    </cv-chart-frame>
  `,
  styles: `
    text {
      font-size: 11px;
      fill: var(--quiet);
    }
    .line {
      stroke: var(--line);
    }
    .zero {
      stroke: var(--quiet);
    }
    .here {
      fill: var(--lead-wash);
    }
    .came {
      fill: var(--yes);
      color: var(--yes);
    }
    .went {
      fill: var(--quiet);
      color: var(--quiet);
    }
    .bounced {
      fill: var(--alarm);
      color: var(--alarm);
    }
  `,
})
export class GrowthChart {
  readonly growth = input.required<ListDetail['growth']>();
  protected readonly height = height;
  protected readonly margin = margin;
  protected readonly heads = ['Month', 'came', 'went', 'began to bounce'];
  protected readonly at = signal<number | null>(null);
  private readonly frame = viewChild(ChartFrame);
  protected readonly width = computed(() => this.frame()?.width() ?? 500);
  protected readonly points = computed((): ChartPoint[] =>
    this.growth().map(({ month, came, went, bounced }) => ({
      label: sayMonth(month),
      values: [sayNumber(came), sayNumber(went), sayNumber(bounced)],
    })),
  );
  private readonly y = computed(() => {
    const up = max(this.growth(), ({ came }) => came) ?? 0;
    const down = max(this.growth(), ({ went, bounced }) => went + bounced) ?? 0;
    return scaleLinear([-down, Math.max(up, 5)], [height - margin.bottom, margin.top]).nice(3);
  });
  protected readonly zero = computed(() => this.y()(0));
  protected readonly ticks = computed(() =>
    this.y()
      .ticks(4)
      .filter(Number.isInteger)
      .map((value) => ({ value: sayNumber(Math.abs(value)), y: this.y()(value) })),
  );
  protected readonly bars = computed(() => {
    const y = this.y();
    const x = scaleBand(
      this.growth().map(({ month }) => month),
      [margin.left, this.width() - margin.right],
    ).padding(0.3);
    const every = Math.max(1, Math.ceil(labelWidth / x.step()));
    return this.growth().map(({ month, came, went, bounced }, index, all) => ({
      month,
      x: x(month) ?? 0,
      width: x.bandwidth(),
      cameY: y(came),
      cameTall: y(0) - y(came),
      wentTall: y(-went) - y(0),
      bouncedTall: y(-bounced) - y(0),
      label: (all.length - 1 - index) % every === 0 ? sayMonth(month).slice(0, 3) : '',
    }));
  });
  protected readonly summary = computed(() => {
    const sum = (what: 'came' | 'went' | 'bounced') => this.growth().reduce((all, one) => all + one[what], 0);
    return `In twelve months ${sayNumber(sum('came'))} came, ${sayNumber(sum('went'))} went, and ${sayNumber(sum('bounced'))} began to bounce.`;
  });
}
