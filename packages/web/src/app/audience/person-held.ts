import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { AudienceApi } from '../api/audience';
import { Confirm } from '../ui/confirm';
import { Toast } from '../ui/toast';

/** All that is held about one person: for them to have, or gone for good. */
@Component({
  selector: 'cv-person-held',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="stack" aria-label="What is held">
      <h3>What is held about them</h3>
      <p class="small quiet">All of it as a file that machines read, for them to have; or gone for good.</p>
      <div class="row">
        <a matButton="outlined" [href]="heldUrl()" download>Take it as a file</a>
        <button matButton type="button" class="alarm" (click)="erase()">Erase …</button>
      </div>
    </section>
  `,
  styles: `
    section {
      gap: 3px;
    }
  `,
})
export class PersonHeld {
  private readonly api = inject(AudienceApi);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  readonly personId = input.required<number>();
  readonly name = input.required<string>();
  readonly erased = output();
  protected readonly heldUrl = computed(() => this.api.heldUrl(this.personId()));

  protected erase(): void {
    this.confirm
      .ask({
        title: `Erase ${this.name()}?`,
        text: `Name, addresses, fields, lists, what they said and what was said about them go for good, also from what was sent to them. Counts stay as they are. What waits to go to them does not go, and no file brings them in again; only they themselves can come back.\n\nThis cannot be undone.`,
        yes: 'Erase for good',
        no: 'Keep',
      })
      .subscribe(() =>
        this.api.erasePerson(this.personId()).subscribe({
          next: () => {
            this.toast.say('Erased. Nothing of them is left but the counts.');
            this.erased.emit();
          },
          error: (error: unknown) => this.toast.fail(error),
        }),
      );
  }
}
