import { unnamedHouse, type Beginning } from '@convite/contract';
import type { Context } from '../context';

/**
 * How far a new house is, step by step. Once something went out it is no new house, and nobody is led through it.
 * @returns null where there is nothing left to begin
 */
export async function readBeginning({ store }: Pick<Context, 'store'>): Promise<Beginning | null> {
  const hasInvented = await store.beginning.hasInvented();
  if (!hasInvented && (await store.firings.hasGoneOut())) return null;
  const { organisation, postalAddress, sender } = await store.house.settings();
  const own = await store.beginning.hasOwn();
  const steps: Beginning['steps'] = [
    { key: 'house', isDone: postalAddress.trim() !== '' && organisation !== unnamedHouse },
    { key: 'sender', isDone: sender.email.toLowerCase() === (await store.beginning.provenSender()) },
    { key: 'people', isDone: own.people },
    { key: 'event', isDone: own.events },
  ];
  if (steps.every(({ isDone }) => isDone) && !hasInvented) return null;
  return { steps, hasInvented, canInvent: !hasInvented && !own.people && !own.events };
}
