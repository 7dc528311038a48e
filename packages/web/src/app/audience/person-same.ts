import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { MergePreview, Person } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { readingOf } from '../api/reading';
import { Session } from '../api/session';
import { Confirm } from '../ui/confirm';
import { PersonPicker } from '../ui/person-picker';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';

const factWords: Readonly<Record<MergePreview['fills'][number]['fact'], string>> = {
  name: 'the name',
  mobile: 'the number',
  zone: 'the time zone',
};

/** Two people found to be one are put together here, and parted again. */
@Component({
  selector: 'cv-person-same',
  imports: [PersonPicker, RouterLink, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (session.canMarket() || same.value().absorbed.length || same.value().isReally) {
      <section class="stack tight" aria-label="The same person">
        <h3>The same person</h3>
        @if (same.value().isReally; as one) {
          <p class="note">
            Was found to be
            <a routerLink="/audience" [queryParams]="{ person: one.id }"
              ><bdi>{{ say(one) }}</bdi></a
            >: nothing goes to them here any more.
          </p>
        }
        @for (one of same.value().absorbed; track one.mergeId) {
          <p class="small row">
            <span class="grow"
              ><bdi>{{ say(one.person) }}</bdi
              >&ngsp;<span class="quiet"
                >put together by {{ one.by }}, <cv-when [at]="one.at" [zone]="zone" [short]="true" /></span
            ></span>
            @if (session.canMarket()) {
              <button class="link" type="button" (click)="part(one.mergeId)">Part again</button>
            }
          </p>
        }
        @if (session.canMarket() && !same.value().isReally) {
          @for (one of same.value().likely; track one.id) {
            <p class="small row">
              <span class="grow"
                >Perhaps also&ngsp;<bdi>{{ say(one) }}</bdi></span
              >
              <button class="link" type="button" (click)="ask(one)">Put together …</button>
            </p>
          }
          @if (isFinding()) {
            <cv-person-picker (chosen)="ask($event)" />
          } @else {
            <button class="link small" type="button" (click)="isFinding.set(true)">Is somebody else, too …</button>
          }
        }
      </section>
    }
  `,
  styles: `
    section > button {
      justify-self: start;
    }
  `,
})
export class PersonSame {
  private readonly api = inject(AudienceApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly zone = this.session.zone();
  readonly personId = input.required<number>();
  readonly changed = output();
  protected readonly isFinding = signal(false);
  protected readonly same = readingOf(
    computed(() => this.personId()),
    (id) => this.api.same(id),
    { absorbed: [], likely: [], isReally: null },
  );

  protected say({ name, email, mobile }: Pick<Person, 'name' | 'email' | 'mobile'>): string {
    return [name, email || mobile].filter(Boolean).join(' · ');
  }

  /** What goes over is read before it does. */
  protected ask(other: Person): void {
    this.api.previewMerge(this.personId(), other.id).subscribe({
      next: (preview) =>
        this.confirm
          .ask({
            title: `Is ${other.name || other.email || other.mobile} the same person?`,
            text: sayMerge(preview),
            yes: 'Put them together',
          })
          .subscribe(() => this.merge(other.id)),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  private merge(otherId: number): void {
    this.api.merge(this.personId(), otherId).subscribe({
      next: () => this.settle('They are one person now. It can be undone here.'),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected part(mergeId: number): void {
    this.api.part(mergeId).subscribe({
      next: () => this.settle('They are two people again.'),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  private settle(words: string): void {
    this.isFinding.set(false);
    this.toast.say(words);
    this.same.reload();
    this.changed.emit();
  }
}

function sayMerge({ fills, email, joins, optsOut }: MergePreview): string {
  const taken = [
    ...fills.map(({ fact, value }) => `${factWords[fact]} (${value})`),
    ...(email ? [`the address (${email})`] : []),
  ];
  return [
    'The one you are looking at goes on, with the answers, places, notes and fields of the other. Nothing goes to the other any more; their links and addresses mean this one.',
    taken.length ? `Taken over where it was empty: ${taken.join(', ')}.` : '',
    joins.length ? `Goes on the lists: ${joins.join(', ')}.` : '',
    optsOut ? 'The other opted out: then this one has, too.' : '',
    'They can be parted again.',
  ]
    .filter(Boolean)
    .join('\n\n');
}
