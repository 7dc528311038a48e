import type { Clock } from '../clock';
import type { Frame } from '../mail/frame';
import type { Store } from '../store/store';
import type { Links } from './links';

/** What every use case is given. */
export interface Context {
  readonly store: Store;
  readonly clock: Clock;
  readonly links: Links;
  readonly frame: Frame;
}

/** Who does it, for the audit log. */
export interface Actor {
  readonly name: string;
}

/** The current time of the injected clock as the store takes it. */
export const nowOf = (context: Pick<Context, 'clock'>): Date => new Date(context.clock.now());
