import type { Channel, Lane } from '../audience/audience';

/**
 * What a cue may do instead of writing to people: with each of those it is for, put them on a list or off it, or set a field of theirs;
 * or once, give a member a task, or call another system.
 */
export type CueAct =
  | { readonly kind: 'join' | 'leave'; readonly list: number }
  | { readonly kind: 'field'; readonly field: number; readonly value: string }
  | { readonly kind: 'task'; readonly member: number; readonly text: string }
  | { readonly kind: 'call'; readonly webhook: number };

/** It is done with each person that it is for; the others are done once. */
export type ActOnPeople = Extract<CueAct, { kind: 'join' | 'leave' | 'field' }>;
export const isOnPeople = (act: CueAct): act is ActOnPeople =>
  act.kind === 'join' || act.kind === 'leave' || act.kind === 'field';

/** By which a cue goes. */
export const laneOf = ({ channel, act }: { readonly channel: Channel; readonly act?: CueAct | undefined }): Lane =>
  act ? 'act' : channel;

/** @example 'email', 'task' */
export const sayLane = (lane: Lane): string => (lane === 'act' ? 'task' : lane);
