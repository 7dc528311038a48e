import type { PictureChange, PicturePage, PictureRow, PictureUses } from '@convite/contract';
import type { Picture, StoredPicture } from '../../store/pictures';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';
import { recodePicture } from './recode';

const pageSize = 60;
const mostPictures = 5000;
const mostUses = 10;

/** The pictures of the house, the newest first. */
export async function listPictures(
  context: Pick<Context, 'store' | 'links'>,
  isArchived: boolean,
  before: number | null,
): Promise<PicturePage> {
  const found = await context.store.pictures.page(isArchived, before, pageSize + 1);
  const rows = found.slice(0, pageSize);
  return {
    rows: rows.map((row) => rowOf(context, row)),
    next: found.length > pageSize ? (rows.at(-1)?.id ?? null) : null,
  };
}

/** Takes a picture: made smaller, upright, without what a camera writes beside it, and kept once. @throws Failure 422, 409 */
export async function addPicture(context: Context, file: Uint8Array, name: string, actor: Actor): Promise<PictureRow> {
  const { type, octets, width, height } = await recodePicture(file);
  const digest = await context.store.transact(async (tx) => {
    if ((await tx.pictures.count()) >= mostPictures)
      throw new Failure(409, 'too-many', `A house keeps at most ${mostPictures} pictures.`);
    const about = { name, words: '', width, height, addedAt: nowOf(context), addedBy: actor.name };
    const added = await tx.pictures.add({ type, octets }, about);
    await tx.house.audit(nowOf(context), actor, 'wording: picture added', name);
    await tx.live.touch('pictures');
    return added;
  });
  const row = await context.store.pictures.find(digest);
  if (!row) throw notFound('picture');
  return rowOf(context, row);
}

/** What is read where it is not seen, and whether it is offered. @throws Failure 404 */
export async function changePicture(
  { store }: Pick<Context, 'store'>,
  digest: string,
  change: PictureChange,
): Promise<void> {
  if (!(await store.pictures.find(digest))) throw notFound('picture');
  await store.pictures.change(digest, change);
  await store.live.touch('pictures');
}

/** What shows it now. @throws Failure 404 */
export async function usesOfPicture({ store }: Pick<Context, 'store'>, digest: string): Promise<PictureUses> {
  if (!(await store.pictures.find(digest))) throw notFound('picture');
  const { cues, wordings, digests } = await store.pictures.uses(digest, mostUses + 1);
  const first = <T>(all: readonly T[]): T[] => all.slice(0, mostUses);
  return {
    cues: first(cues),
    wordings: first(wordings),
    digests: first(digests),
    isMark: (await store.house.settings()).look.mark?.digest === digest,
    hasMore: [cues, wordings, digests].some(({ length }) => length > mostUses),
  };
}

/** As it is served; null for none of ours. */
export const findPicture = ({ store }: Pick<Context, 'store'>, digest: string): Promise<Picture | null> =>
  store.pictures.octets(digest);

const rowOf = ({ links }: Pick<Context, 'links'>, { id: _, addedAt, ...row }: StoredPicture): PictureRow => ({
  ...row,
  url: links.picture(row.digest),
  addedAt: addedAt.toISOString(),
});
