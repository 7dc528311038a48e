import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import type { CountedMessage, LiveCount } from '@convite/contract';
import { isSame } from '@convite/core';
import { of } from 'rxjs';
import { AudienceCount, type PeopleBehind } from './audience-count';
import { AudienceSource } from './audience-source';

/** How many get a message as it is put together, counted while one looks, and who is behind each count. */
@Component({
  selector: 'cv-live-count',
  imports: [AudienceCount],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (count(); as it) {
      <cv-audience-count [count]="it.audience" [share]="it.share" [people]="behind" />
    } @else if (message()) {
      <p class="quiet" role="status">
        {{ counting.error() ? 'They cannot be counted just now.' : 'Counting who gets this …' }}
      </p>
    }
  `,
})
export class LiveAudienceCount {
  private readonly source = inject(AudienceSource);
  /** None while there is nothing to count. */
  readonly message = input.required<CountedMessage | undefined>();
  /** Counted anew when this changes. */
  readonly asOf = input<unknown>();
  /** As far as it is counted; null while that begins. */
  readonly counted = output<LiveCount | null>();

  private readonly asked = computed(() => this.message(), { equal: isSame });
  /** A newer count ends the one before it. */
  protected readonly counting = rxResource({
    params: () => {
      const [message, asOf] = [this.asked(), this.asOf()];
      return message && { message, asOf };
    },
    stream: ({ params }) => this.source.count(params.message),
  });
  protected readonly count = computed(() => (this.counting.hasValue() ? (this.counting.value() ?? null) : null));
  /** Of the message as it was counted. */
  protected readonly behind: PeopleBehind = (reason, after) => {
    const message = this.asked();
    return message ? this.source.behind({ of: message, reason, after }) : of({ rows: [], next: null });
  };

  constructor() {
    effect(() => this.counted.emit(this.count()));
  }

  again(): void {
    this.counting.reload();
  }
}
