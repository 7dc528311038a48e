import type { Knex } from 'knex';
import type { PaceOfSender } from './senders';
import { paceOf, paceUnits, paceWindowMs, type Channel, type Pace } from '@convite/core';

/** Gives back what was drawn for messages that did not leave after all. */
export async function returnPace(tx: Knex, senderId: number, channel: Channel, messages: number): Promise<void> {
  if (messages > 0)
    await tx('pace')
      .where({ sender_id: senderId, channel })
      .update({ used: tx.raw('used - least(used, ?)', [messages]) });
}

/** The same to the senders of some messages, by their firings. */
export async function returnPaces(
  tx: Knex,
  channel: Channel,
  firings: readonly number[],
  paces: ReadonlyMap<number, PaceOfSender>,
): Promise<void> {
  const counts = new Map<number, number>();
  for (const firing of firings) {
    const { senderId } = paces.get(firing) ?? {};
    if (senderId !== undefined) counts.set(senderId, (counts.get(senderId) ?? 0) + 1);
  }
  for (const [senderId, count] of counts) await returnPace(tx, senderId, channel, count);
}

/**
 * Draws messages from what a channel of the house, or of one of its senders, may still send in this second, hour and day. In real
 * time, by the database's clock, for all workers together. To be called in a transaction: its rows stay locked until what was drawn is claimed.
 * @returns how many of those wanted may go now
 */
export async function drawPace(
  tx: Knex,
  senderId: number,
  channel: Channel,
  pace: Pace,
  wanted: number,
): Promise<number> {
  const units = paceUnits.filter((unit) => paceOf(pace, unit) !== null);
  if (units.length === 0 || wanted === 0) return wanted;
  await tx.raw(
    `insert ignore into pace (sender_id, channel, unit, since, used) values ${units.map(() => '(?, ?, ?, now(3), 0)').join(', ')}`,
    units.flatMap((unit) => [senderId, channel, unit]),
  );
  const rows: { unit: string; used: number; age: number | string }[] = await tx('pace')
    .where({ sender_id: senderId, channel })
    .whereIn('unit', units)
    .orderBy('unit')
    .forUpdate()
    .select('unit', 'used', tx.raw('timestampdiff(microsecond, since, now(3)) / 1000 as age'));
  const used = new Map(units.map((unit) => [unit, 0]));
  const running = new Set<string>();
  for (const { unit, used: drawn, age } of rows) {
    const known = units.find((one) => one === unit);
    if (!known || Number(age) >= paceWindowMs[known]) continue;
    running.add(known);
    used.set(known, drawn);
  }
  const granted = Math.min(
    wanted,
    ...units.map((unit) => Math.max(0, (paceOf(pace, unit) ?? 0) - (used.get(unit) ?? 0))),
  );
  if (granted === 0) return 0;
  for (const unit of units)
    await tx('pace')
      .where({ sender_id: senderId, channel, unit })
      .update(running.has(unit) ? { used: tx.raw('used + ?', [granted]) } : { used: granted, since: tx.fn.now(3) });
  return granted;
}
