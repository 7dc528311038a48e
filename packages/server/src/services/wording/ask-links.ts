import type { AskedLinks } from '@convite/contract';
import { doesAnswer } from '../../net/does-answer';
import type { Context } from '../context';

/** Asks addresses that somebody typed into a message whether they answer. Those inside the house only where it allows that. */
export async function askLinks({ store }: Context, addresses: readonly string[]): Promise<AskedLinks> {
  const { allowPrivateAddresses } = await store.house.settings();
  return Promise.all(
    addresses.map(async (address) => ({ address, ...(await doesAnswer(address, allowPrivateAddresses)) })),
  );
}
