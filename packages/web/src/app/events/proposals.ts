import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { sayInstant } from '../ui/say';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { EventDetail, Proposal } from '@convite/contract';
import { findOccurrence } from '@convite/core';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { Confirm } from '../ui/confirm';
import { Toast } from '../ui/toast';

/** Other times that people proposed from their calendars, each to be answered yes or no. */
@Component({
  selector: 'cv-proposals',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (open().length) {
      <section class="sheet stack" aria-label="Other times proposed">
        <h2>Other times proposed</h2>
        @for (one of open(); track one.id) {
          <div class="row proposal">
            <span class="grow">
              <strong
                ><bdi>{{ one.person.name || one.person.email }}</bdi></strong
              >
              would come at <strong>{{ when(one) }}</strong> instead of {{ planned(one) }}.
              @if (one.comment) {
                <span class="quiet"
                  >“<bdi>{{ one.comment }}</bdi
                  >”</span
                >
              }
            </span>
            @if (session.canMarket()) {
              <button matButton="outlined" (click)="accept(one)">Move to it</button>
              <button matButton (click)="answer(one, false)">Decline</button>
            }
          </div>
        }
      </section>
    }
  `,
  styles: `
    :host(:empty) {
      display: none;
    }
    .proposal {
      border-top: 1px solid var(--line);
      padding-top: 10px;
    }
    section {
      border-left: 3px solid var(--alarm);
    }
  `,
})
export class Proposals {
  private readonly api = inject(EventsApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  readonly event = input.required<EventDetail>();
  private readonly resource = rxResource({
    params: () => this.event().id,
    stream: ({ params }) => this.api.proposals(params),
  });
  protected readonly open = computed(() => (this.resource.hasValue() ? (this.resource.value() ?? []) : []));

  constructor() {
    reloadOn(
      () => [`event:${this.event().id}`],
      () => this.resource.reload(),
    );
  }

  protected when = ({ startAt }: Proposal): string => sayInstant(Date.parse(startAt), this.event().facts.zone);
  protected planned({ occurrence }: Proposal): string {
    const { facts } = this.event();
    const date = findOccurrence(facts, occurrence);
    return date ? sayInstant(date.startMs, facts.zone) : 'what is planned';
  }
  protected accept(one: Proposal): void {
    const all = this.event().facts.isPersonal
      ? 'Their own time moves; nobody else’s does.'
      : 'The time moves for everybody, as a new version. Tell them from Changes.';
    this.confirm
      .ask({ title: `Move to ${this.when(one)}?`, text: all, yes: 'Move it' })
      .subscribe(() => this.answer(one, true));
  }
  protected answer(one: Proposal, accept: boolean): void {
    const answer = { accept, comment: '', basedOn: this.event().version };
    this.api.answerProposal(this.event().id, one.id, answer).subscribe({
      next: () => {
        this.toast.say(accept ? 'The time has moved.' : 'Their calendar is told that it stays as planned.');
        this.resource.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
