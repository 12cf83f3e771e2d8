import sharp from 'sharp';
import type { View } from '@/core/picture/features';

export const MAX_PIXELS = 100_000_000;
/** Greatest side of the view that is measured: enough for what tells kinds apart, and quick. */
const VIEW = 384;

/**
 * The picture as everything but its file is told from: upright, sRGB, RGBA, at most 384 pixels each way. Decoding costs
 * most, so it is done once, and small: JPEG decoders skip what is not needed.
 *
 * @throws Error of the decoder
 */
export async function viewOf(bytes: Buffer): Promise<View> {
  const { data, info } = await sharp(bytes, { limitInputPixels: MAX_PIXELS, failOn: 'truncated' })
    .autoOrient()
    .resize({ width: VIEW, height: VIEW, fit: 'inside', withoutEnlargement: true })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height };
}
