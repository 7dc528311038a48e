import type { Settings } from '@convite/contract';
import {
  composeIssue,
  prepareCalendar,
  sayDay,
  sayTime,
  sayZone,
  instantsOf,
  type IssueDay,
  type Method,
} from '@convite/core';
import type { EmailMessage, TextMessage } from '../mail/message';
import { escapeHtml, textToHtml } from '../mail/html';
import type { Content, ContentOf } from '../store/content';
import type { StoredEvent } from '../store/events';
import type { StoredFiring } from '../store/firings';
import type { Recipient } from '../store/subscribers';
import type { Context } from './context';
import { prepareWording, writeEmail, writeText } from './write-message';

/** Writes one person's message of a firing; null when there is nothing to say to them. */
export type Composer = (
  person: Recipient,
  deliveryId: number,
  topics: readonly string[],
) => EmailMessage | TextMessage | null;

/** Minutes before the start for the alarm that invitations carry (common practice). */
export const alarmMinutes = 30;

/**
 * Prepares what a firing sends: everything its people share is read and written once. Takes only what was frozen with
 * the firing, so that whoever is reached a second time after a crash reads the same.
 * @throws Error for a firing that was never expanded (bad use)
 */
export async function prepareFiring(context: Context, firing: StoredFiring): Promise<Composer> {
  const { content } = firing;
  if (!content) throw new Error(`firing ${firing.id} has no content`);
  const settings = await context.store.house.settings();
  if (content.kind === 'digest') return digestComposer(context, settings, content);
  const event = await context.store.events.find(firing.eventId ?? 0);
  const version = await context.store.events.version(firing.eventId ?? 0, content.version);
  if (!event || !version) throw new Error(`firing ${firing.id} has no event`);
  return eventComposer(context, settings, { ...event, version }, firing.channel, content);
}

/** Messages about one event: cues, invitations and notices. */
export function eventComposer(
  context: Context,
  settings: Settings,
  event: StoredEvent,
  channel: StoredFiring['channel'],
  content: Exclude<Content, { kind: 'digest' }>,
): Composer {
  const { version, publicKey, uid } = event;
  const wording = prepareWording(
    context,
    settings,
    { facts: version.facts, publicKey, uid },
    content.subject,
    content.body,
  );
  if (channel === 'text')
    return (person, deliveryId) => writeText(context, settings, person, deliveryId, wording.fill(person).body);
  const calendar = content.kind === 'cue' ? null : calendarFor(context, settings, event, content);
  return (person, deliveryId) =>
    writeEmail(context, settings, {
      person,
      deliveryId,
      ...wording.fill(person),
      calendar: calendar && calendar(person),
    });
}

function calendarFor(
  context: Context,
  settings: Settings,
  event: StoredEvent,
  content: ContentOf<'invitation'> | ContentOf<'notice'>,
) {
  const method: Method = content.kind === 'notice' ? content.method : 'REQUEST';
  const write = prepareCalendar(calendarSource(context, settings, event, content.stampMs), method);
  return (person: Recipient) => ({ method, text: write({ name: person.name, email: person.email }) });
}

/** What every calendar text of an event is made from, whoever it is for. */
export const calendarSource = (
  { links }: Pick<Context, 'links'>,
  settings: Settings,
  event: StoredEvent,
  stampMs: number,
) => ({
  uid: event.uid,
  version: event.version,
  organizer: { name: settings.organisation, email: links.repliesAddress },
  url: links.page(event.publicKey),
  stampMs,
  alarmMinutes,
});

/** The issue of a digest, each person with the topics they asked for. */
export function digestComposer(context: Context, settings: Settings, content: ContentOf<'digest'>): Composer {
  const { zone, events } = content;
  const wording = prepareWording(context, settings, null, content.subject, content.intro);
  const keys = new Map(events.map((event) => [event.id, event.publicKey]));
  const byTopics = new Map<string, { text: string; html: string } | null>();
  const write = (topics: readonly string[]): { text: string; html: string } | null => {
    const key = [...topics].sort().join('\n');
    let written = byTopics.get(key);
    if (written === undefined) {
      const days = composeIssue(events, content, zone, topics);
      written = days && writeIssue(days, zone, (id) => context.links.page(keys.get(id) ?? ''));
      byTopics.set(key, written);
    }
    return written;
  };
  return (person, deliveryId, topics) => {
    const issue = write(topics);
    if (!issue) return null;
    const { subject, body } = wording.fill(person);
    return writeEmail(context, settings, {
      person,
      deliveryId,
      subject,
      body: `${body}\n\n${issue.text}`,
      bodyHtml: textToHtml(body) + issue.html,
      calendar: null,
    });
  };
}

function writeIssue(
  days: readonly IssueDay[],
  zone: string,
  pageOf: (eventId: number) => string,
): { text: string; html: string } {
  let text = '';
  let html = '';
  for (const { day, events } of days) {
    text += `${sayDay(day)}\n`;
    html += `<h2 style="font-size:17px;color:#4A2545;margin:20px 0 6px">${escapeHtml(sayDay(day))}</h2>`;
    for (const { id, facts } of events) {
      const time =
        facts.span.kind === 'all-day' ? 'all day' : `${sayTime(instantsOf(facts).startMs, zone)} ${sayZone(zone)}`;
      const place = facts.venue || (facts.joinLink ? 'online' : '');
      text += `  ${time}  ${facts.title}${place && `, ${place}`}\n  ${pageOf(id)}\n`;
      html +=
        `<p style="margin:0 0 10px"><a href="${escapeHtml(pageOf(id))}" style="color:#4A2545;font-weight:bold">${escapeHtml(facts.title)}</a>` +
        `<br /><span style="color:#5A5F6B">${escapeHtml([time, place].filter(Boolean).join(' · '))}</span></p>`;
    }
    text += '\n';
  }
  return { text: text.trim(), html };
}
