import type { ClockState, MoveClock } from '@convite/contract';
import type { ShiftableClock } from '../clock';
import type { Context } from './context';

export async function readClock({ store, clock }: Context, offsetMs: number, stoppedFor = ''): Promise<ClockState> {
  const { zone } = await store.house.settings();
  return { now: new Date(clock.now()).toISOString(), zone, offsetMs, stoppedFor };
}

/**
 * Moves the clock of all processes ahead. It never jumps over anything due: on the way it stops at the first firing, so
 * that whoever watches sees each one go. Demonstration and test only.
 */
export async function moveClock(context: Context, clock: ShiftableClock, move: MoveClock): Promise<ClockState> {
  const nowMs = clock.now();
  const nextMs = await context.store.firings.nextDueMs();
  const wantedMs = 'minutes' in move ? nowMs + move.minutes * 60_000 : (nextMs ?? nowMs);
  const targetMs = Math.max(nowMs, nextMs === null ? wantedMs : Math.min(wantedMs, nextMs));
  clock.shiftTo(clock.offsetMs + targetMs - nowMs);
  await context.store.live.setClockOffsetMs(clock.offsetMs);
  await context.store.live.touch('board', 'clock');
  const stoppedFor = nextMs !== null && targetMs === nextMs ? 'a firing that is due now' : '';
  return readClock(context, clock.offsetMs, stoppedFor);
}
