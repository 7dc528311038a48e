import type { BoardItem, NewsKind, Settings, Tells } from '@convite/contract';
import {
  addDays,
  findOccurrence,
  isZone,
  nextDailyMs,
  occurrencesBetween,
  resolveWallTime,
  sayDay,
  sayTime,
  sayZone,
  wallTimeAt,
  type EpochMs,
} from '@convite/core';
import type { StoredNews, ToldMember } from '../../store/news';
import type { StoredEvent } from '../../store/events';
import type { Context } from '../context';
import { describeLines } from '../countdown/board';
import { findNeeds } from '../countdown/find-needs';
import { foldZones } from '../countdown/fold-zones';
import { sayPeople } from '../countdown/announce';
import { houseManner } from '../sending/manner';
import { pressDocument, writeHouseEmail } from '../sending/write-message';

/** One mail at most in so long: what comes meanwhile stands in the next. */
const apartMs = 5 * 60_000;
const againMs = 60_000;
const mostLines = 40;

/** When the summary that a member asked for comes next; null for none. */
export function nextSummaryMs({ summaryAt, zone }: Tells, houseZone: string, nowMs: EpochMs): EpochMs | null {
  return summaryAt ? nextDailyMs(summaryAt, isZone(zone) ? zone : houseZone, nowMs) : null;
}

/**
 * Tells the next member for whom there is news what happened since they were told. It is marked as told before it leaves, so that two
 * workers tell nobody twice; where the mail server takes nothing just now, it is told later. @returns whether somebody was told
 */
export async function tellNext(context: Context): Promise<boolean> {
  const { store, clock } = context;
  const taken = await store.transact(async (tx) => {
    const member = await tx.news.takeListener(clock.now(), apartMs);
    if (!member) return null;
    const news = await tx.news.forMember(member, mostLines);
    await tx.news.setSeen(member.id, news.lastId, clock.now());
    return { member, ...news };
  });
  if (!taken) return false;
  const { member, rows, count } = taken;
  if (rows.length === 0) return true;
  const settings = await store.house.settings();
  const events = await store.events.findMany(rows.map(({ eventId }) => eventId));
  const zone = zoneOf(member, settings);
  const lines = rows.map((row) => sayNews(row, events.get(row.eventId), zone));
  if (count > rows.length) lines.push(`and ${count - rows.length} more`);
  const titles = [...new Set(rows.map(({ eventId }) => events.get(eventId)?.version.facts.title ?? ''))];
  const about = titles.length === 1 && titles[0] ? titles[0] : `${titles.length} events`;
  const only = titles.length === 1 && rows[0] ? `/events/${rows[0].eventId}/guests` : '/events';
  const isTaken = await sendTo(context, settings, member, {
    subject: `${sayKinds(rows)}: ${about}`,
    body: lines.join('\n'),
    look: { label: 'Look at it', url: context.links.screen(only) },
  });
  if (!isTaken) await store.news.setSeen(member.id, member.seen, clock.now() - apartMs + againMs);
  return isTaken;
}

/** Sends the next summary of a day that is due; where there is nothing to say of the day, none. @returns whether one was due */
export async function summariseNext(context: Context): Promise<boolean> {
  const { store, clock } = context;
  const settings = await store.house.settings();
  const member = await store.transact(async (tx) => {
    const found = await tx.news.takeSummary(clock.now());
    const nextMs = found && nextSummaryMs(found.tells, settings.zone, clock.now());
    if (found && nextMs !== null) await tx.news.setNextSummary(found.id, nextMs);
    return found;
  });
  if (!member) return false;
  const summary = await summaryOf(context, settings, zoneOf(member, settings));
  if (!summary) return true;
  const look = { label: 'Open the call board', url: context.links.screen('/') };
  if (!(await sendTo(context, settings, member, { ...summary, look })))
    await store.news.setNextSummary(member.id, clock.now() + againMs);
  return true;
}

const zoneOf = ({ tells }: ToldMember, { zone }: Settings): string => (isZone(tells.zone) ? tells.zone : zone);

async function sendTo(
  context: Context,
  settings: Settings,
  { name, email }: ToldMember,
  { subject, body, look }: { subject: string; body: string; look: { label: string; url: string } },
): Promise<boolean> {
  const document = pressDocument(subject, body, look);
  const mail = writeHouseEmail(context, settings, { to: { name, address: email }, document });
  const refusal = await context.mail.send(mail).catch(() => ({ kind: 'transient' as const }));
  return refusal === null || refusal.kind === 'permanent';
}

