import type { PictureType } from '@diurna/contract/snags';
import sharp from 'sharp';

/** A phone's picture has twelve million pixels; one that claims many more is made to fill the memory. */
const MOST_PIXELS = 60_000_000;
/** Longer sides are made shorter: a card shows no more (pixels). */
const LONGEST = 2560;
const QUALITY = 85;

const FORMATS = { 'image/jpeg': 'jpeg', 'image/png': 'png', 'image/webp': 'webp' } as const;

/**
 * A picture as its pixels alone: read by what is in it and written anew, upright, without place, camera or anything
 * else that came along. In a thread of the library, beside the loop.
 * @returns null when it is no picture of this type
 */
export async function drawAnew(type: PictureType, bytes: Buffer): Promise<Buffer | null> {
  try {
    const picture = sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error', pages: 1 });
    if ((await picture.metadata()).format !== FORMATS[type]) return null;
    return await picture
      .rotate()
      .resize({ width: LONGEST, height: LONGEST, fit: 'inside', withoutEnlargement: true })
      .toFormat(FORMATS[type], type === 'image/png' ? {} : { quality: QUALITY })
      .toBuffer();
  } catch {
    return null;
  }
}
