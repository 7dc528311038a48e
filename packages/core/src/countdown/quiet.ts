import type { Channel } from '../audience/audience';
import { comesTo } from '../audience/pressure';
import type { MessageKind, Quiet } from '../audience/tree';
import { quietEndsMs, type QuietSpan } from '../time/quiet-hours';
import type { EpochMs } from '../time/zone';
import { isZone } from '../time/zone-names';

/** When the house does not write to people, on each one's own clock. */
export interface HouseQuiet extends QuietSpan {
  readonly channels: readonly Channel[];
  /**
   * What becomes of who is in them: they wait until they end, do without, or get what counts down before they begin (and wait
   * where that is not possible). They wait where it is left out.
   */
  readonly manner?: 'wait' | 'out' | 'before' | undefined;
}

/** A message, and when it goes. */
export interface TimedMessage {
  readonly kind: MessageKind;
  readonly channel: Channel;
  /** The event that it is about; null for none. */
  readonly event: number | null;
  /** By zone, which is empty for whose zone is not known. */
  readonly dueIn: (zone: string) => EpochMs;
  /** The start that it must be before; null where it may come whenever. */
  readonly startsMs: EpochMs | null;
  /** Whose clock counts for people whose zone is not known. */
  readonly homeZone: string;
}

/**
 * Whom a message finds in quiet hours: they wait until those end, but never past the start. Then who comes to the event gets it at
 * its moment, since they asked to be there, and the others do without (our own rule). Answers, confirmations, changes and
 * call-offs wait for nothing.
 * @param zones of the people there are
 */
export function quietOf(
  house: HouseQuiet | null,
  { kind, channel, event, dueIn, startsMs, homeZone }: TimedMessage,
  zones: readonly string[],
): Quiet | null {
  if (!house?.channels.includes(channel) || kind === 'answer' || kind === 'notice') return null;
  const found = zones.flatMap((zone) => {
    const untilMs = quietEndsMs(house, isZone(zone) ? zone : homeZone, dueIn(zone));
    return untilMs === null ? [] : [{ zone, untilMs }];
  });
  // A house may rather leave them out than wait; who comes to the event is not left out of what is about it.
  const isLate = ({ untilMs }: { readonly untilMs: EpochMs }): boolean =>
    house.manner === 'out' || (startsMs !== null && untilMs >= startsMs);
  return found.length === 0
    ? null
    : {
        waits: found.filter((one) => !isLate(one)),
        leftOut: found.filter(isLate).map(({ zone }) => zone),
        spares: event === null ? null : comesTo(event),
      };
}
