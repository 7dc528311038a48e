import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { switchMap } from 'rxjs';
import type { Misuse } from '@convite/contract';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { Confirm } from '../ui/confirm';
import { ReadingProblem } from '../ui/reading-problem';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';

const kinds: Readonly<Record<Misuse['kind'], string>> = {
  number: 'Mobile number',
  answer: 'Answer',
  act: 'Personal page',
  pause: 'Paused email',
};

/** Ends all personal links, and lists what looks as if somebody had used those of others. */
@Component({
  selector: 'cv-personal-links',
  imports: [MatButtonModule, ReadingProblem, RouterLink, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Personal links">
      <h2>Personal links</h2>
      <p>
        Every message has links for its reader alone: to answer, to their calendar, to their preferences. If others may
        have seen them, end them all. Messages from then on have new links. Old links lead to a page that sends the
        reader a new one; opting out keeps working.
      </p>
      <div><button matButton="outlined" type="button" (click)="end()">End all links …</button></div>
    </section>
    <section class="sheet stack" aria-label="Possible misuse">
      <h2>Possible misuse</h2>
      <cv-reading-problem [of]="misuses" what="The list" />
      @for (one of misuses.value().rows; track one.id) {
        <div class="row top">
          <span class="grow"
            ><strong>{{ kinds[one.kind] }}</strong>
            <span class="small quiet"> · <cv-when [at]="one.at" [zone]="zone" /></span><br /><span
              class="rtl-safe wrap"
              >{{ one.what }}</span
            ></span
          >
          @if (one.personId !== null) {
            <a [routerLink]="['/audience']" [queryParams]="{ person: one.personId }">Open person</a>
          }
          <button class="link" type="button" (click)="review(one)">Mark reviewed</button>
        </div>
      } @empty {
        <p class="quiet">Nothing to review.</p>
      }
      @if (misuses.value().next !== null) {
        <p class="small quiet">Older entries are listed when these are reviewed.</p>
      }
    </section>
  `,
  styles: `
    :host {
      display: grid;
      gap: 16px;
    }
  `,
})
export class PersonalLinks {
  private readonly api = inject(SettingsApi);
  private readonly toast = inject(Toast);
  private readonly confirm = inject(Confirm);
  protected readonly zone = inject(Session).zone();
  protected readonly kinds = kinds;
  protected readonly misuses = reading(() => this.api.misuses(), { rows: [], next: null });

  protected end(): void {
    const question = {
      title: 'End all personal links?',
      text: 'Links in messages that you sent stop working, and calendars that people follow by their personal address stop updating. This cannot be undone.',
      yes: 'End links',
      no: 'Cancel',
    };
    this.confirm
      .ask(question)
      .pipe(switchMap(() => this.api.endLinks()))
      .subscribe({
        next: () => this.toast.say('All personal links have ended. New messages have new ones.'),
        error: (error: unknown) => this.toast.fail(error),
      });
  }

  protected review({ id }: Misuse): void {
    this.api.reviewMisuse(id).subscribe({
      next: () => this.misuses.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
