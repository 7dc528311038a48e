import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { RouterLink } from '@angular/router';
import type { PictureRow, PictureUses } from '@convite/contract';
import { PicturesApi } from '../api/pictures';
import { Session } from '../api/session';
import { sayError } from '../refused';
import { sayNumber } from '../ui/say';
import { Toast } from '../ui/toast';
import { chosenFile, typed } from '../ui/typed';

/** Pictures of the house: what each shows in words, where it is used; taken from files, and set aside. */
@Component({
  selector: 'cv-pictures',
  imports: [MatButtonModule, MatCheckboxModule, MatFormFieldModule, MatInputModule, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Pictures</h1>
        <span class="quiet">that messages show; PNG, JPEG, WebP or GIF, up to 15 MB</span>
        <a class="push" routerLink="/wording">All wordings</a>
        @if (session.canMarket()) {
          <button matButton="filled" type="button" [disabled]="isBusy()" (click)="field.click()">
            {{ isBusy() ? 'Taking it …' : 'Add a picture' }}
          </button>
          <input
            #field
            hidden
            type="file"
            accept="image/png,image/jpeg,image/webp,image/gif"
            aria-label="A picture from a file"
            (change)="add(chosenFile($event))"
          />
        }
      </div>
      <div>
        <mat-checkbox [checked]="showsArchived()" (change)="showArchived($event.checked)"
          >those set aside instead</mat-checkbox
        >
      </div>
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
      <ul>
        @for (picture of rows(); track picture.digest) {
          <li class="sheet">
            <img [src]="'/picture/' + picture.digest" [alt]="picture.words" loading="lazy" />
            <mat-form-field subscriptSizing="dynamic"
              ><mat-label>What it shows, in words</mat-label
              ><input
                matInput
                dir="auto"
                maxlength="300"
                [readonly]="!session.canMarket()"
                [value]="picture.words"
                (change)="change(picture, { words: typed($event) })"
            /></mat-form-field>
            <p class="small quiet wrap">
              {{ picture.name }} · {{ picture.width }} × {{ picture.height }}, {{ kilobytes(picture) }} kB ·
              {{ picture.addedBy }}
            </p>
            @if (!picture.words) {
              <p class="small alarm">Nobody has said what it shows.</p>
            }
            <p class="row small">
              <button
                type="button"
                class="link"
                [attr.aria-expanded]="opened() === picture.digest"
                (click)="open(picture)"
              >
                Where it is used
              </button>
              @if (session.canMarket()) {
                <button type="button" class="link" (click)="change(picture, { isArchived: !picture.isArchived })">
                  {{ picture.isArchived ? 'Take up again' : 'Set aside' }}
                </button>
              }
            </p>
            @if (opened() === picture.digest) {
              @if (uses(); as it) {
                <ul class="uses small">
                  @if (it.isMark) {
                    <li><a routerLink="/settings/look">The mark of the house</a>, in every mail</li>
                  }
                  @for (one of it.wordings; track one.key) {
                    <li>
                      <a [routerLink]="['/wording', one.key]">{{ one.name }}</a>, a wording
                    </li>
                  }
                  @for (one of it.cues; track one.id) {
                    <li>
                      <a [routerLink]="['/events', one.eventId, 'countdown']" [queryParams]="{ cue: one.id }">{{
                        one.name
                      }}</a>, a cue
                    </li>
                  }
                  @for (one of it.digests; track one.id) {
                    <li>
                      <a routerLink="/digests" [queryParams]="{ digest: one.id }">{{ one.name }}</a>, a digest
                    </li>
                  }
                  @if (it.hasMore) {
                    <li>and in others.</li>
                  }
                  @if (!it.isMark && !it.wordings.length && !it.cues.length && !it.digests.length) {
                    <li>Nothing shows it now. What went out with it shows it for good.</li>
                  }
                </ul>
              }
            }
          </li>
        } @empty {
          @if (isRead()) {
            <li class="empty">
              {{
                showsArchived() ? 'None is set aside.' : 'No picture yet. Add one here, or while you write a message.'
              }}
            </li>
          }
        }
      </ul>
      @if (next(); as before) {
        <div><button matButton="outlined" type="button" (click)="read(before)">Older pictures</button></div>
      }
    </main>
  `,
  styles: `
    main {
      display: grid;
      gap: 14px;
    }
    .head {
      margin: 0;
    }
    main > ul {
      list-style: none;
      margin: 0;
      padding: 0;
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
      gap: 16px;
      align-items: start;
    }
    main > ul > li {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 8px;
      padding: 12px;
    }
    main > ul > .empty {
      grid-column: 1 / -1;
    }
    img {
      width: 100%;
      height: 160px;
      object-fit: contain;
      background: var(--paper);
      border-radius: 4px;
    }
    p {
      margin: 0;
    }
    .uses {
      margin: 0;
      padding-left: 18px;
    }
  `,
})
export class Pictures {
  protected readonly chosenFile = chosenFile;
  protected readonly typed = typed;
  private readonly api = inject(PicturesApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly rows = signal<readonly PictureRow[]>([]);
  protected readonly next = signal<number | null>(null);
  protected readonly isRead = signal(false);
  protected readonly isBusy = signal(false);
  protected readonly problem = signal('');
  protected readonly showsArchived = signal(false);
  protected readonly opened = signal('');
  protected readonly uses = signal<PictureUses | null>(null);

  constructor() {
    this.read(null);
  }

  protected kilobytes = ({ octets }: PictureRow): string => sayNumber(Math.max(1, Math.round(octets / 1000)));

  protected read(before: number | null): void {
    this.api.page(before, this.showsArchived()).subscribe({
      next: ({ rows, next }) => {
        this.rows.update((shown) => (before === null ? rows : [...shown, ...rows]));
        this.next.set(next);
        this.isRead.set(true);
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
  protected showArchived(shows: boolean): void {
    this.showsArchived.set(shows);
    this.read(null);
  }
  protected add(file: File | undefined): void {
    if (!file) return;
    this.isBusy.set(true);
    this.problem.set('');
    this.api.add(file).subscribe({
      next: (picture) => {
        this.isBusy.set(false);
        this.showsArchived.set(false);
        this.toast.say(`${picture.name || 'The picture'} is taken. Say what it shows.`);
        this.read(null);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(sayError(error));
      },
    });
  }
  protected change(picture: PictureRow, part: Partial<Pick<PictureRow, 'words' | 'isArchived'>>): void {
    const { words, isArchived } = { ...picture, ...part };
    this.api.change(picture.digest, { words, isArchived }).subscribe({
      next: () =>
        this.rows.update((rows) =>
          rows.flatMap((row) => {
            if (row.digest !== picture.digest) return [row];
            return isArchived === this.showsArchived() ? [{ ...row, words, isArchived }] : [];
          }),
        ),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected open({ digest }: PictureRow): void {
    const isOpen = this.opened() === digest;
    this.opened.set(isOpen ? '' : digest);
    this.uses.set(null);
    if (isOpen) return;
    this.api.uses(digest).subscribe({
      next: (uses) => this.opened() === digest && this.uses.set(uses),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
