import type { Observable } from 'rxjs';
import type { BehindCountPage, BehindCountRequest, CountedMessage, List, LiveCount } from '@convite/contract';

/** What there is to choose from, and how many a message reaches. A display piece knows no api: the shell provides one. */
export abstract class AudienceSource {
  abstract readonly lists: () => Observable<readonly List[]>;
  /** Segments, as lists are offered. */
  abstract readonly segments: () => Observable<readonly List[]>;
  /** With what it is so far; who stops listening stops the counting. */
  abstract readonly count: (message: CountedMessage) => Observable<LiveCount>;
  abstract readonly behind: (request: BehindCountRequest) => Observable<BehindCountPage>;
}
