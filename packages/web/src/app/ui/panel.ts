import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  inject,
  input,
  output,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';

/**
 * Stands beside what it was opened from, which keeps its place: a person, a cue, a message. Esc closes it, and the keys are
 * back where they were.
 */
@Component({
  selector: 'cv-panel',
  imports: [MatButtonModule],
  host: { role: 'complementary', '[attr.aria-label]': 'label()', '(keydown.escape)': 'leave($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="top">
      <strong class="grow rtl-safe">{{ label() }}</strong>
      <button matButton (click)="closed.emit()">Close</button>
    </div>
    <div class="body"><ng-content /></div>
  `,
  styles: `
    :host {
      position: fixed;
      inset: 34px 0 0 auto;
      /* Above the heads of tables, which stay in view. */
      z-index: 200;
      display: grid;
      grid-template-rows: auto minmax(0, 1fr);
      width: min(560px, 100vw);
      background: var(--paper);
      border-left: 1px solid var(--line);
      box-shadow: -8px 0 28px #0002;
    }
    :host(:focus) {
      outline: none;
    }
    .top {
      display: flex;
      align-items: center;
      gap: 12px;
      padding: 8px 8px 8px 20px;
      border-bottom: 1px solid var(--line);
    }
    .body {
      overflow: auto;
      padding: 16px 20px 40px;
    }
    @media (max-width: 700px) {
      :host {
        inset: 0;
      }
    }
  `,
})
export class Panel {
  /** What stands in it. */
  readonly label = input.required<string>();
  readonly closed = output();

  constructor() {
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    const before = document.activeElement;
    host.tabIndex = -1;
    afterNextRender(() => host.focus({ preventScroll: true }));
    inject(DestroyRef).onDestroy(() => {
      if (before instanceof HTMLElement && before.isConnected) before.focus({ preventScroll: true });
    });
  }

  protected leave(event: Event): void {
    event.stopPropagation();
    this.closed.emit();
  }
}
