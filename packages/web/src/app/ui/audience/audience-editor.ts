import { ChangeDetectionStrategy, Component, computed, inject, input, model, output, viewChild } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import type { ChosenPeople, CountedMessage, LiveCount } from '@convite/contract';
import { ListsField } from '../lists-field';
import { PeopleField } from '../people-field';
import { AudienceSource } from './audience-source';
import { LiveAudienceCount } from './live-count';

/**
 * Whom a message goes to, the same for every message: lists, segments and people by hand who are in, and those who are left out; what
 * is counted of it, and who is behind each count. What a message asks beside stands in the slots `in` and `out`.
 */
@Component({
  selector: 'cv-audience-editor',
  imports: [ListsField, LiveAudienceCount, PeopleField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="sides">
      <fieldset>
        <legend>Who gets it</legend>
        <ng-content select="[in]" />
        <cv-lists-field
          label="Lists"
          [lists]="lists()"
          [chosen]="chosen().lists"
          (chosenChange)="change({ lists: $event })"
        />
        @if (segments().length) {
          <cv-lists-field
            label="Segments"
            [lists]="segments()"
            [chosen]="chosen().segments"
            (chosenChange)="change({ segments: $event })"
          />
        }
        <cv-people-field label="By hand" [ids]="chosen().people" (idsChange)="change({ people: $event })" />
        <ng-content select="[also]" />
      </fieldset>
      <fieldset>
        <legend>Who is left out</legend>
        <ng-content select="[out]" />
        <cv-lists-field
          label="Left out lists"
          [lists]="lists()"
          [chosen]="chosen().exceptLists"
          (chosenChange)="change({ exceptLists: $event })"
        />
        @if (segments().length) {
          <cv-lists-field
            label="Left out segments"
            [lists]="segments()"
            [chosen]="chosen().exceptSegments"
            (chosenChange)="change({ exceptSegments: $event })"
          />
        }
        <cv-people-field
          label="Left out by hand"
          [ids]="chosen().exceptPeople"
          (idsChange)="change({ exceptPeople: $event })"
        />
      </fieldset>
    </div>
    @if (hasFailed()) {
      <p class="note alarm" role="alert">
        The lists cannot be read just now. <button type="button" class="link" (click)="again()">Try again</button>
      </p>
    }
    <cv-live-count [message]="message()" [asOf]="asOf()" (counted)="counted.emit($event)" />
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 10px;
      container-type: inline-size;
    }
    .sides {
      display: grid;
      gap: 12px 20px;
    }
    @container (min-width: 480px) {
      .sides {
        grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
      }
    }
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      min-width: 0;
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 8px;
      align-content: start;
    }
    legend {
      font-weight: 600;
      padding: 0 0 6px;
    }
  `,
})
export class AudienceEditor {
  private readonly source = inject(AudienceSource);
  readonly chosen = model.required<ChosenPeople>();
  /** The message as it is put together, to be counted; none while there is nothing to count. */
  readonly message = input.required<CountedMessage | undefined>();
  /** Counted anew when this changes. */
  readonly asOf = input<unknown>();
  /** As far as it is counted; null while that begins. */
  readonly counted = output<LiveCount | null>();

  private readonly live = viewChild.required(LiveAudienceCount);
  private readonly listsRead = rxResource({ stream: () => this.source.lists() });
  private readonly segmentsRead = rxResource({ stream: () => this.source.segments() });
  protected readonly lists = computed(() => (this.listsRead.hasValue() ? this.listsRead.value() : []));
  protected readonly segments = computed(() => (this.segmentsRead.hasValue() ? this.segmentsRead.value() : []));
  protected readonly hasFailed = computed(() => Boolean(this.listsRead.error() ?? this.segmentsRead.error()));

  /** A list may have been made meanwhile. */
  again(): void {
    this.listsRead.reload();
    this.segmentsRead.reload();
    this.live().again();
  }
  protected change(part: Partial<ChosenPeople>): void {
    this.chosen.update((chosen) => ({ ...chosen, ...part }));
  }
}
