import type { Store } from '../store/store';
import type { Done } from './lane';

/**
 * Writes down what became of some messages, each only while the lease it was claimed under still holds it, and who now
 * holds which version. Whoever got a version that was overtaken while it was on its way is put down for the notice that
 * passed them over.
 */
export async function recordOutcomes(store: Store, batch: readonly Done[], now: Date): Promise<void> {
  const carried = carriedVersions(batch);
  await store.transact(async (tx) => {
    for (const token of new Set(batch.map((one) => one.token))) {
      const mine = batch.filter((one) => one.token === token);
      const firings = [...new Set(mine.map(({ claimed }) => claimed.firingId))];
      await tx.claims.record(
        token,
        firings,
        mine.map(({ outcome }) => outcome),
        now,
      );
    }
    for (const { eventId, version, people } of carried) {
      await tx.invitees.markHolding(eventId, people, version, now);
      await tx.deliveries.joinNotice(eventId, version, people, now);
    }
  });
}

function carriedVersions(batch: readonly Done[]): { eventId: number; version: number; people: number[] }[] {
  const carried = new Map<string, { eventId: number; version: number; people: number[] }>();
  for (const { carried: one, claimed } of batch) {
    if (!one) continue;
    const key = `${one.eventId} ${one.version}`;
    const entry = carried.get(key) ?? { ...one, people: [] };
    entry.people.push(claimed.person.id);
    carried.set(key, entry);
  }
  return [...carried.values()];
}
