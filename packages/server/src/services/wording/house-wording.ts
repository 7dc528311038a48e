import type { WordingDocument } from '@convite/core';
import type { StoreSubjects } from '../../store/store';
import { houseWordings } from '../sending/house-wordings';
import type { HouseWording } from './shipped';

type Kept = Pick<StoreSubjects, 'keptWordings'>;

/**
 * What the house says in a message that goes by itself: in its own words where it has some, as it came otherwise. It says that it
 * was begun from there, so that what comes of it is known.
 */
export const houseWording = async (store: Kept, key: HouseWording): Promise<WordingDocument> => ({
  ...((await store.keptWordings.find(key))?.wording ?? houseWordings[key]),
  from: key,
});

/** The same of all of them, as one begins with them. */
export async function allHouseWordings(store: Kept): Promise<Record<HouseWording, WordingDocument>> {
  const kept = new Map((await store.keptWordings.all()).map(({ key, wording }) => [key, wording]));
  const said: Record<HouseWording, WordingDocument> = { ...houseWordings };
  for (const key of houseKeys) said[key] = kept.get(key) ?? said[key];
  return said;
}

const isHouseKey = (key: string): key is HouseWording => Object.hasOwn(houseWordings, key);
const houseKeys = Object.keys(houseWordings).filter(isHouseKey);
