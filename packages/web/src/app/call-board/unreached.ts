import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { BoardApi } from '../api/board';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { Pager } from '../ui/pager';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';

const stateWords = { failed: 'refused', bounced: 'came back', skipped: 'not sent' } as const;

/** Whom one sending did not reach: exactly those people, the other server's words, and what to do. */
@Component({
  selector: 'cv-unreached',
  imports: [MatButtonModule, Pager, RouterLink, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <p class="small"><a routerLink="/">Call board</a></p>
      @if (page(); as page) {
        <div class="head">
          <h1>Not reached</h1>
          <span class="rtl-safe"
            >{{ page.title }}
            @if (page.eventTitle) {
              <span class="quiet">· {{ page.eventTitle }}</span>
            }
          </span>
          @if (session.canMarket() && hasFailed()) {
            <button matButton="filled" class="push" (click)="tryAgain()">Try those refused again</button>
          }
        </div>
        @if (page.rows.length) {
          <div class="scroll" tabindex="0" role="region" aria-label="People not reached">
            <table class="list">
              <thead>
                <tr>
                  <th>Person</th>
                  <th>Address</th>
                  <th>What became of it</th>
                  <th>In the other server’s words</th>
                  <th>What to do</th>
                </tr>
              </thead>
              <tbody>
                @for (row of page.rows; track row.deliveryId) {
                  <tr>
                    <td>
                      <bdi>{{ row.person.name || '—' }}</bdi>
                    </td>
                    <td class="quiet">{{ row.person.email || row.person.mobile }}</td>
                    <td [class.alarm]="row.state !== 'skipped'">{{ words[row.state] }}</td>
                    <td class="small">
                      {{ row.answer }}
                      @if (row.attempts.length > 1) {
                        <details>
                          <summary>{{ row.attempts.length }} answers in all</summary>
                          @for (attempt of row.attempts; track $index) {
                            <div><cv-when [at]="attempt.at" [zone]="page.zone" /> {{ attempt.answer }}</div>
                          }
                        </details>
                      }
                    </td>
                    <td class="small">{{ row.advice }}</td>
                  </tr>
                }
              </tbody>
            </table>
          </div>
          <cv-pager [(after)]="after" [next]="page.next" />
        } @else {
          <div class="empty">Everybody was reached, or is being tried again.</div>
        }
      } @else if (resource.error()) {
        <p class="note alarm" role="alert">
          This cannot be read just now. <button class="link" (click)="resource.reload()">Try again</button>
        </p>
      } @else {
        <p class="quiet" role="status">Reading whom it did not reach …</p>
      }
    </main>
  `,
  styles: `
    td {
      vertical-align: top;
    }
  `,
})
export class UnreachedPeople {
  private readonly api = inject(BoardApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  readonly id = input.required<string>();
  protected readonly words = stateWords;
  protected readonly after = signal(0);
  protected readonly resource = rxResource({
    params: () => ({ id: Number(this.id()) || 0, after: this.after() }),
    stream: ({ params }) => this.api.unreached(params.id, params.after),
  });
  protected readonly page = computed(() => (this.resource.hasValue() ? (this.resource.value() ?? null) : null));
  protected readonly hasFailed = computed(() => this.page()?.rows.some(({ state }) => state === 'failed') ?? false);

  constructor() {
    reloadOn(
      () => ['board'],
      () => this.resource.reload(),
    );
  }

  protected tryAgain(): void {
    this.api.tryAgain(Number(this.id())).subscribe({
      next: () => {
        this.toast.say('They are tried again.');
        this.resource.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
