import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { sayNumber } from '../ui/say';
import type { PeopleImport } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { reloadOn } from '../api/live';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { Fold } from '../ui/fold';

const stateWords = {
  draft: 'not taken yet',
  running: 'taking in',
  done: 'done',
  stopped: 'stopped halfway',
  undoing: 'taking back',
  undone: 'taken back',
} as const;

/** The last imports: how far each is, and the way to stop it, to go on, or to take it back. */
@Component({
  selector: 'cv-recent-imports',
  imports: [Fold, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (rows().length) {
      <cv-fold class="sheet" heading="Imports" [isOpen]="isRunning()">
        @for (row of rows(); track row.id) {
          <div class="import small">
            <span
              ><strong>{{ sayNumber(row.total) }}</strong> people from
              <strong class="rtl-safe">{{ row.name }}</strong>
              @if (row.listName) {
                into <strong class="rtl-safe">{{ row.listName }}</strong>
              }
              <span class="quiet">&ngsp;· {{ row.by }}, <cv-when [at]="row.startedAt" [zone]="zone" /></span
            ></span>
            <span class="number" role="status"
              >{{ words[row.state] }}
              @if (row.state === 'running' || row.state === 'stopped' || row.state === 'undoing') {
                {{ sayNumber(row.position) }} of {{ sayNumber(row.total) }}
              } @else if (row.state === 'done') {
                · {{ sayNumber(row.counts.new) }} new, {{ sayNumber(row.counts.changed) }} changed
              }
            </span>
            @if (session.canMarket()) {
              <span class="row">
                @if (row.state === 'running') {
                  <button class="link" (click)="change(row, 'stop')">Stop</button>
                }
                @if (row.state === 'stopped') {
                  <button class="link" (click)="change(row, 'go-on')">Go on</button>
                }
                @if (row.undoUntil) {
                  <button class="link" (click)="change(row, 'undo')">Undo</button>
                }
              </span>
            }
          </div>
        }
      </cv-fold>
    }
  `,
  styles: `
    .import {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 260px 110px;
      gap: 12px;
      align-items: center;
      min-height: 36px;
      border-top: 1px solid var(--line);
    }
    @media (max-width: 700px) {
      .import {
        grid-template-columns: minmax(0, 1fr);
        padding: 6px 0;
      }
    }
  `,
})
export class RecentImports {
  protected readonly sayNumber = sayNumber;
  private readonly api = inject(AudienceApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly zone = this.session.zone();
  protected readonly words = stateWords;
  private readonly imports = reading(() => this.api.imports(), []);
  protected readonly rows = computed(() => this.imports.value());
  protected readonly isRunning = computed(() => this.rows().some(({ state }) => state === 'running'));

  constructor() {
    reloadOn(
      () => ['subscribers'],
      () => this.imports.reload(),
    );
  }

  protected change({ id }: PeopleImport, change: 'stop' | 'go-on' | 'undo'): void {
    this.api.changeImport(id, change).subscribe({
      next: () => this.imports.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
