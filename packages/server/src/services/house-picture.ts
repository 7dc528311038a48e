import { nowOf, type Actor, type Context } from './context';
import { Failure } from './failure';
import type { HousePicture } from '../store/house-picture';

/** The first octets by which a picture is known, whatever its name says. */
const kinds = [
  { type: 'image/png', begins: [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a] },
  { type: 'image/jpeg', begins: [0xff, 0xd8, 0xff] },
] as const;

/** Takes a picture for the public pages. It is served as what it is and nothing else. @throws Failure 422 for anything else */
export async function setHousePicture(context: Context, file: Uint8Array, actor: Actor): Promise<void> {
  const kind = kinds.find(({ begins }) => begins.every((octet, index) => file[index] === octet));
  if (!kind) throw new Failure(422, 'no-picture', 'This is no picture that every browser shows: take a PNG or a JPEG.');
  await context.store.housePicture.set({ type: kind.type, octets: Buffer.from(file) });
  await noted(context, actor, 'picture of the house');
}

export async function removeHousePicture(context: Context, actor: Actor): Promise<void> {
  await context.store.housePicture.remove();
  await noted(context, actor, 'no picture of the house');
}

async function noted(context: Context, actor: Actor, what: string): Promise<void> {
  await context.store.house.audit(nowOf(context), actor, 'settings: saved', what);
  await context.store.live.touch('settings');
}

/** Each picture has its own digest: what was read once need not be read for everybody who opens a page. */
let lastRead: { readonly digest: string; readonly picture: HousePicture } | null = null;

/** The picture by the name that its address has; null for another, or one that was removed. */
export async function findHousePicture(
  { store }: Pick<Context, 'store'>,
  digest: string,
): Promise<HousePicture | null> {
  if ((await store.housePicture.digest()) !== digest) return null;
  if (lastRead?.digest === digest) return lastRead.picture;
  const picture = await store.housePicture.find(digest);
  if (picture) lastRead = { digest, picture };
  return picture;
}

/** Where the picture is; empty for none. It has another address after each change, so that it can be kept for good. */
export async function housePictureUrl({ store }: Pick<Context, 'store'>): Promise<string> {
  const digest = await store.housePicture.digest();
  return digest && `/house-picture/${digest}`;
}
