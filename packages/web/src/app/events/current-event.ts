import { computed, inject, Injectable, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import type { EventDetail } from '@convite/contract';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';

/** The event whose sections are open; provided by the frame, so that its sections share one reading of it. */
@Injectable()
export class CurrentEvent {
  private readonly api = inject(EventsApi);
  readonly id = signal(0);
  readonly resource = rxResource({
    params: () => this.id() || undefined,
    stream: ({ params }) => this.api.get(params),
  });
  readonly detail = computed<EventDetail | null>(() =>
    this.resource.hasValue() ? (this.resource.value() ?? null) : null,
  );

  constructor() {
    reloadOn(
      () => [this.topic()],
      () => this.resource.reload(),
    );
  }

  /** What the server calls changes to this event, and what was counted anew of it. */
  topics(): string[] {
    return [this.topic(), `counts:${this.id()}`];
  }
  topic(): string {
    return `event:${this.id()}`;
  }
}
