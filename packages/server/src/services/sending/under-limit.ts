import { limitOf, wholeEvent, whoOf, type Audience, type MessageKind, type Who } from '@convite/core';
import type { StoreSubjects } from '../../store/store';

/** Which message it is, and when it goes. */
export interface LimitedMessage {
  readonly kind: MessageKind;
  /** Null before there is one, for whoever looks ahead. */
  readonly firing: number | null;
  readonly atMs: number;
}

/** Who gets a message, with how often the house writes to one person as Settings stand now. */
export async function underLimit(
  { house }: Pick<StoreSubjects, 'house'>,
  who: Who,
  message: LimitedMessage,
): Promise<Who> {
  const { pressure } = await house.settings();
  return { ...who, limit: limitOf(pressure, { ...message, event: who.about }) };
}

/** Who gets an issue of a digest as it goes. */
export const whoGetsIssue = (
  store: Pick<StoreSubjects, 'house'>,
  audience: Audience,
  { id, dueMs }: { readonly id: number; readonly dueMs: number },
): Promise<Who> => underLimit(store, whoOf(audience, wholeEvent(null)), { kind: 'digest', firing: id, atMs: dueMs });
