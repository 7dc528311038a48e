import { mostScheduled, type Schedule } from '@convite/contract';
import { sayLane, writeSchedule } from '@convite/core';
import type { TextRows } from '../../files/table-file';
import { nowOf, type Actor, type Context } from '../context';
import { describeLines } from './board';
import { foldZones } from './fold-zones';

const dayMs = 86_400_000;
const feedDays = 35;
const refreshMinutes = 15;

/** Everything that is due within so many days, for a meeting: by day and hour, with how many get it. */
export async function readSchedule(context: Context, days: number, actor: Actor): Promise<Schedule> {
  const { clock, store, links } = context;
  const { zone } = await store.house.settings();
  return {
    now: nowOf(context).toISOString(),
    zone,
    ...(await due(context, clock.now() + days * dayMs)),
    feedUrl: actor.memberId ? links.teamFeed(actor.memberId) : '',
  };
}

async function due(context: Context, untilMs: number): Promise<Pick<Schedule, 'rows' | 'hasMore'>> {
  const ahead = await context.store.firings.ahead(context.clock.now(), mostScheduled);
  const within = foldZones(ahead.filter(({ dueMs }) => dueMs < untilMs));
  return {
    rows: await describeLines(context, within),
    hasMore: ahead.length === mostScheduled && (ahead.at(-1)?.dueMs ?? 0) < untilMs,
  };
}

/** The same as a calendar that a member subscribes to: what is held or a draft says so. */
export async function writeTeamFeed(context: Context): Promise<string> {
  const { store, clock, links } = context;
  const { organisation } = await store.house.settings();
  const { rows, hasMore } = await due(context, clock.now() + feedDays * dayMs);
  const lastMs = Date.parse(rows.at(-1)?.dueAt ?? '');
  return writeSchedule(
    { name: `What goes out: ${organisation}`, refreshMinutes },
    [
      ...rows.map((row) => ({
        uid: `firing-${row.firingId}@${links.mailDomain}`,
        dueMs: Date.parse(row.dueAt),
        title: `${row.state === 'set' || row.state === 'standby' ? '' : `${row.state}: `}${row.title}${row.eventTitle ? `, ${row.eventTitle}` : ''} → ${row.channel === 'act' ? sayLane(row.channel) : `${row.tally.gets} by ${row.channel}`}`,
        description: row.note,
        url: row.eventId === null ? links.screen('/digests') : links.screen(`/events/${row.eventId}/countdown`),
      })),
      ...(hasMore
        ? [
            {
              uid: `more@${links.mailDomain}`,
              dueMs: lastMs,
              title: moreWords,
              description: '',
              url: links.screen('/schedule'),
            },
          ]
        : []),
    ],
    clock.now(),
  );
}

/** Said where the list ends before what is due does. */
const moreWords = `And more: the next ${mostScheduled} are listed.`;

export const scheduleHeading = ['due', 'message', 'event', 'by', 'people', 'state', 'note'];

/** The same as rows of text. Instants with their offset (RFC 3339). */
export async function exportSchedule(context: Context, days: number, actor: Actor): Promise<TextRows> {
  await context.store.house.audit(nowOf(context), actor, 'export: schedule', `${days} days`);
  const { rows, hasMore } = await due(context, context.clock.now() + days * dayMs);
  async function* pages() {
    yield await Promise.resolve(
      rows.map((row) => [
        row.dueAt,
        row.title,
        row.eventTitle,
        sayLane(row.channel),
        row.tally.countedAt === null ? '' : String(row.tally.gets),
        row.state,
        row.note,
      ]),
    );
    if (hasMore) yield [['', moreWords, '', '', '', '', '']];
  }
  return pages();
}
