import { inject, Injectable } from '@angular/core';
import { sayInstant } from './ui/say';
import { switchMap, throwError, type Observable } from 'rxjs';
import type { ByHand } from '@convite/contract';
import { sayDistance } from '@convite/core';
import { BoardApi } from './api/board';
import { Session } from './api/session';
import { Refused } from './refused';
import { Confirm, newKey } from './ui/confirm';
import { SharedClock } from './ui/shared-clock';

/** Sends a firing by hand, after a look at how many get it, how old it is and how it begins: every time. */
@Injectable({ providedIn: 'root' })
export class ByHandSender {
  private readonly api = inject(BoardApi);
  private readonly confirm = inject(Confirm);
  private readonly clock = inject(SharedClock);
  private readonly zone = inject(Session).zone();

  /** Emits when it is going out, and completes without a word on "Not yet". */
  send(firingId: number): Observable<unknown> {
    const key = newKey();
    return this.api.byHand(firingId).pipe(
      switchMap((it) => {
        if (it.refusal) return throwError(() => refusal(it.refusal));
        const people = it.gets === 1 ? 'one person' : `${it.gets} people`;
        return this.confirm
          .ask({ title: `Send “${it.title}” to ${people} now?`, text: this.describe(it), yes: `Send to ${it.gets}` })
          .pipe(switchMap(() => this.api.sendNow(firingId, it.gets, key)));
      }),
    );
  }

  private describe({ eventTitle, channel, dueAt, subject, firstLines }: ByHand): string {
    const dueMs = Date.parse(dueAt);
    const due = `${sayInstant(dueMs, this.zone)}, ${sayDistance(this.clock.nowMs(), dueMs, this.zone)}`;
    return [
      `For ${eventTitle || 'a digest'}, by ${channel}. It was due ${due}.`,
      [subject, firstLines].filter(Boolean).join('\n\n'),
    ].join('\n\n');
  }
}

const refusal = (detail: string): Refused =>
  new Refused({ type: 'about:blank', title: 'refused', status: 409, detail });