const did: Readonly<Record<NewsKind, string>> = {
  yes: 'says yes',
  no: 'says no',
  waits: 'waits for a place',
  comment: 'wrote',
  place: 'gave a place back: one is free',
};
const counted: Readonly<Record<NewsKind, readonly [string, string]>> = {
  yes: ['one says yes', 'say yes'],
  no: ['one says no', 'say no'],
  waits: ['one waits for a place', 'wait for a place'],
  comment: ['one wrote a comment', 'wrote a comment'],
  place: ['a place is free', 'places are free'],
};

/** What people typed stands in the text alone, never in a header. */
function sayKinds(rows: readonly StoredNews[]): string {
  const kinds = [...new Set(rows.map(({ kind }) => kind))];
  const said = kinds.map((kind) => {
    const count = rows.filter((row) => row.kind === kind).length;
    return count === 1 ? counted[kind][0] : `${count} ${counted[kind][1]}`;
  });
  const text = said.join(', ');
  return `${text.charAt(0).toUpperCase()}${text.slice(1)}`;
}

function sayNews(
  { kind, atMs, name, email, occurrence, comment }: StoredNews,
  event: StoredEvent | undefined,
  zone: string,
): string {
  const facts = event?.version.facts;
  const date = facts && occurrence && !facts.isPersonal ? findOccurrence(facts, occurrence) : null;
  const of = [facts?.title ?? '', date ? sayDay(wallTimeAt(date.startMs, date.facts.zone).slice(0, 10)) : '']
    .filter(Boolean)
    .join(', ');
  const said = comment ? ` “${comment}”` : '';
  return `${sayTime(atMs, zone)} ${sayZone(zone)}: ${name || email || 'somebody'} ${did[kind]}${said} · ${of}`;
}

/** What a day holds: what goes out, what begins, what needs somebody; null for a day that holds nothing. */
async function summaryOf(
  context: Context,
  settings: Settings,
  zone: string,
): Promise<{ readonly subject: string; readonly body: string } | null> {
  const { store, clock } = context;
  const nowMs = clock.now();
  const today = wallTimeAt(nowMs, zone).slice(0, 10);
  const endMs = resolveWallTime(`${addDays(today, 1)}T00:00`, zone);
  const ahead = (await store.firings.ahead(nowMs, mostLines * 4)).filter(({ dueMs }) => dueMs < endMs);
  const lines = await describeLines(context, foldZones(ahead));
  const begins = (await store.events.aliveBetween(nowMs, endMs))
    .flatMap((event) => occurrencesBetween(event.version.facts, nowMs, endMs))
    .filter(({ calledOff, startMs }) => !calledOff && startMs >= nowMs && startMs < endMs)
    .sort((a, b) => a.startMs - b.startMs);
  const needs = await findNeeds(context);
  if (lines.length + begins.length + needs.length === 0) return null;
  const part = (heading: string, rows: readonly string[]): string[] =>
    rows.length === 0
      ? []
      : [[heading, ...rows.slice(0, mostLines), ...(rows.length > mostLines ? ['and more'] : [])].join('\n')];
  const time = (atMs: EpochMs): string => `${sayTime(atMs, zone, houseManner(settings))} ${sayZone(zone)}`;
  const goes = ({ dueAt, title, eventTitle, tally, channel, state }: BoardItem): string =>
    `${time(Date.parse(dueAt))}: ${title}${eventTitle ? `, ${eventTitle}` : ''} → ${sayPeople(tally.countedAt ? tally.gets : null)} by ${channel}${state === 'set' || state === 'standby' ? '' : ` (${state})`}`;
  const body = [
    ...part('Goes out:', lines.map(goes)),
    ...part(
      'Begins:',
      begins.map(({ startMs, facts }) => `${time(startMs)}: ${facts.title}`),
    ),
    ...part(
      'Needs somebody:',
      needs.map(({ title, kind, count }) =>
        [title || kind.replaceAll('-', ' '), count > 1 ? `(${count})` : ''].filter(Boolean).join(' '),
      ),
    ),
  ].join('\n\n');
  const messages = lines.length === 1 ? 'one message goes' : `${lines.length} messages go`;
  const needed =
    needs.length === 0
      ? ''
      : needs.length === 1
        ? ', one thing needs somebody'
        : `, ${needs.length} things need somebody`;
  return { subject: `Today, ${sayDay(today, houseManner(settings))}: ${messages} out${needed}`, body };
}
