import type { BehindCountPage, BehindCountRequest } from '@convite/contract';
import type { Who } from '@convite/core';
import { whoNext } from '../countdown/cues';
import type { Context } from '../context';
import { getEvent } from '../events/get-event';
import { whoIsInvited } from '../sending/invite';

const pageSize = 50;
/** So many people are looked at in one statement, and so many statements make a page: then whoever looks is told how far it is. */
const sliceSize = 50_000;
const mostSlices = 6;

/**
 * The people behind a count, by number: those who get it, or those who do not, for one reason. A page ends when it is full, or when
 * so many people were looked at; then it may have few rows, and more behind them.
 */
export async function behindCount(
  context: Context,
  eventId: number,
  { of, reason, after }: BehindCountRequest,
): Promise<BehindCountPage> {
  const event = await getEvent(context, eventId);
  const who: Who = of.kind === 'cue' ? await whoNext(context, event, of) : await whoIsInvited(context, eventId, of);
  const guestsOf = of.kind === 'cue' ? eventId : null;
  const last = await context.store.subscribers.lastId();
  const rows: BehindCountPage['rows'] = [];
  let from = after + 1;
  for (let slice = 0; slice < mostSlices && from <= last; slice += 1) {
    const asked = { reason, from, to: from + sliceSize - 1, limit: pageSize + 1 - rows.length };
    rows.push(...(await context.store.audiences.behind(who, of.channel, guestsOf, asked)));
    if (rows.length > pageSize) return { rows: rows.slice(0, pageSize), next: rows[pageSize - 1]?.id ?? null };
    from += sliceSize;
  }
  return { rows, next: from <= last ? from - 1 : null };
}
