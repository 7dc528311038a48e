import { isPlaceholderAddress, type Channel } from '@convite/core';
import type { Settings } from '@convite/contract';
import type { StoreSubjects } from '../../store/store';
import { Failure } from '../failure';

/**
 * What Settings lack for a message of that channel, as a sentence; null where they lack nothing. Every message carries the sender's
 * postal address (common practice).
 */
export function lacksToSend(
  { postalAddress, sender }: Pick<Settings, 'postalAddress' | 'sender'>,
  channel: Channel,
): string | null {
  if (!postalAddress.trim()) return 'Settings has no postal address yet. Every message carries it.';
  if (channel === 'email' && isPlaceholderAddress(sender.email))
    return `Settings has no sender yet: ${sender.email} is only an example.`;
  return null;
}

/** Refused before anything is written down, so that whoever sends can fill it in and send. @throws Failure 409 `cannot-send-yet` */
export async function refuseUnsendable({ house }: Pick<StoreSubjects, 'house'>, channel: Channel): Promise<void> {
  const lack = lacksToSend(await house.settings(), channel);
  if (lack !== null) throw new Failure(409, 'cannot-send-yet', lack);
}
