import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { TryOut } from '@convite/contract';

/** What was tried of an invitation, part by part: what is good is said too. */
@Component({
  selector: 'cv-try-out',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h3>Tried before anybody gets it</h3>
    <div aria-live="polite">
      @if (found(); as it) {
        <ul>
          @for (part of it.parts; track $index) {
            <li [class.bad]="!part.isGood">
              <span aria-hidden="true">{{ part.isGood ? '✓' : '✗' }}</span>
              <span class="wrap"
                ><strong>{{ part.name }}</strong
                ><span class="visually-hidden">{{ part.isGood ? ' is right. ' : ' is not right. ' }}</span
                >&ngsp; <span class="said small">{{ part.said }}</span></span
              >
            </li>
          }
        </ul>
        @if (it.unasked) {
          <p class="small quiet">{{ it.unasked }} more links were not asked.</p>
        }
        @if (bad(); as count) {
          <p class="small">
            {{ count === 1 ? 'One part is' : count + ' parts are' }} not right.
            {{
              it.isSendable ? 'You can send it all the same.' : 'You are asked for what is missing before it is sent.'
            }}
          </p>
        }
      } @else if (hasFailed()) {
        <p class="alarm" role="alert">It cannot be tried just now.</p>
      } @else {
        <p class="quiet" role="status">Trying the entry, the mail and every link …</p>
      }
    </div>
    @if (found() || hasFailed()) {
      <button type="button" class="link small" (click)="again.emit()">Try again</button>
    }
  `,
  styles: `
    h3 {
      margin-bottom: 6px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      display: grid;
      grid-template-columns: 16px minmax(0, 1fr);
      gap: 6px;
      padding: 3px 0;
      color: var(--yes);
    }
    li.bad {
      color: var(--alarm);
    }
    strong {
      color: var(--ink);
      font-weight: 600;
    }
    .said {
      color: var(--quiet);
    }
    .bad .said {
      color: var(--alarm);
    }
  `,
})
export class TriedOut {
  readonly found = input.required<TryOut | null>();
  readonly hasFailed = input(false);
  readonly again = output();
  protected readonly bad = computed(() => this.found()?.parts.filter(({ isGood }) => !isGood).length ?? 0);
}
