import { escapeHtml, instantsOf, sayZone, writeIso, type EventFacts } from '@convite/core';

/**
 * Where the visitor's own time is said, once their browser says where that is. Without script, or in the zone of the event,
 * it says nothing; the time in the event's zone stands above it in any case.
 */
export function yourTimePlace(facts: EventFacts): string {
  if (facts.span.kind !== 'timed') return '';
  const start = writeIso(instantsOf(facts).startMs, facts.zone);
  return `<p class="yours" hidden data-start="${start}" data-zone="${escapeHtml(facts.zone)}" data-city="${escapeHtml(sayZone(facts.zone))}"></p>`;
}

/** Runs in the visitor's browser. The page's policy lets nothing inline run, so it is a file of its own. */
export const yourTimeScript = `'use strict';
for (const place of document.querySelectorAll('.yours')) {
  const start = new Date(place.dataset.start);
  const mine = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const say = (zone, form) => new Intl.DateTimeFormat('en-GB', { ...form, timeZone: zone }).format(start);
  const clock = { hour: '2-digit', minute: '2-digit' };
  const day = { weekday: 'long', day: 'numeric', month: 'long' };
  const there = place.dataset.zone;
  if (!mine || (say(mine, clock) === say(there, clock) && say(mine, day) === say(there, day))) continue;
  const onDay = say(mine, day) === say(there, day) ? '' : ' on ' + say(mine, day);
  place.textContent = say(there, clock) + ' in ' + place.dataset.city + ' is ' + say(mine, clock) + onDay + ' for you.';
  place.hidden = false;
}
`;
