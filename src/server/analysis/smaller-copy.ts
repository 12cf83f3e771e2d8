import sharp from 'sharp';
import { MAX_PIXELS } from './picture-view';

/** From here on a copy is tried; 100 KB, as the rule `heavy-file` has it by default. */
export const HEAVY_BYTES = 102_400;
const QUALITY = 80;
/** Vector drawings have no copy that is lighter by encoding, and of moving ones only a still would be left. */
const NOT_RECODED = new Set(['image/svg+xml', 'image/gif']);

/** The picture as WebP; null for types that have no such copy. */
export async function encodeLighter(bytes: Buffer, type: string): Promise<Buffer | null> {
  if (NOT_RECODED.has(type)) return null;
  return sharp(bytes, { limitInputPixels: MAX_PIXELS }).autoOrient().webp({ quality: QUALITY }).toBuffer();
}
