import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { AudienceApi } from '../api/audience';
import { readingOf } from '../api/reading';
import { Session } from '../api/session';
import { sayError } from '../refused';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';
import { When } from '../ui/when';

/** What members note about one person, for each other. */
@Component({
  selector: 'cv-person-notes',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="stack tight" aria-label="Notes">
      <h3>Notes</h3>
      @for (note of notes.value(); track note.id) {
        <div class="small">
          <span class="pre" dir="auto">{{ note.text }}</span>
          <div class="quiet">
            {{ note.by }}, <cv-when [at]="note.at" [zone]="zone" />
            @if (session.canMarket()) {
              · <button class="link" type="button" (click)="remove(note.id)">Take it out</button>
            }
          </div>
        </div>
      } @empty {
        <p class="small quiet">None. What is noted here is part of what is held about them.</p>
      }
      @if (session.canMarket()) {
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>A note</mat-label
          ><textarea
            matInput
            rows="2"
            dir="auto"
            maxlength="2000"
            [value]="text()"
            (input)="text.set(typed($event))"
          ></textarea>
        </mat-form-field>
        @if (problem()) {
          <p class="note alarm" role="alert">{{ problem() }}</p>
        }
        <div class="row">
          <button matButton="outlined" type="button" [disabled]="!text().trim()" (click)="add()">Note it</button>
        </div>
      }
    </section>
  `,
})
export class PersonNotes {
  protected readonly typed = typed;
  private readonly api = inject(AudienceApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly zone = this.session.zone();
  readonly personId = input.required<number>();
  protected readonly notes = readingOf(
    computed(() => this.personId()),
    (id) => this.api.notes(id),
    [],
  );
  protected readonly text = signal('');
  protected readonly problem = signal('');

  protected add(): void {
    this.api.addNote(this.personId(), this.text().trim()).subscribe({
      next: () => {
        this.text.set('');
        this.problem.set('');
        this.notes.reload();
      },
      error: (error: unknown) => this.problem.set(sayError(error)),
    });
  }
  protected remove(id: number): void {
    this.api.removeNote(this.personId(), id).subscribe({
      next: () => this.notes.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
