import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { reading } from '../api/reading';
import { SettingsApi } from '../api/settings';
import { ReadingProblem } from '../ui/reading-problem';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';

/** Keys by which programs bring in people's own times, such as a booking desk. Each is shown once. */
@Component({
  selector: 'cv-program-keys',
  imports: [MatButtonModule, ReadingProblem, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Keys for programs">
      <h2>Keys for programs</h2>
      <cv-reading-problem [of]="keys" what="The keys" />
      @for (key of keys.value(); track key.id) {
        <div class="row">
          <span class="grow"
            ><strong>{{ key.name }}</strong>
            <span class="small quiet">
              @if (key.usedAt) {
                used <cv-when [at]="key.usedAt" zone="UTC" />
              } @else {
                never used
              }
            </span></span
          >
          <button class="link small" (click)="remove(key.id)">Remove</button>
        </div>
      } @empty {
        @if (!keys.hasFailed()) {
          <p class="quiet small">
            None. A booking desk would post people’s times to /programs/events/:id/personal with one.
          </p>
        }
      }
      @if (made()) {
        <p class="note good small" role="status">
          Copy it now, it is not shown again:<br /><code class="mono wrap">{{ made() }}</code>
        </p>
      }
      <form class="row" (submit)="make($event)">
        <input
          class="grow"
          aria-label="Name of a new key"
          placeholder="Booking desk"
          [value]="name()"
          (input)="name.set($any($event.target).value)"
        />
        <button matButton="outlined" [disabled]="!name().trim()">Make a key</button>
      </form>
    </section>
  `,
})
export class ProgramKeys {
  private readonly api = inject(SettingsApi);
  private readonly toast = inject(Toast);
  protected readonly keys = reading(() => this.api.keys(), []);
  protected readonly name = signal('');
  protected readonly made = signal('');

  protected make(event: Event): void {
    event.preventDefault();
    this.api.makeKey(this.name().trim()).subscribe({
      next: ({ key }) => {
        this.made.set(key);
        this.name.set('');
        this.keys.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected remove(id: number): void {
    this.api.removeKey(id).subscribe({
      next: () => this.keys.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
