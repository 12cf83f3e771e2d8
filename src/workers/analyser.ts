/**
 * A process of its own that decodes pictures: what it decodes is hostile and decoders are native code, so it may be
 * killed at any moment. It takes one task at a time and answers it.
 */
import exifReader from 'exif-reader';
import sharp, { type Metadata } from 'sharp';
import { coloursOf } from '@/core/picture/colours';
import { featuresOf, type View } from '@/core/picture/features';
import { kindOf } from '@/core/picture/kind';
import { fingerprintOf } from '@/core/picture/fingerprint';
import {
  mergeMetadata,
  readExif,
  readIptc,
  readPngText,
  readSvg,
  readXmp,
  type ExifTags,
  type PictureMetadata,
} from '@/core/picture/metadata';
import { orientationOf } from '@/core/picture/details';
import { pictureType, pngFrames } from '@/core/picture/signatures';
import { encodeLighter, HEAVY_BYTES } from '@/server/analysis/smaller-copy';
import { viewToSend } from '@/server/analysis/view-to-send';
import { MAX_PIXELS, thumbOf, viewOf } from '@/server/analysis/picture-view';
import type { Answer, AnalysisTask, AnalysisResult } from '@/server/workers/tasks';

/** Types that the picture library does not draw. */
const UNDRAWN = new Set(['image/bmp', 'image/x-icon']);

sharp.concurrency(1);
sharp.cache(false);

async function lookAt(bytes: Buffer): Promise<AnalysisResult> {
  const nothing = { lighter: null, colours: [], thumb: null, kind: null, fingerprint: null, details: null };
  const type = pictureType(bytes);
  if (type === null || UNDRAWN.has(type)) return { ...nothing, broken: null };
  try {
    const view = await viewOf(bytes);
    const file = await sharp(bytes, { limitInputPixels: MAX_PIXELS }).metadata();
    const { width, height } = file.autoOrient;
    const frames = type === 'image/png' ? pngFrames(bytes) : (file.pages ?? 1);
    const features = featuresOf(view, { width, height, type });
    const clear = features.clear + features.halfClear > 0;
    const thumb = await thumbOf({ view, bytes, type, width, height, frames, clear });
    const kind = kindOf(features);
    return {
      broken: null,
      thumb,
      colours: coloursOf(sampled(view)),
      lighter: bytes.length > HEAVY_BYTES ? ((await encodeLighter(bytes, type))?.length ?? null) : null,
      kind,
      fingerprint: fingerprintOf(view),
      details: {
        kindReasons: kind.reasons,
        frames,
        clear: Math.round(features.clear * 100) / 100,
        orientation: orientationOf(width, height),
        metadata: metadataOf(bytes, type, file),
      },
    };
  } catch (error) {
    return { ...nothing, broken: { id: 'broken.undecodable', values: { detail: firstLine(error) } } };
  }
}

/** What the file says about itself, the better source first (Metadata Working Group, guidelines 2.0: XMP before IPTC). */
function metadataOf(bytes: Buffer, type: string, { xmp, iptc, exif, comments }: Metadata): PictureMetadata {
  if (type === 'image/svg+xml') return readSvg(bytes.toString('utf8'));
  return mergeMetadata(
    xmp ? readXmp(xmp.toString('utf8')) : {},
    iptc ? readIptc(iptc) : {},
    exif ? readExif(exifTags(exif)) : {},
    comments ? readPngText(comments) : {},
  );
}

/** Of a damaged block, nothing. */
function exifTags(block: Buffer): ExifTags {
  try {
    return exifReader(block) as ExifTags;
  } catch {
    return {};
  }
}

/** At most 32 × 32 pixels of a picture, evenly spread; RGBA both. */
function sampled({ data, width, height }: View): Uint8Array {
  const [columns, rows] = [Math.min(32, width), Math.min(32, height)];
  const out = new Uint8Array(columns * rows * 4);
  for (let y = 0; y < rows; y++)
    for (let x = 0; x < columns; x++) {
      const from = (Math.floor(((y + 0.5) * height) / rows) * width + Math.floor(((x + 0.5) * width) / columns)) * 4;
      out.set(data.subarray(from, from + 4), (y * columns + x) * 4);
    }
  return out;
}

const firstLine = (error: unknown) => (error instanceof Error ? error.message : String(error)).split('\n')[0]!;

async function copyOf(bytes: Buffer): Promise<Uint8Array> {
  const copy = await encodeLighter(bytes, pictureType(bytes) ?? '');
  if (!copy) throw new Error('this type has no lighter copy');
  return copy;
}

process.on('message', ({ bytes, copy, send }: AnalysisTask) => {
  const asked: Promise<AnalysisResult | Uint8Array> =
    send !== undefined ? viewToSend(bytes, send) : copy ? copyOf(bytes) : lookAt(bytes);
  asked.then(
    (result) => process.send!({ result } satisfies Answer<AnalysisResult | Uint8Array>),
    (error: unknown) => process.send!({ error: firstLine(error) } satisfies Answer<AnalysisResult>),
  );
});
process.on('disconnect', () => process.exit(0));
