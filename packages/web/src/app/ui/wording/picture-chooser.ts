import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { PictureRow } from '@convite/contract';
import { sayError } from '../../refused';
import { chosenFile } from '../typed';
import { WordingSource } from './wording-source';

/** One of the house's pictures, or another that is taken from a file. */
@Component({
  selector: 'cv-picture-chooser',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(keydown.escape)': 'closed.emit()' },
  template: `
    <div class="row">
      <strong>Which picture?</strong>
      <button matButton="outlined" type="button" [disabled]="isBusy()" (click)="field.click()">
        {{ isBusy() ? 'Taking it …' : 'From a file' }}
      </button>
      <input
        #field
        hidden
        type="file"
        accept="image/png,image/jpeg,image/webp,image/gif"
        aria-label="A picture from a file"
        (change)="add(chosenFile($event))"
      />
      <span class="small quiet">up to 15 MB; it is made as wide as mails show it</span>
      <button type="button" class="link small push" (click)="closed.emit()">No picture</button>
    </div>
    @if (problem()) {
      <p class="alarm small" role="alert">{{ problem() }}</p>
    }
    <ul>
      @for (picture of rows(); track picture.digest) {
        <li>
          <button type="button" [title]="picture.name" (click)="chosen.emit(picture)">
            <img
              [src]="'/picture/' + picture.digest"
              [alt]="picture.words || picture.name || 'a picture without words'"
              loading="lazy"
            />
          </button>
        </li>
      }
    </ul>
    @if (next(); as before) {
      <button type="button" class="link small" (click)="read(before)">Older pictures</button>
    }
  `,
  styles: `
    :host {
      display: block;
      padding: 8px 12px;
      border-top: 1px solid var(--line);
    }
    ul {
      list-style: none;
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      margin: 8px 0 0;
      padding: 0;
      max-height: 220px;
      overflow: auto;
    }
    li button {
      padding: 2px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: none;
      cursor: pointer;
    }
    img {
      display: block;
      width: 96px;
      height: 72px;
      object-fit: cover;
    }
    p {
      margin: 4px 0 0;
    }
  `,
})
export class PictureChooser {
  protected readonly chosenFile = chosenFile;
  private readonly source = inject(WordingSource);
  readonly chosen = output<PictureRow>();
  readonly closed = output();
  protected readonly rows = signal<readonly PictureRow[]>([]);
  protected readonly next = signal<number | null>(null);
  protected readonly isBusy = signal(false);
  protected readonly problem = signal('');

  constructor() {
    this.read(null);
  }

  protected read(before: number | null): void {
    this.source.pictures(before).subscribe({
      next: ({ rows, next }) => {
        this.rows.update((shown) => [...shown, ...rows]);
        this.next.set(next);
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
  protected add(file: File | undefined): void {
    if (!file) return;
    this.isBusy.set(true);
    this.problem.set('');
    this.source.addPicture(file).subscribe({
      next: (picture) => {
        this.isBusy.set(false);
        this.chosen.emit(picture);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(sayError(error));
      },
    });
  }
}
