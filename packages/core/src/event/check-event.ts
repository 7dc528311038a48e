import type { Problem } from '../problem';
import { isZone } from '../time/zone-names';
import { checkSpan } from './check-span';
import { checkEntry } from './entry';
import type { EventFacts } from './event';
import { checkRegistration } from './registration';
import { checkSeries } from './series';
import { isWebAddress } from './web-address';

/** Everything that is wrong with the facts, each problem at its field; empty when they can be saved. */
export function checkEvent(facts: EventFacts): Problem[] {
  const problems: Problem[] = [];
  const say = (code: Problem['code'], path: string, more?: Problem['facts']): void => {
    problems.push({ code, path, ...(more && { facts: more }) });
  };
  // What a calendar does not write (control characters, §3.3.11) is no title.
  if (!facts.title.replace(/[\p{Cc}\p{Cf}]/gu, '').trim()) say('required', 'title');
  if (facts.title.length > 200) say('too-long', 'title', { most: 200 });
  if (facts.description.length > 10_000) say('too-long', 'description', { most: 10_000 });
  if (facts.venue.length > 500) say('too-long', 'venue', { most: 500 });
  if (!isZone(facts.zone)) say('unknown-zone', 'zone', { zone: facts.zone });
  if (facts.endZone && !isZone(facts.endZone)) say('unknown-zone', 'endZone', { zone: facts.endZone });
  if (facts.joinLink && !isWebAddress(facts.joinLink)) say('bad-link', 'joinLink');
  const ofSpan = checkSpan(facts);
  problems.push(...ofSpan, ...checkEntry(facts.entry), ...checkRegistration(facts));
  if (ofSpan.length === 0 && isZone(facts.zone)) problems.push(...checkSeries(facts));
  return problems;
}
