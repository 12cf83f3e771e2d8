import { createHash } from 'node:crypto';
import { headerSize, pictureType } from '@/core/picture/signatures';
import type { PictureFacts } from './tasks';

const MAX_PIXELS = 100_000_000;
/** Of the beginning of a file: enough for every signature but SVG's, and for every size at a fixed place. */
const HEAD = 64;

/** Pixels of a side as an integer of the database holds them; null for what no picture has. */
const side = (pixels: number | null): number | null =>
  pixels !== null && Number.isFinite(pixels) && pixels >= 0 && pixels < 2 ** 31 ? Math.round(pixels) : null;

/** Facts of which the size is known; a picture with too many pixels is not opened. */
export function sizedFacts(
  bytes: Buffer,
  type: string | null,
  claimed: Pick<PictureFacts, 'width' | 'height'>,
): PictureFacts {
  const [width, height] = [side(claimed.width), side(claimed.height)];
  const broken =
    (width ?? 0) * (height ?? 0) > MAX_PIXELS
      ? { id: 'broken.too-many-pixels', values: { width: width!, height: height!, limit: MAX_PIXELS } }
      : null;
  return { sha256: createHash('sha256').update(bytes).digest('hex'), type, bytes: bytes.length, width, height, broken };
}

/** Facts that a few bytes at fixed places tell, safely and at once; null for what has to be read further. */
export function headFacts(bytes: Buffer): PictureFacts | null {
  const head = bytes.subarray(0, HEAD);
  const type = pictureType(head);
  const size = type === null ? null : headerSize(type, head);
  return size && sizedFacts(bytes, type, size);
}
