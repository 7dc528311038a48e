import { Injectable } from '@angular/core';
import type { RehearsedAll, RehearsedCue, WhatIf } from '@convite/core';
import { Observable } from 'rxjs';

export interface AskRehearsal {
  readonly cues: readonly RehearsedCue[];
  readonly perWeek: number | null;
  readonly whatIf: WhatIf;
}

/** Goes through a countdown for all its people, in a worker of its own: whoever types goes on typing. A newer question ends the older. */
@Injectable({ providedIn: 'root' })
export class RehearsalWorker {
  run = (asked: AskRehearsal): Observable<RehearsedAll> =>
    new Observable((reader) => {
      const worker = new Worker(new URL('./rehearsal.worker', import.meta.url), { type: 'module' });
      worker.addEventListener('message', ({ data }: MessageEvent<RehearsedAll>) => {
        reader.next(data);
        reader.complete();
      });
      worker.addEventListener('error', () => reader.error(new Error('It cannot be gone through here.')));
      worker.postMessage(asked);
      return () => worker.terminate();
    });
}
