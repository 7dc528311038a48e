import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { Toast } from '../ui/toast';
import { chosenFile } from '../ui/typed';

/** The picture on public pages: saved at once, apart from the form around it. */
@Component({
  selector: 'cv-house-picture',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      @if (picture.value().url; as url) {
        <img [src]="url" alt="The picture on public pages" height="48" />
      } @else {
        <span class="quiet">No picture on public pages.</span>
      }
      @if (session.isOwner()) {
        <button matButton="outlined" type="button" (click)="field.click()">
          {{ picture.value().url ? 'Another picture' : 'Choose a picture' }}
        </button>
        <input
          #field
          hidden
          type="file"
          accept="image/png,image/jpeg"
          aria-label="Picture"
          (change)="take(chosenFile($event))"
        />
        @if (picture.value().url) {
          <button matButton type="button" (click)="remove()">Remove it</button>
        }
        <span class="quiet small">PNG or JPEG, up to 300 kB; saved at once.</span>
      }
    </div>
  `,
})
export class HousePicture {
  private readonly api = inject(SettingsApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly chosenFile = chosenFile;
  protected readonly picture = reading(() => this.api.picture(), { url: '' });

  protected take(file: File | undefined): void {
    if (file) this.act(this.api.setPicture(file), 'The picture stands on public pages.');
  }
  protected remove(): void {
    this.act(this.api.removePicture(), 'Public pages have no picture.');
  }
  private act(act: ReturnType<SettingsApi['removePicture']>, words: string): void {
    act.subscribe({
      next: () => {
        this.toast.say(words);
        this.picture.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
