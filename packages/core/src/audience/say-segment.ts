import type { ReplyState } from '../reply-state';
import { sayZone } from '../time/say';
import type { FieldTest } from './field';
import { isGroup, type Segment, type SegmentCondition } from './segment';
import type { MessageKind } from './tree';

/** What the things are called that a segment names. */
export interface SegmentNames {
  list(id: number): string;
  event(id: number): string;
  field(id: number): string;
  segment(id: number): string;
}

const replyWords: Readonly<Record<ReplyState, string>> = {
  accepted: 'yes',
  tentative: 'perhaps',
  declined: 'no',
  'needs-action': 'nothing yet',
};
const messageWords: Readonly<Record<MessageKind, string>> = {
  cue: 'a cue',
  digest: 'a digest',
  invitation: 'an invitation',
  notice: 'a notice',
  answer: 'an answer',
  manual: 'a message by hand',
};

/**
 * A segment as a sentence that is read, aloud or not: `in Night sky news and answered yes to any Open Dome Fridays in the last
 * 90 days, but not in Members`.
 */
export function saySegment(segment: Segment, names: SegmentNames): string {
  if (!isGroup(segment)) return sayCondition(segment, names);
  if (segment.of.length === 0) return segment.kind === 'any' ? 'nobody' : 'everybody';
  if (segment.kind === 'none')
    return `not ${listed(
      segment.of.map((one) => inBrackets(one, names)),
      'or',
    )}`;
  if (segment.kind === 'any')
    return listed(
      segment.of.map((one) => inBrackets(one, names)),
      'or',
    );
  const [ins, outs] = [
    segment.of.filter(({ kind }) => kind !== 'none'),
    segment.of.filter(({ kind }) => kind === 'none'),
  ];
  const said = ins.length
    ? listed(
        ins.map((one) => inBrackets(one, names)),
        'and',
      )
    : 'everybody';
  return [said, ...outs.map((one) => `but ${saySegment(one, names)}`)].join(', ');
}

/** What a group says inside another, told apart where the words alone would not. */
function inBrackets(segment: Segment, names: SegmentNames): string {
  const said = saySegment(segment, names);
  return isGroup(segment) && segment.of.length > 1 ? `(${said})` : said;
}

/** @example listed(['a', 'b', 'c'], 'or') //=> 'a, b or c' */
function listed(parts: readonly string[], word: 'and' | 'or'): string {
  const last = parts.at(-1) ?? '';
  return parts.length < 2 ? last : `${parts.slice(0, -1).join(', ')} ${word} ${last}`;
}

/** One condition in words. */
export function sayCondition(condition: SegmentCondition, names: SegmentNames): string {
  switch (condition.kind) {
    case 'list':
      return `on ${listed(condition.lists.map(names.list), 'or') || '…'}`;
    case 'topic':
      return `asked for ${listed(condition.topics, 'or') || '…'}`;
    case 'field':
      return `${condition.field > 0 ? names.field(condition.field) : '…'} ${sayTest(condition.test)}`;
    case 'consent':
      return condition.channel === 'email' ? 'agreed to email' : 'agreed to texts';
    case 'zone':
      return `in the time of ${listed(condition.zones.map(sayZone), 'or') || '…'}`;
    case 'person':
      return condition.ids.length === 1 ? 'one person by hand' : `${condition.ids.length} people by hand`;
    case 'segment':
      return `in ${listed(condition.segments.map(names.segment), 'or') || '…'}`;
    case 'answered':
      return `answered ${
        listed(
          condition.replies.map((reply) => replyWords[reply]),
          'or',
        ) || '…'
      } to ${eventOf(condition.event, names)}${sayWithin(condition.withinDays)}`;
    case 'registered':
      return `has a place at ${eventOf(condition.event, names)}`;
    case 'waitlisted':
      return `waits for a place at ${eventOf(condition.event, names)}`;
    case 'in-person':
      return `comes in person to ${eventOf(condition.event, names)}`;
    case 'online':
      return `comes online to ${eventOf(condition.event, names)}`;
    case 'attended':
      return `came to ${eventOf(condition.event, names)}`;
    case 'no-show':
      return `was expected at ${eventOf(condition.event, names)}, and did not come`;
    case 'invited':
      return `was invited to ${eventOf(condition.event, names)}`;
    case 'got':
      return `got ${messageWords[condition.message]}${condition.event === null ? '' : ` about ${eventOf(condition.event, names)}`}${sayWithin(condition.withinDays)}`;
  }
}

const eventOf = (event: number, names: SegmentNames): string => (event > 0 ? names.event(event) : '…');
const sayWithin = (days: number | null): string =>
  days === null ? '' : days === 1 ? ' in the last day' : ` in the last ${days} days`;

function sayTest(test: FieldTest): string {
  switch (test.is) {
    case 'filled':
      return 'is filled in';
    case 'any-of':
      return `is ${listed(test.values.filter(Boolean), 'or') || '…'}`;
    case 'begins-with':
      return `begins with ${test.text || '…'}`;
    case 'day-of-year':
      return `falls on ${listed(test.days, 'or') || '…'} of any year`;
    default:
      if (test.from !== null && test.to !== null) return `is from ${test.from} to ${test.to}`;
      if (test.from !== null)
        return `is ${test.from} or later`.replace('later', test.is === 'number' ? 'more' : 'later');
      return test.to === null ? 'is …' : `is ${test.to} or ${test.is === 'number' ? 'less' : 'earlier'}`;
  }
}
