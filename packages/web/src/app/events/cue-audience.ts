import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { ChosenPeople, CountedMessage } from '@convite/contract';
import { placeKinds, replyStates, type Audience, type PlaceKind, type ReplyState } from '@convite/core';
import { AudienceEditor } from '../ui/audience/audience-editor';
import { placeWords, replyWords } from './reply-words';

/** Who a cue is for: beside what every message may be for, invitees by their answer. */
@Component({
  selector: 'cv-cue-audience',
  imports: [AudienceEditor, MatCheckboxModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-audience-editor [chosen]="chosen()" (chosenChange)="choose($event)" [message]="message()">
      <div in role="group" aria-labelledby="invitees-said">
        <span id="invitees-said" class="small quiet">Invitees who said, or who</span>
        @for (reply of replies; track reply) {
          <mat-checkbox [checked]="audience().invitees.includes(reply)" (change)="toggleReply('invitees', reply)">{{
            words[reply]
          }}</mat-checkbox>
        }
        @for (one of placed(); track one.kind) {
          <mat-checkbox [checked]="audience().places?.includes(one.kind) ?? false" (change)="togglePlace(one.kind)">{{
            one.says
          }}</mat-checkbox>
        }
        @for (one of outcomes; track one.kind) {
          <mat-checkbox [checked]="audience().came?.includes(one.kind) ?? false" (change)="toggleCame(one.kind)">{{
            one.says
          }}</mat-checkbox>
        }
      </div>
      <div out role="group" aria-labelledby="others-said">
        <span id="others-said" class="small quiet">Whoever said</span>
        @for (reply of answers; track reply) {
          <mat-checkbox
            [aria-label]="'Leaving out whoever said ' + words[reply]"
            [checked]="audience().exceptReplies.includes(reply)"
            (change)="toggleReply('exceptReplies', reply)"
            >{{ words[reply] }}</mat-checkbox
          >
        }
        <mat-checkbox [checked]="audience().ofTopics ?? false" (change)="toggleTopics()"
          >Whoever asked for topics, and for none of this event’s</mat-checkbox
        >
        <mat-checkbox [checked]="audience().onlyGuests ?? false" (change)="toggleOnlyGuests()"
          >People who are not guests of this event</mat-checkbox
        >
      </div>
    </cv-audience-editor>
  `,
  styles: `
    [role='group'] {
      display: flex;
      flex-wrap: wrap;
      gap: 0 12px;
    }
    span {
      flex-basis: 100%;
    }
  `,
})
export class CueAudience {
  readonly audience = input.required<Audience>();
  /** What the event tells apart of its places. */
  readonly placesOf = input<readonly PlaceKind[]>([]);
  readonly audienceChange = output<Audience>();
  /** The cue as it is put together, to be counted. */
  readonly message = input.required<CountedMessage | undefined>();
  protected readonly replies = replyStates;
  /** A reminder to register is not for who has registered: it unsettles them. */
  protected readonly answers = replyStates.filter((state) => state !== 'needs-action');
  /** Known once somebody has looked who is there. */
  protected readonly outcomes = [
    { kind: 'attended', says: 'came' },
    { kind: 'no-show', says: 'did not come' },
  ] as const;
  /** Known where people register: who waits for a place, and how they come where they may choose. */
  protected readonly placed = computed(() =>
    placeKinds
      .filter((kind) => this.placesOf().includes(kind) || this.audience().places?.includes(kind))
      .map((kind) => ({ kind, says: placeWords[kind] })),
  );
  protected readonly words = replyWords;
  protected readonly chosen = computed((): ChosenPeople => {
    const { lists, segments = [], people = [], exceptLists, exceptSegments = [], exceptPeople = [] } = this.audience();
    return { lists, segments, people, exceptLists, exceptSegments, exceptPeople };
  });

  protected choose(chosen: ChosenPeople): void {
    this.audienceChange.emit({ ...this.audience(), ...chosen });
  }
  protected toggleCame(kind: 'attended' | 'no-show'): void {
    const came = flip(this.audience().came ?? [], kind);
    const { came: _, ...audience } = this.audience();
    this.audienceChange.emit(came.length ? { ...audience, came } : audience);
  }
  protected togglePlace(kind: PlaceKind): void {
    const { places = [], ...audience } = this.audience();
    const chosen = flip(places, kind);
    this.audienceChange.emit(chosen.length ? { ...audience, places: chosen } : audience);
  }
  protected toggleTopics(): void {
    const { ofTopics, ...audience } = this.audience();
    this.audienceChange.emit(ofTopics ? audience : { ...audience, ofTopics: true });
  }
  protected toggleOnlyGuests(): void {
    const { onlyGuests, ...audience } = this.audience();
    this.audienceChange.emit(onlyGuests ? audience : { ...audience, onlyGuests: true });
  }
  protected toggleReply(which: 'invitees' | 'exceptReplies', reply: ReplyState): void {
    this.audienceChange.emit({ ...this.audience(), [which]: flip(this.audience()[which], reply) });
  }
}

const flip = <T>(items: readonly T[], item: T): T[] =>
  items.includes(item) ? items.filter((one) => one !== item) : [...items, item];
