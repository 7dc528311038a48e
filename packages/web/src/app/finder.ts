import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { sayInstant } from './ui/say';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { Router } from '@angular/router';
import { catchError, forkJoin, map, of, type Observable } from 'rxjs';

import { AudienceApi } from './api/audience';
import { BackstageApi } from './api/backstage';
import { BoardApi } from './api/board';
import { EventsApi } from './api/events';
import { Session } from './api/session';
import { Chooser, type Choice } from './ui/chooser';
import { Toast } from './ui/toast';

/** What is done when it is chosen. */
type Act = () => void;

const mostFound = 6;
/** Shorter words would find half the house. */
const leastLetters = 2;

/** Finds events, people and cues by typing, goes anywhere, and does what is done most: one field for all of it. */
@Component({
  selector: 'cv-finder',
  imports: [Chooser, MatButtonModule, MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 mat-dialog-title>Find or do</h2>
    <mat-dialog-content>
      <cv-chooser
        label="Find or do"
        placeholder="An event, a person, a cue, or what to do"
        [find]="find"
        [clears]="true"
        (chosen)="act($event.value)"
      />
      <p class="small quiet">Opens with / or Ctrl K. Arrows choose, Enter does it, Esc closes.</p>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>Close</button>
    </mat-dialog-actions>
  `,
  styles: `
    cv-chooser {
      display: block;
      margin-top: 6px;
    }
  `,
})
export class Finder {
  private readonly dialog = inject<MatDialogRef<Finder>>(MatDialogRef);
  private readonly router = inject(Router);
  private readonly session = inject(Session);
  private readonly events = inject(EventsApi);
  private readonly audience = inject(AudienceApi);
  private readonly board = inject(BoardApi);
  private readonly backstage = inject(BackstageApi);
  private readonly toast = inject(Toast);

  protected readonly find = (text: string): Observable<readonly Choice<Act>[]> => {
    const words = text.toLowerCase();
    const acts = this.acts().filter(({ name }) => name.toLowerCase().includes(words));
    if (text.length < leastLetters) return of(acts);
    return forkJoin([this.eventsOf(text), this.peopleOf(text), this.cuesOf(text)]).pipe(
      map((found) => [...acts, ...found.flat()]),
    );
  };

  protected act(act: Act): void {
    this.dialog.close();
    act();
  }

  private acts(): Choice<Act>[] {
    const to = (name: string, path: string): Choice<Act> => ({ name, about: 'go there', value: () => this.go([path]) });
    const markets: Choice<Act>[] = [
      { ...to('New event', '/events/new'), about: 'begins as a draft' },
      { ...to('Import a calendar', '/events/import'), about: 'events made elsewhere' },
      { name: 'Hold what goes out next', about: 'until somebody sets it again', value: () => this.hold() },
    ];
    if (this.session.me()?.hasBackstage)
      markets.push({
        name: 'Move the clock to what is due next',
        about: 'backstage',
        value: () => this.moveClock(),
      });
    return [
      to('Call board', '/'),
      to('Events', '/events'),
      to('Digests', '/digests'),
      to('Audience', '/audience'),
      to('Segments', '/audience/segments'),
      to('Sign-up forms', '/audience/forms'),
      to('Fields and topics', '/audience/fields'),
      { ...to('Wording', '/wording'), about: 'messages kept to be used again' },
      { ...to('Pictures', '/wording/pictures'), about: 'that messages show' },
      { ...to('Add people', '/audience/add'), about: 'from a file, pasted, or typed' },
      ...(this.session.me()?.hasBackstage ? [to('Backstage', '/backstage')] : []),
      ...[
        ['the house', 'house'],
        ['senders and pace', 'senders'],
        ['web calendars', 'calendars'],
        ['signing in', 'signing-in'],
        ['the team', 'team'],
        ['the audit log', 'log'],
      ].map(([name, section]) => to(`Settings: ${name}`, `/settings/${section}`)),
      to('Your account', '/account'),
      ...(this.session.canMarket() ? markets : []),
    ];
  }
  private eventsOf(search: string): Observable<Choice<Act>[]> {
    const of_ = (when: 'coming' | 'past') =>
      this.events.list({ when, search, after: 0 }).pipe(
        map(({ rows }) =>
          rows.slice(0, mostFound).map(({ id, title, startAt, zone }) => ({
            name: title,
            about: sayInstant(Date.parse(startAt), zone),
            value: () => this.go(['/events', id]),
          })),
        ),
        catchError(() => of([])),
      );
    return forkJoin([of_('coming'), of_('past')]).pipe(map((found) => found.flat()));
  }
  private readonly peopleOf = (search: string): Observable<Choice<Act>[]> =>
    this.audience.subscribers(search, null, 0).pipe(
      map(({ rows }) =>
        rows.slice(0, mostFound).map(({ id, name, email, mobile }) => ({
          name: name || email || mobile,
          about: email,
          value: () => this.go(['/audience'], { person: id }),
        })),
      ),
      catchError(() => of([])),
    );
  private readonly cuesOf = (search: string): Observable<Choice<Act>[]> =>
    this.events.findCues(search).pipe(
      map((cues) =>
        cues.map(({ id, name, eventId, eventTitle }) => ({
          name,
          about: `cue of ${eventTitle}`,
          value: () => this.go(['/events', eventId, 'countdown'], { cue: id }),
        })),
      ),
      catchError(() => of([])),
    );
  private moveClock(): void {
    this.backstage.moveClock({ to: 'next' }).subscribe({
      next: ({ now, zone }) => this.toast.say(`It is ${sayInstant(Date.parse(now), zone)} now.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  private hold(): void {
    this.board.strip().subscribe({
      next: ({ next }) => {
        if (!next) return this.toast.say('Nothing is set to go out.');
        this.board.stop(next.firingId).subscribe({
          next: () => this.toast.say(`Held: “${next.title}” will not go out.`),
          error: (error: unknown) => this.toast.fail(error),
        });
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  private go(path: (string | number)[], queryParams: Record<string, number> = {}): void {
    void this.router.navigate(path, { queryParams });
  }
}
