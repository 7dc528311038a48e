import type { Store } from '../store/store';
import type { Done } from './recorder';

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
      const held = await tx.outcomes.record(
        token,
        firings,
        mine.map(({ outcome }) => outcome),
        now,
      );
      await tx.said.keep(mine.filter(({ claimed }) => held.has(claimed.id)).flatMap(saidBy));
    }
    for (const { eventId, version, people } of carried) {
      await tx.invitees.markHolding(eventId, people, version, now);
      await tx.expansions.joinNotice(eventId, version, people, now);
    }
  });
}

/** Of what left, or may have left, what it was made from. */
const saidBy = ({ outcome, toAllId, claimed, topics }: Done) =>
  toAllId !== null && (outcome.kind === 'sent' || (outcome.kind === 'retry' && outcome.mayHaveLeft))
    ? [{ deliveryId: claimed.id, toAllId, person: claimed.person, topics }]
    : [];

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
