import type { RailAround } from '@convite/contract';
import { instantsOf, isZone, offsetMinutesAt, planAheadMs, usualQuiet } from '@convite/core';
import type { Context } from '../context';
import { getEvent } from '../events/get-event';
import { describeLines } from './board';
import { foldZones, withoutEmpty } from './fold-zones';

/** So much of what others send is drawn. */
const mostOthers = 200;

/** What stands about the cues of an event: rules of the house, the clocks of far-off people, and what else goes out in those weeks. */
export async function railAround(context: Context, eventId: number): Promise<RailAround> {
  const { store, clock } = context;
  const event = await getEvent(context, eventId);
  const nowMs = clock.now();
  const { standby, workdays, holidays, quiet, language } = await store.house.settings();
  const others = await store.firings.ofOthers(eventId, nowMs, nowMs + planAheadMs, mostOthers);
  const { holding, waiting } = await store.eventTallies.find(eventId);
  const { startMs } = instantsOf(event.version.facts);
  return {
    standbyMinutes: standby.minutes,
    publishedAt: event.publishedAt?.toISOString() ?? null,
    workdays: [...workdays],
    holidays: [...holidays],
    quiet: quiet ? { from: quiet.from, until: quiet.until } : usualQuiet,
    language,
    farZones: farZones(await store.subscribers.zones(), event.version.facts.zone, startMs),
    others: await describeLines(context, foldZones(withoutEmpty(others))),
    hasMoreOthers: others.length === mostOthers,
    toTell: { email: holding.email + waiting.all.email, text: holding.text + waiting.all.text },
  };
}

/** Those farthest west and farthest east of home, where their clocks show another time. */
function farZones(zones: readonly string[], home: string, atMs: number): string[] {
  const offset = (zone: string): number => offsetMinutesAt(zone, atMs);
  const away = zones.filter((zone) => isZone(zone) && offset(zone) !== offset(home));
  const sorted = away.sort((a, b) => offset(a) - offset(b));
  const [west, east] = [sorted[0], sorted.at(-1)];
  return [...new Set([west, east].flatMap((zone) => zone ?? []))];
}
