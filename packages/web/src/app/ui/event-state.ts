import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { EventStatus } from '@convite/contract';

/** What each state of an event looks like, drawn in a 16 by 16 square: a curtain. Always beside the word. */
const curtains: Readonly<Record<EventStatus, { readonly word: string; readonly path: string }>> = {
  draft: { word: 'draft', path: 'M2.5 2.5h11v11h-11ZM8 2.5v11M5.2 2.5v11M10.8 2.5v11' },
  published: { word: 'published', path: 'M2.5 2.5h11v11h-11ZM2.5 2.5c0 4 1.5 5.5 3.5 6M13.5 2.5c0 4-1.5 5.5-3.5 6' },
  'called-off': { word: 'called off', path: 'M2.5 2.5h11v11h-11ZM5 5l6 6M11 5l-6 6' },
};

/** The state of an event: its curtain and its word. */
@Component({
  selector: 'cv-event-state',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<span [class]="'state ' + status()"
    ><svg viewBox="0 0 16 16" width="16" height="16" aria-hidden="true"><path [attr.d]="shown().path" /></svg
    >{{ shown().word }}</span
  >`,
  styleUrl: './mark.scss',
})
export class EventState {
  readonly status = input.required<EventStatus>();
  protected readonly shown = computed(() => curtains[this.status()]);
}
