import sharp, { type Sharp } from 'sharp';
import { Failure } from '../failure';

/** A picture made fit for mail. */
export interface Recoded {
  readonly type: 'image/jpeg' | 'image/png';
  readonly octets: Buffer;
  /** In pixels. */
  readonly width: number;
  readonly height: number;
}

/** The first octets by which a picture is known, whatever its name says. Drawings that can hold scripts are none of them. */
const begins: readonly (readonly number[])[] = [
  [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a],
  [0xff, 0xd8, 0xff],
  [0x47, 0x49, 0x46, 0x38],
  [0x52, 0x49, 0x46, 0x46],
];
/** Twice as wide as a mail, for sharp screens. */
const mostWide = 1200;
const mostHigh = 2400;
/** A file of some kilobytes can unpack to gigabytes, and a very long or very high one takes minutes to be made smaller. */
const mostPixels = 60_000_000;
const mostSide = 15_000;
const mostSeconds = 20;
/** Pictures that wait for their turn. */
const mostWaiting = 20;

// One thread for a picture, and nothing kept of it: the same process answers everybody else.
sharp.concurrency(1);
sharp.cache(false);
/** One picture at a time. */
let turn: Promise<unknown> = Promise.resolve();
let waiting = 0;

/**
 * Makes a picture as wide as mails show it, upright, and without what cameras write beside it: place, owner, device. Where
 * something shines through it stays PNG, all else becomes JPEG. One picture is worked on at a time.
 * @throws Failure 422 for what is no picture or too large a one, 429 where too many wait
 */
export async function recodePicture(file: Uint8Array): Promise<Recoded> {
  if (!begins.some((first) => first.every((octet, index) => file[index] === octet)))
    throw new Failure(422, 'no-picture', 'This is no picture that can be taken: PNG, JPEG, WebP or GIF.');
  if (waiting >= mostWaiting)
    throw new Failure(429, 'too-many', 'Many images are being added just now. Try again in a minute.');
  waiting += 1;
  const work = turn.then(() => recodeNow(file)).finally(() => (waiting -= 1));
  turn = work.catch(() => undefined);
  return work;
}

/** What its header says, before anything is unpacked. @throws Error for a file that is no picture */
async function refuseLarge(picture: Sharp): Promise<{ readonly hasAlpha: boolean }> {
  const { width = 0, height = 0, hasAlpha = false } = await picture.metadata();
  if (Math.max(width, height) > mostSide || width * height > mostPixels)
    throw new Failure(
      422,
      'no-picture',
      `This image is too large: at most 60 megapixels, and ${mostSide} pixels on each side. Make it smaller, then add it.`,
    );
  return { hasAlpha };
}

async function recodeNow(file: Uint8Array): Promise<Recoded> {
  try {
    const picture = sharp(file, { limitInputPixels: mostPixels, failOn: 'error', pages: 1 });
    const { hasAlpha } = await refuseLarge(sharp(file, { limitInputPixels: false, pages: 1 }));
    const sized = picture
      .rotate()
      .resize({ width: mostWide, height: mostHigh, fit: 'inside', withoutEnlargement: true })
      .timeout({ seconds: mostSeconds });
    const coded = hasAlpha
      ? sized.png({ compressionLevel: 9, palette: true })
      : sized.jpeg({ quality: 80, mozjpeg: true });
    const { data, info } = await coded.toBuffer({ resolveWithObject: true });
    return { type: hasAlpha ? 'image/png' : 'image/jpeg', octets: data, width: info.width, height: info.height };
  } catch (error) {
    if (error instanceof Failure) throw error;
    const isLarge = error instanceof Error && /pixel limit|timeout/i.test(error.message);
    throw new Failure(
      422,
      'no-picture',
      isLarge
        ? 'This image takes too long to be made smaller. Make it smaller, then add it.'
        : 'This picture cannot be read: it may be cut off. Save it once more, and try again.',
    );
  }
}
