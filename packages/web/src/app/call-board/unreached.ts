import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { map } from 'rxjs';
import { BoardApi } from '../api/board';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { Cell, type Column } from '../ui/table/column';
import { rowSource } from '../ui/table/row-source';
import { Table } from '../ui/table/table';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { Fold } from '../ui/fold';

const stateWords = { failed: 'refused', bounced: 'came back', skipped: 'not sent' } as const;

/** Whom one sending did not reach: exactly those people, the other server's words, and what to do. */
@Component({
  selector: 'cv-unreached',
  imports: [Cell, Fold, MatButtonModule, RouterLink, Table, When],
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
      }
      <cv-table label="People not reached" [source]="people" [columns]="columns">
        <span empty>Everybody was reached, or is being tried again.</span>
        <ng-template cvCell="person" [cvCellOf]="people" let-row>
          <bdi>{{ row.person.name || '—' }}</bdi>
        </ng-template>
        <ng-template cvCell="address" [cvCellOf]="people" let-row>
          <span class="quiet">{{ row.person.email || row.person.mobile }}</span>
        </ng-template>
        <ng-template cvCell="state" [cvCellOf]="people" let-row>
          <span [class.alarm]="row.state !== 'skipped'">{{ words[row.state] }}</span>
        </ng-template>
        <ng-template cvCell="answer" [cvCellOf]="people" let-row>
          <div class="small">
            {{ row.answer }}
            @if (row.attempts.length > 1) {
              <cv-fold [heading]="row.attempts.length + ' answers in all'">
                @for (attempt of row.attempts; track $index) {
                  <div><cv-when [at]="attempt.at" [zone]="zone()" /> {{ attempt.answer }}</div>
                }
              </cv-fold>
            }
          </div>
        </ng-template>
        <ng-template cvCell="advice" [cvCellOf]="people" let-row>
          <span class="small">{{ row.advice }}</span>
        </ng-template>
      </cv-table>
    </main>
  `,
})
export class UnreachedPeople {
  private readonly api = inject(BoardApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  readonly id = input.required<string>();
  protected readonly words = stateWords;
  protected readonly columns: readonly Column[] = [
    { key: 'person', label: 'Person', onCard: 'title' },
    { key: 'address', label: 'Address', onCard: 'fact' },
    { key: 'state', label: 'What became of it', onCard: 'fact' },
    { key: 'answer', label: 'In the other server’s words', onCard: 'fact' },
    { key: 'advice', label: 'What to do', onCard: 'fact' },
  ];
  protected readonly people = rowSource(
    () => Number(this.id()) || 0,
    (id, after) =>
      this.api
        .unreached(id, Number(after ?? 0))
        .pipe(map((page) => ({ ...page, rows: page.rows.map((row) => ({ ...row, id: row.deliveryId })) }))),
    (id) => id,
  );
  protected readonly page = this.people.first;
  protected readonly zone = computed(() => this.page()?.zone ?? 'UTC');
  protected readonly hasFailed = computed(() => this.people.rows().some(({ state }) => state === 'failed'));

  constructor() {
    reloadOn(
      () => ['board'],
      () => this.people.reload(),
    );
  }

  protected tryAgain(): void {
    this.api.tryAgain(Number(this.id())).subscribe({
      next: () => {
        this.toast.say('They are tried again.');
        this.people.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
