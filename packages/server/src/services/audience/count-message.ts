import type { BehindCountPage, BehindCountRequest, CountedMessage, LiveCount } from '@convite/contract';
import { laneOf, type Lane, type Who } from '@convite/core';
import type { Context } from '../context';
import { whoNext } from '../countdown/next-cue';
import { whoGetsNextIssue } from '../digests/digests';
import { getEvent } from '../events/get-event';
import { whoIsInvited } from '../sending/invite';
import { whoGetsManual } from '../sending/write-manual';
import { countLive } from './count-live';

const pageSize = 50;
/** So many people are looked at in one statement, and so many statements make a page: then whoever looks is told how far it is. */
const sliceSize = 50_000;
const mostSlices = 6;

interface Asked {
  readonly who: Who;
  readonly channel: Lane;
  /** An event whose guests are worth a reason too, whoever is in. */
  readonly guestsOf: number | null;
}

/** Who gets a message that is being put together, as it would be sent. */
async function askedOf(context: Context, of: CountedMessage): Promise<Asked> {
  switch (of.kind) {
    case 'cue':
      return {
        who: (await whoNext(context, await getEvent(context, of.eventId), of)).who,
        channel: laneOf(of),
        guestsOf: of.eventId,
      };
    case 'invitation':
      return { who: await whoIsInvited(context, of.eventId, of, of.channel), channel: of.channel, guestsOf: null };
    case 'digest':
      return { who: await whoGetsNextIssue(context, of), channel: 'email', guestsOf: null };
    case 'manual':
      return { who: await whoGetsManual(context, of, of.channel), channel: of.channel, guestsOf: null };
  }
}

/** How many get it, and why not the others, with what it is so far. @throws Failure 404 */
export async function countMessage(context: Context, of: CountedMessage): Promise<AsyncGenerator<LiveCount>> {
  const { who, channel, guestsOf } = await askedOf(context, of);
  return countLive(context, who, channel, guestsOf);
}

/**
 * The people behind a count, by number: those who get it, or those who do not, for one reason. A page ends when it is full, or when
 * so many people were looked at; then it may have few rows, and more behind them.
 */
export async function peopleBehind(
  context: Context,
  { of, reason, after }: BehindCountRequest,
): Promise<BehindCountPage> {
  const { who, channel, guestsOf } = await askedOf(context, of);
  const last = await context.store.subscribers.lastId();
  const rows: BehindCountPage['rows'] = [];
  let from = after + 1;
  for (let slice = 0; slice < mostSlices && from <= last; slice += 1) {
    const asked = { reason, from, to: from + sliceSize - 1, limit: pageSize + 1 - rows.length };
    rows.push(...(await context.store.audiences.behind(who, channel, guestsOf, asked)));
    if (rows.length > pageSize) return { rows: rows.slice(0, pageSize), next: rows[pageSize - 1]?.id ?? null };
    from += sliceSize;
  }
  return { rows, next: from <= last ? from - 1 : null };
}
