import type { Clock } from '../clock';
import type { Frames } from '../mail/frame';
import type { EmailMessage, End, TextMessage } from '../mail/message';
import type { CalendarReader } from '../net/calendar-reader';
import type { Store } from '../store/store';
import type { Seal } from './accounts/seal';
import type { Links } from './sending/links';

/** What every use case is given. */
export interface Context {
  readonly store: Store;
  readonly clock: Clock;
  readonly links: Links;
  readonly frames: Frames;
  readonly seal: Seal;
  /** Reads calendars made elsewhere. */
  readonly calendars: Pick<CalendarReader, 'read'>;
  /** Where mail leaves at once, such as a test message to oneself; everything else goes by deliveries. */
  readonly mail: Pick<End<EmailMessage>, 'send'>;
  /** Where a text leaves at once, likewise. */
  readonly text: Pick<End<TextMessage>, 'send'>;
}

/** Who does it, for the audit log. */
export interface Actor {
  readonly name: string;
  /** Null for who is no member. */
  readonly memberId?: number | null;
  /** Where it came from. */
  readonly address?: string;
}

/** The current time of the injected clock as the store takes it. */
export const nowOf = (context: Pick<Context, 'clock'>): Date => new Date(context.clock.now());
