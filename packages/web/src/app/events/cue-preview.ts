import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { CuePreview } from '@convite/contract';
import type { WordingDocument } from '@convite/core';
import { sayReason } from '../ui/audience/audience-count';
import { PersonPicker } from '../ui/person-picker';
import { When } from '../ui/when';
import { AsRead } from '../ui/wording/as-read';
import type { Tried } from '../ui/wording/send-test';

/** What a chosen person would get, when, and who gets it at all. Made by the functions that send. */
@Component({
  selector: 'cv-cue-preview',
  imports: [AsRead, PersonPicker, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (preview(); as it) {
      @if (it.dueAt) {
        <p>Fires <cv-when [at]="it.dueAt" [zone]="zone()" /></p>
      }
      <div class="row">
        <h3>
          As <bdi>{{ it.person?.name }}</bdi>
        </h3>
        <cv-person-picker (chosen)="person.emit($event.id)" />
      </div>
      @if (it.person?.whyNot; as why) {
        <p class="note">
          Does not get it:
          {{ why === 'left-out' && it.person?.leftOutBy ? 'left out by ' + it.person?.leftOutBy : sayWhy(why) }}.
        </p>
      }
      @if (it.person?.waitsUntil; as until) {
        <p class="note">
          Is in quiet hours then, and gets it <cv-when [at]="until" [zone]="it.person?.zone || zone()" />.
        </p>
      }
      <cv-as-read [message]="it.message" [wording]="wording()" [tried]="tried()" />
    } @else {
      <p class="quiet" role="status">Writing the preview …</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      align-content: start;
      min-width: 0;
    }
  `,
})
export class CuePreviewPane {
  readonly preview = input.required<CuePreview | null>();
  readonly wording = input.required<WordingDocument>();
  readonly zone = input.required<string>();
  readonly eventId = input.required<number>();
  /** Null for one that is not kept yet. */
  readonly cueId = input<number | null>(null);
  readonly canTry = input(true);
  readonly person = output<number>();
  protected readonly tried = computed((): Tried | null => {
    const preview = this.preview();
    if (!preview || !this.canTry()) return null;
    const { channel } = preview.message;
    const [wording, eventId, cueId] = [this.wording(), this.eventId(), this.cueId()];
    const personId = preview.person?.id || null;
    return { kind: 'cue', channel, wording, eventId, personId, ...(cueId !== null && { cueId }) };
  });
  protected readonly sayWhy = sayReason;
}
