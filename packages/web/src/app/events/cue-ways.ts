import type { CueFields } from '@convite/contract';
import type { ToggleOption } from '../ui/toggle';
import { plainDocument, plainTextOf, type Channel } from '@convite/core';

/** How a cue goes: by one channel, by both, or as a text to whoever can be texted and else by email. */
export type Way = Channel | 'both' | 'text-first' | 'act';
export const ways: readonly ToggleOption<Way>[] = [
  { key: 'email', label: 'email' },
  { key: 'text', label: 'text' },
  { key: 'both', label: 'both' },
  { key: 'text-first', label: 'text, else email' },
  { key: 'act', label: 'a task' },
];

export const wayOf = ({ channel, textWording, audience, act }: CueFields): Way => {
  if (act) return 'act';
  if (channel === 'text' || !textWording) return channel;
  return audience.exceptTextable ? 'text-first' : 'both';
};

/** The same cue going otherwise. What was typed stays, as far as the new way says it; a text is typed, so that blocks become lines. */
export function goingBy(cue: CueFields, way: Way): CueFields {
  const { textWording, audience, act: _act, ...rest } = cue;
  const { exceptTextable: _, ...everybody } = audience;
  const typed = textWording ?? plainDocument(cue.wording.subject, plainTextOf(cue.wording));
  // Its words wait until it writes again.
  if (way === 'act')
    return { ...rest, audience: everybody, channel: 'email', act: cue.act ?? { kind: 'join', list: 0 } };
  if (way === 'email') return { ...rest, audience: everybody, channel: 'email' };
  if (way === 'text') return { ...rest, audience: everybody, channel: 'text', wording: typed };
  return {
    ...rest,
    channel: 'email',
    textWording: typed,
    audience: way === 'text-first' ? { ...everybody, exceptTextable: true } : everybody,
  };
}

/** What of a cue goes by one channel, as a cue of its own. */
export function sideOf(cue: CueFields, side: Channel): CueFields {
  const { textWording, ...rest } = cue;
  return side === 'text' && textWording ? goingBy(cue, 'text') : rest;
}

/** @example 'text, else email' */
export const sayWay = (cue: CueFields): string => ways.find(({ key }) => key === wayOf(cue))?.label ?? cue.channel;
