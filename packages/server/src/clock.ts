import type { EpochMs } from '@convite/core';

/** The one source of "now". Everything that decides by time is given a clock. */
export interface Clock {
  now(): EpochMs;
}

/** A clock that can be set ahead, for the demonstration: real time plus an offset that all processes share. */
export interface ShiftableClock extends Clock {
  /** Milliseconds ahead of real time. */
  shiftTo(offsetMs: number): void;
  readonly offsetMs: number;
}

export function shiftableClock(): ShiftableClock {
  let offsetMs = 0;
  return {
    now: () => Date.now() + offsetMs,
    shiftTo: (next) => {
      offsetMs = next;
    },
    get offsetMs() {
      return offsetMs;
    },
  };
}
