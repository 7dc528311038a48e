import {
  composeIssue,
  inLanguage,
  instantsOf,
  sayDay,
  sayTime,
  sayZone,
  wordsOf,
  type Block,
  type IssueDay,
  type Manner,
} from '@convite/core';
import type { ContentOf } from '../../store/content';
import type { House } from '../../store/said';
import type { Context } from '../context';
import type { Composer } from './composer';
import { prepareWording, writeEmail, type PreparedWording } from './write-message';
import { mannerOf } from './manner';

/** The issue of a digest, each person with the topics they asked for. */
export function digestComposer(context: Context, settings: House, content: ContentOf<'digest'>): Composer {
  const { zone, events, document } = content;
  const keys = new Map(events.map((event) => [event.id, event.publicKey]));
  const pageOf = (eventId: number): string => context.links.page(keys.get(eventId) ?? '');
  const byTopics = new Map<string, PreparedWording | null>();
  const issueFor = (topics: readonly string[], language: string): PreparedWording | null => {
    const key = [language, ...[...topics].sort()].join('\n');
    let issue = byTopics.get(key);
    if (issue === undefined) {
      const days = composeIssue(events, content, zone, topics);
      const manner = mannerOf(settings, { language });
      const said = inLanguage(document, manner.language ?? 'en');
      const blocks = days && [...said.blocks, ...days.flatMap((day) => blocksOf(day, zone, pageOf, manner))];
      // A plain text that was written apart knows nothing of what is on.
      issue = blocks && prepareWording(context, settings, null, { ...said, blocks, plain: undefined });
      byTopics.set(key, issue);
    }
    return issue;
  };
  return (person, deliveryId, topics) => {
    const issue = issueFor(topics, person.language);
    return issue && writeEmail(context, settings, { person, deliveryId, said: issue.fill(person), calendar: null });
  };
}

/** A day of an issue: its heading, and what is on. */
function blocksOf(
  { day, events }: IssueDay,
  zone: string,
  pageOf: (eventId: number) => string,
  manner: Manner,
): Block[] {
  const entries = events.map(({ id, facts }): Block => {
    const isAllDay = facts.span.kind === 'all-day';
    const time = isAllDay
      ? wordsOf(manner).allDay
      : `${sayTime(instantsOf(facts).startMs, zone, manner)} ${sayZone(zone)}`;
    const place = facts.venue || (facts.joinLink ? 'online' : '');
    return {
      kind: 'entry',
      title: facts.title,
      url: pageOf(id),
      about: [time, place].filter(Boolean).join(' · '),
      lead: `${time}  ${facts.title}${place && `, ${place}`}`,
    };
  });
  return [{ kind: 'heading', line: [{ kind: 'text', text: sayDay(day, manner) }] }, ...entries];
}
