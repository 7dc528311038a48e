import type { ClockState, MoveClock } from '@convite/contract';
import type { ShiftableClock } from '../../clock';
import type { Context } from '../context';

const waitMs = 15_000;

export async function readClock({ store, clock }: Context, offsetMs: number, stoppedFor = ''): Promise<ClockState> {
  const { zone } = await store.house.settings();
  return { now: new Date(clock.now()).toISOString(), zone, offsetMs, stoppedFor };
}

/**
 * Moves the clock of all processes ahead, or back to real time. Ahead it never jumps over anything due: on the way it stops at the first firing, so
 * that whoever watches sees each one go, and it waits a moment for messages still on their way. For demonstration and test.
 */
export async function moveClock(context: Context, clock: ShiftableClock, move: MoveClock): Promise<ClockState> {
  await letMessagesLeave(context);
  if ('to' in move && move.to === 'now') {
    const state = await showClock(context, clock, 0, '');
    await context.store.steps.lookAnew(clock.now());
    await context.store.news.forgetLater(clock.now());
    return state;
  }
  const nowMs = clock.now();
  const { store } = context;
  const dueTimes = [await store.firings.nextDueMs(), await store.deliveries.nextRetryMs()].filter((at) => at !== null);
  const nextMs = dueTimes.length ? Math.min(...dueTimes) : null;
  const wantedMs = 'minutes' in move ? nowMs + move.minutes * 60_000 : (nextMs ?? nowMs);
  const targetMs = Math.max(nowMs, nextMs === null ? wantedMs : Math.min(wantedMs, nextMs));
  const stoppedFor = nextMs !== null && targetMs === nextMs ? 'what is due now' : '';
  return showClock(context, clock, clock.offsetMs + targetMs - nowMs, stoppedFor);
}

async function showClock(
  context: Context,
  clock: ShiftableClock,
  offsetMs: number,
  stoppedFor: string,
): Promise<ClockState> {
  clock.shiftTo(offsetMs);
  await context.store.live.setClockOffsetMs(clock.offsetMs);
  await context.store.live.touch('board', 'clock');
  return readClock(context, clock.offsetMs, stoppedFor);
}

/** Messages that have fired leave before time goes on; a mail server that is away does not hold the clock for ever. */
async function letMessagesLeave({ store, clock }: Context): Promise<void> {
  for (const end = Date.now() + waitMs; Date.now() < end && (await store.deliveries.hasDue(clock.now()));) {
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}
