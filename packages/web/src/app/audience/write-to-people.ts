import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatButtonToggleModule } from '@angular/material/button-toggle';
import type { ChosenPeople, LocatedProblem, ManualPlan, PeopleSelection, WordingText } from '@convite/contract';
import { isSame, type Channel } from '@convite/core';
import { ManualApi } from '../api/manual';
import { problemsOf, sayError } from '../refused';
import { AudienceCount, sayReason } from '../ui/audience-count';
import { Confirm, type Sending } from '../ui/confirm';
import { MailBody } from '../ui/mail-body';
import { Panel } from '../ui/panel';
import { sayCount, sayNumber } from '../ui/say';
import { Toast } from '../ui/toast';
import { WordingFields } from '../ui/wording-fields';

const blank: WordingText = { subject: '', body: '' };

/** Writes to the people who were picked, now: who gets it and why not the others, the words, how one of them reads it; then *Send*. */
@Component({
  selector: 'cv-write-to-people',
  imports: [AudienceCount, MailBody, MatButtonModule, MatButtonToggleModule, Panel, WordingFields],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-panel label="Write to them now" (closed)="closed.emit()">
      @if (whom(); as it) {
        <section class="stack loose">
          <mat-button-toggle-group
            aria-label="By"
            hideSingleSelectionIndicator
            [value]="channel()"
            (change)="channel.set($event.value)"
          >
            <mat-button-toggle value="email">email</mat-button-toggle>
            <mat-button-toggle value="text">text</mat-button-toggle>
          </mat-button-toggle-group>
          @if (count(); as counted) {
            <cv-audience-count [count]="counted.audience" [share]="counted.share" />
          } @else if (countResource.error()) {
            <p class="alarm">They cannot be counted just now.</p>
          }
          <cv-wording-fields
            [channel]="channel()"
            [wording]="wording()"
            [problems]="problems()"
            [isOfEvent]="false"
            (wordingChange)="wording.set($event)"
          />
          @if (problem()) {
            <p class="note alarm" role="alert">{{ problem() }}</p>
          }
          <p class="row">
            <button matButton="outlined" type="button" [disabled]="!isWritten()" (click)="look()">
              See how they read it
            </button>
            <button matButton="filled" type="button" [disabled]="!canSend()" (click)="send()">{{ sendLabel() }}</button>
          </p>
          @if (preview(); as shown) {
            <section class="stack tight" aria-label="As one of them reads it">
              <p class="small quiet">As {{ shown.person.name || 'one of them' }} reads it:</p>
              @if (shown.html) {
                <p>
                  <strong class="rtl-safe">{{ shown.subject }}</strong>
                </p>
                <cv-mail-body [html]="shown.html" />
              } @else {
                <p class="pre">{{ shown.text }}</p>
              }
            </section>
          }
        </section>
      } @else {
        <p>
          A search cannot be written to: who matches it is another tomorrow. Pick the people one by one, or look at a
          list or a segment and pick all of it.
        </p>
      }
    </cv-panel>
  `,
  styles: `
    mat-button-toggle-group {
      justify-self: start;
    }
  `,
})
export class WriteToPeople {
  private readonly api = inject(ManualApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  readonly selection = input.required<PeopleSelection>();
  readonly closed = output();
  protected readonly channel = signal<Channel>('email');
  protected readonly wording = signal<WordingText>(blank);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  private readonly isSending = signal(false);
  /** Null for what is no audience. */
  protected readonly whom = computed((): ChosenPeople | null => {
    const selection = this.selection();
    const nobody = {
      ...{ lists: [], segments: [], people: [] },
      ...{ exceptLists: [], exceptSegments: [], exceptPeople: [] },
    };
    if ('ids' in selection) return { ...nobody, people: selection.ids };
    if (selection.search.trim()) return null;
    if (selection.segment) return { ...nobody, segments: [selection.segment] };
    return selection.list === null ? null : { ...nobody, lists: [selection.list] };
  });
  private readonly plan = computed(
    (): ManualPlan | undefined => {
      const whom = this.whom();
      return whom ? { ...whom, channel: this.channel() } : undefined;
    },
    { equal: isSame },
  );
  protected readonly countResource = rxResource({
    params: () => this.plan(),
    stream: ({ params }) => this.api.count(params),
  });
  protected readonly count = computed(() =>
    this.countResource.hasValue() ? (this.countResource.value() ?? null) : null,
  );
  private readonly gets = computed(() => {
    const count = this.count();
    return count?.share === 1 ? count.audience.gets : 0;
  });
  private readonly asked = signal<ReturnType<typeof this.request>>(null);
  private readonly previewResource = rxResource({
    params: () => this.asked() ?? undefined,
    stream: ({ params }) => this.api.preview(params),
  });
  protected readonly preview = computed(() =>
    this.previewResource.hasValue() ? (this.previewResource.value() ?? null) : null,
  );
  protected readonly isWritten = computed(() => {
    const { subject, body } = this.wording();
    return body.trim() !== '' && (this.channel() === 'text' || subject.trim() !== '');
  });
  protected readonly canSend = computed(() => this.isWritten() && this.gets() > 0 && !this.isSending());
  protected readonly sendLabel = computed(() =>
    this.gets() ? `Send to ${sayCount(this.gets(), 'person', 'people')}` : 'Send',
  );

  protected look(): void {
    this.asked.set(this.request());
  }
  protected send(): void {
    const request = this.request();
    if (!request) return;
    const gets = this.gets();
    const without = (this.count()?.audience.without ?? []).map(
      ({ reason, count }) => `${sayNumber(count)} ${sayReason(reason)}`,
    );
    this.confirm
      .ask({
        title: `Send to ${sayCount(gets, 'person', 'people')}?`,
        text: [
          this.channel() === 'email' ? request.wording.subject : '',
          request.wording.body.slice(0, 400),
          without.length ? `Not to those who: ${without.join('; ')}.` : '',
        ]
          .filter(Boolean)
          .join('\n\n'),
        yes: `Send to ${sayNumber(gets)}`,
      })
      .subscribe(() => {
        this.isSending.set(true);
        const send = ({ count, key }: Sending) => this.api.send(request, count, key);
        this.confirm.sendAsking(send, 'It goes out at once.', gets).subscribe({
          next: () => {
            this.toast.say('It is going out. The call board says how far it is.');
            this.closed.emit();
          },
          error: (error: unknown) => {
            this.problem.set(sayError(error));
            this.problems.set(problemsOf(error));
            this.isSending.set(false);
          },
          complete: () => this.isSending.set(false),
        });
      });
  }
  private request() {
    const plan = this.plan();
    return plan ? { ...plan, wording: this.wording() } : null;
  }
}
