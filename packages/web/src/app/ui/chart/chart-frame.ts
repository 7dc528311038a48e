import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  type ElementRef,
  inject,
  input,
  model,
  output,
  signal,
  viewChild,
} from '@angular/core';

/** One place of a chart: what stands there, in words. */
export interface ChartPoint {
  /** Where it is, such as a day. */
  readonly label: string;
  /** What it is there, one for each head. */
  readonly values: readonly (string | number)[];
}

/**
 * What every chart has: a legend, its place by place reading by arrow keys, and the same numbers as a table one press away. Who
 * draws is told how wide it is, so that letters keep their size on a phone.
 */
@Component({
  selector: 'cv-chart-frame',
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './chart-frame.html',
  styleUrl: './chart-frame.scss',
})
export class ChartFrame {
  /** What the chart shows, in a sentence. */
  readonly label = input.required<string>();
  readonly points = input.required<readonly ChartPoint[]>();
  /** What each point's label and its values are, as heads of the table. */
  readonly heads = input.required<readonly string[]>();
  /** The point that keys are at. */
  readonly at = model<number | null>(null);
  /** Where keys begin. */
  readonly start = input(0);
  readonly opened = output<number>();
  /** How many pixels wide it is drawn. */
  readonly width = signal(800);

  private readonly plot = viewChild.required<ElementRef<HTMLElement>>('plot');
  protected readonly asNumbers = signal(false);
  protected readonly said = computed(() => {
    const at = this.at();
    const point = at === null ? undefined : this.points()[at];
    if (!point) return '';
    const values = point.values.map((value, index) => `${this.heads()[index + 1] ?? ''} ${value}`.trim());
    return `${point.label}: ${values.join(', ')}`;
  });

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const { nativeElement } = this.plot();
      const watch = new ResizeObserver(([entry]) => {
        if (entry) this.width.set(Math.max(240, Math.round(entry.contentRect.width)));
      });
      watch.observe(nativeElement);
      destroyed.onDestroy(() => watch.disconnect());
    });
  }

  protected onKey(event: KeyboardEvent): void {
    const last = this.points().length - 1;
    const now = this.at();
    const to = {
      ArrowRight: now === null ? this.start() : now + 1,
      ArrowLeft: now === null ? this.start() : now - 1,
      Home: 0,
      End: last,
    }[event.key];
    if (to !== undefined) {
      event.preventDefault();
      this.at.set(Math.min(last, Math.max(0, to)));
    } else if (event.key === 'Enter' && now !== null) this.opened.emit(now);
    else if (event.key === 'Escape') this.at.set(null);
  }
}
