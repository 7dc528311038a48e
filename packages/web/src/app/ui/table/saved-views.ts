import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatMenuModule } from '@angular/material/menu';
import * as z from 'zod';
import { isSame } from '@convite/core';
import { keptForGood } from '../keeper';

/** What a list is narrowed to, by the names of its filters. */
export type View = Readonly<Record<string, string>>;
const kept = z.array(z.object({ name: z.string(), view: z.record(z.string(), z.string()) }));
type Kept = z.infer<typeof kept>;

/** Ways of looking at a list that somebody keeps in this browser, by names of their own. */
@Component({
  selector: 'cv-saved-views',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule, MatMenuModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button matButton [matMenuTriggerFor]="menu">{{ shownName() || 'Views' }}</button>
    <mat-menu #menu="matMenu">
      @for (one of views(); track one.name) {
        <button mat-menu-item (click)="chosen.emit(one.view)">{{ one.name }}</button>
      }
      @if (shownName()) {
        <button mat-menu-item (click)="forget()">Forget “{{ shownName() }}”</button>
      } @else {
        <button mat-menu-item (click)="isNaming.set(true)">Keep this view …</button>
      }
    </mat-menu>
    @if (isNaming()) {
      <form class="row" (submit)="keep($event, field.value)">
        <mat-form-field class="inline" subscriptSizing="dynamic">
          <input #field matInput maxlength="40" aria-label="Name of the view" placeholder="Drafts of the stars" />
        </mat-form-field>
        <button matButton="outlined">Keep</button>
        <button matButton type="button" (click)="isNaming.set(false)">Cancel</button>
      </form>
    }
  `,
  styles: `
    :host {
      display: inline-flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 6px;
    }
  `,
})
export class SavedViews {
  /** Under which they are kept. */
  readonly name = input.required<string>();
  readonly current = input.required<View>();
  readonly chosen = output<View>();
  protected readonly isNaming = signal(false);
  protected readonly views = linkedSignal(() => read(this.name()));
  protected readonly shownName = computed(
    () => this.views().find(({ view }) => isSame(view, this.current()))?.name ?? '',
  );

  protected keep(submit: Event, typed: string): void {
    submit.preventDefault();
    const name = typed.trim();
    if (!name) return;
    this.write([...this.views().filter((one) => one.name !== name), { name, view: { ...this.current() } }]);
    this.isNaming.set(false);
  }
  protected forget(): void {
    this.write(this.views().filter(({ name }) => name !== this.shownName()));
  }
  private write(views: Kept): void {
    keptForGood.write(keyOf(this.name()), views);
    this.views.set(views);
  }
}

const keyOf = (name: string): string => `views.${name}`;
const read = (name: string): Kept => kept.safeParse(keptForGood.read(keyOf(name))).data ?? [];
