import sharp from 'sharp';
import type { Block } from '@convite/core';
import { recodePicture } from '../services/wording/recode';
import type { Store } from '../store/store';
import { seededRandom } from './random';

const [width, height] = [1200, 560];

/** A dome on its hill under the stars, drawn anew: the demonstration ships no photograph of anybody. @returns it, for a message */
export async function addDemoPicture(store: Store, by: string, at: Date): Promise<Block> {
  const random = seededRandom(7);
  const stars = Array.from({ length: 220 }, () => {
    const [x, y, r] = [random.below(width), random.below(height - 150), 0.6 + random.below(14) / 10];
    return `<circle cx="${x}" cy="${y}" r="${r}" fill="#fbf8f3" opacity="${0.4 + random.below(6) / 10}"/>`;
  });
  const drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">
    <defs><linearGradient id="sky" x2="0" y2="1"><stop stop-color="#141a2b"/><stop offset="0.7" stop-color="#4a2545"/><stop offset="1" stop-color="#c2694a"/></linearGradient></defs>
    <rect width="100%" height="100%" fill="url(#sky)"/>${stars.join('')}
    <circle cx="930" cy="130" r="46" fill="#e9c9a0"/><circle cx="950" cy="118" r="42" fill="#241a2e"/>
    <path d="M0 ${height} V470 Q260 380 520 430 T${width} 400 V${height} Z" fill="#10131f"/>
    <path d="M300 420 v-44 h180 v44 z" fill="#e3dcd0"/><path d="M300 378 a90 90 0 0 1 180 0 z" fill="#fbf8f3"/>
    <path d="M384 290 l18 0 l10 88 l-30 0 z" fill="#10131f"/></svg>`;
  const words = 'The dome on its hill, open to a sky full of stars';
  return { kind: 'picture', ...(await addDrawing(store, drawing, { name: 'dome-at-night.png', words }, by, at)) };
}

/** The mark of the house: its dome under one star, seen on light paper and on dark. */
export function addDemoMark(store: Store, by: string, at: Date) {
  const drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="144" height="144">
    <path d="M12 136 v-42 h120 v42 z" fill="#8a6f86"/><path d="M12 92 a60 60 0 0 1 120 0 z" fill="#a98aa4"/>
    <path d="M66 32 h12 l7 60 h-26 z" fill="#fbf8f3"/><path d="M116 6 l6 16 16 6 -16 6 -6 16 -6 -16 -16 -6 16 -6 z" fill="#c98a12"/></svg>`;
  const about = { name: 'mark.png', words: 'Serra da Bruma Observatory' };
  return addDrawing(store, drawing, about, by, at);
}

async function addDrawing(
  store: Store,
  drawing: string,
  { name, words }: { readonly name: string; readonly words: string },
  addedBy: string,
  addedAt: Date,
) {
  const recoded = await recodePicture(await sharp(Buffer.from(drawing)).png().toBuffer());
  const size = { width: recoded.width, height: recoded.height };
  const digest = await store.pictures.add(recoded, { name, words, ...size, addedAt, addedBy });
  return { digest, words, ...size };
}
