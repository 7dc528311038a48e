import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';

/** Somebody saved meanwhile: what they changed and what is typed here, side by side. Neither is lost before somebody chose. */
@Component({
  selector: 'cv-conflict',
  imports: [MatButtonModule],
  host: { role: 'alert' },
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>{{ what() }}</h2>
    <div class="sides">
      <section aria-label="What they changed">
        <h3>What they changed</h3>
        <ng-content select="[theirs]" />
      </section>
      <section aria-label="What you changed">
        <h3>What you changed</h3>
        <ng-content select="[mine]" />
      </section>
    </div>
    @if (clash()) {
      <p class="small">{{ clash() }}</p>
    }
    <div class="row">
      <button matButton="filled" type="button" (click)="merged.emit()">Put mine on top of it</button>
      <button matButton type="button" (click)="dropped.emit()">Take theirs, drop mine</button>
    </div>
  `,
  styles: `
    :host {
      display: grid;
      container-type: inline-size;
      gap: 12px;
      margin-bottom: 14px;
      padding: 16px 18px;
      background: var(--alarm-wash);
      border: 1px solid var(--line);
      border-left: 4px solid var(--alarm);
      border-radius: 6px;
    }
    .sides {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 16px 28px;
    }
    p {
      margin: 0;
    }
    @container (max-width: 600px) {
      .sides {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class Conflict {
  /** Who saved what, as a heading. */
  readonly what = input.required<string>();
  /** What both changed, in a sentence; empty where nothing is. */
  readonly clash = input('');
  readonly merged = output();
  readonly dropped = output();
}
