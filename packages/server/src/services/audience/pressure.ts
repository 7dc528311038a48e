import {
  mostTried,
  type PressureChange,
  type PressureLook,
  type PressurePage,
  type QuietChange,
} from '@convite/contract';
import { daysFrom, heldBackUnder, planAheadMs, pressureWindowMs, sumByDay } from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { refuseStale } from '../failure';

const dayMs = 86_400_000;
const daysAhead = 28;
/** So far back it is tried what a limit would have done. */
const triedMs = 30 * dayMs;
/** So many people are looked at in one statement. */
const sliceSize = 20_000;

/** How often one person is written to, and how much is planned for each of the coming days. */
export async function readPressure({ store, clock }: Context): Promise<PressurePage> {
  const { pressure, quiet, zone } = await store.house.settings();
  const nowMs = clock.now();
  const planned = await store.pressure.planned(new Date(nowMs), new Date(nowMs + daysAhead * dayMs));
  return { pressure, quiet, days: sumByDay(daysFrom(nowMs, zone, daysAhead), zone, planned) };
}

/** Sets how often one person is written to. What goes out from now on keeps it. @throws Failure 409 for what changed meanwhile */
export async function savePressure(context: Context, { pressure, was }: PressureChange, actor: Actor): Promise<void> {
  const { store, clock } = context;
  await store.transact(async (tx) => {
    const settings = await tx.house.settingsForUpdate();
    refuseStale('limit', settings.pressure, was);
    await tx.house.saveSettings({ ...settings, pressure });
    const said = pressure.perWeek === null ? 'no limit' : `at most ${pressure.perWeek} a week`;
    await tx.house.audit(nowOf(context), actor, 'contact pressure: set', said);
    await tx.pressure.recount(new Date(clock.now()), new Date(clock.now() + pressureWindowMs));
    await tx.live.touch('settings', 'board');
  });
}

const goesEarly = (quiet: PressurePage['quiet']): boolean => quiet?.manner === 'before';

/** Sets when people are not disturbed. What goes out from now on keeps it. @throws Failure 409 for what changed meanwhile */
export async function saveQuiet(context: Context, { quiet, was }: QuietChange, actor: Actor): Promise<void> {
  const { store, clock } = context;
  await store.transact(async (tx) => {
    const settings = await tx.house.settingsForUpdate();
    refuseStale('span', { quiet: settings.quiet }, was === undefined ? undefined : { quiet: was });
    await tx.house.saveSettings({ ...settings, quiet });
    const said = quiet
      ? `${quiet.from} to ${quiet.until}, ${quiet.channels.join(' and ')}, ${quiet.manner ?? 'wait'}`
      : 'none';
    await tx.house.audit(nowOf(context), actor, 'contact pressure: quiet hours set', said);
    if (goesEarly(settings.quiet) || goesEarly(quiet)) await tx.events.replanAll(clock.now());
    // Who would have to wait past a start does without it, so that counts may change.
    await tx.pressure.recount(new Date(clock.now()), new Date(clock.now() + planAheadMs));
    await tx.live.touch('settings', 'board');
  });
}

/**
 * Looks through what everybody was sent: how much it was this week, and what each limit would have held back in the last thirty
 * days. Slice by slice of all people, each time with what it is so far; whoever stops reading stops it.
 */
export async function* lookBack({ store, clock }: Context): AsyncGenerator<PressureLook> {
  const nowMs = clock.now();
  const last = await store.subscribers.lastId();
  const thisWeek = Array.from({ length: mostTried }, () => 0);
  const heldBack = Array.from({ length: mostTried }, (_, index) => ({ perWeek: index + 1, messages: 0, people: 0 }));
  let messages = 0;
  for (let from = 1; from <= Math.max(1, last); from += sliceSize) {
    const to = from + sliceSize - 1;
    const sent = await store.pressure.sentTo(from, to, new Date(nowMs - triedMs - pressureWindowMs));
    for (const times of sent.values()) {
      const lately = times.filter((atMs) => atMs >= nowMs - pressureWindowMs).length;
      if (lately > 0) thisWeek[Math.min(lately, mostTried) - 1] = (thisWeek[Math.min(lately, mostTried) - 1] ?? 0) + 1;
      // The week before the thirty days decides what would have been held back on the first of them.
      const before = times.filter((atMs) => atMs < nowMs - triedMs);
      messages += times.length - before.length;
      for (const limit of heldBack) {
        const held = heldBackUnder(limit.perWeek, times) - heldBackUnder(limit.perWeek, before);
        limit.messages += held;
        limit.people += held > 0 ? 1 : 0;
      }
    }
    yield { share: Math.min(1, to / Math.max(1, last)), thisWeek, messages, heldBack };
  }
}
