import { ChangeDetectionStrategy, Component, computed, inject, input, model, signal } from '@angular/core';
import { rxResource, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { debounceTime } from 'rxjs';
import type { WordingDocument } from '@convite/core';
import { EventsApi } from '../api/events';
import { PersonPicker } from '../ui/person-picker';
import { AsRead } from '../ui/wording/as-read';
import type { Tried } from '../ui/wording/send-test';
import { WordingEditor } from '../ui/wording/wording-editor';

/** What everybody who was invited is told of a change, or of calling off, and how one of them reads it. */
@Component({
  selector: 'cv-notice-words',
  imports: [AsRead, PersonPicker, WordingEditor],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-wording-editor channel="email" [wording]="wording()" (wordingChange)="wording.set($event)" />
    @if (preview(); as it) {
      <div class="row">
        <h3>
          As <bdi>{{ it.person.name }}</bdi>
        </h3>
        <cv-person-picker (chosen)="personId.set($event.id)" />
      </div>
      <cv-as-read [message]="it.message" [wording]="wording()" [tried]="tried(it.person.id)" />
    } @else if (resource.error()) {
      <p class="small quiet">It cannot be shown as it will be read until the words are whole.</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 12px;
    }
  `,
})
export class NoticeWords {
  private readonly api = inject(EventsApi);
  readonly eventId = input.required<number>();
  /** Of calling the event off; else of its newest version. */
  readonly isCallOff = input(false);
  readonly wording = model.required<WordingDocument>();
  protected readonly personId = signal<number | null>(null);
  private readonly settled = toSignal(toObservable(this.wording).pipe(debounceTime(250)));
  protected readonly resource = rxResource({
    params: () => {
      const wording = this.settled();
      const [isCallOff, personId] = [this.isCallOff(), this.personId()];
      return wording?.blocks.length ? { id: this.eventId(), asked: { wording, isCallOff, personId } } : undefined;
    },
    stream: ({ params }) => this.api.previewNotice(params.id, params.asked),
  });
  protected tried = (personId: number): Tried => ({
    kind: this.isCallOff() ? 'call-off' : 'notice',
    channel: 'email',
    wording: this.wording(),
    eventId: this.eventId(),
    personId: personId || null,
  });
  protected readonly preview = computed(() => (this.resource.hasValue() ? (this.resource.value() ?? null) : null));
}
