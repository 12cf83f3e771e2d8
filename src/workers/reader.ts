/**
 * A process of its own that reads pages and pictures: what it reads is hostile, so it may be killed at any
 * moment. It takes one task at a time and answers it.
 */
import { createHash } from 'node:crypto';
import sharp from 'sharp';
import { readPage } from '@/core/html/appearances';
import { coloursOf } from '@/core/picture/colours';
import { headerSize, pictureType } from '@/core/picture/signatures';
import type { PictureReading, ReaderAnswer, ReaderTask } from '@/server/analysis/reader-tasks';

const MAX_PIXELS = 100_000_000;
/** Twice the size at which the Galley shows it. */
const THUMB = { width: 236, height: 176 };
const HEAVY_BYTES = 102_400;

sharp.concurrency(1);
sharp.cache(false);

const figures = new Intl.NumberFormat('en');

async function readPicture(bytes: Buffer): Promise<PictureReading> {
  const type = pictureType(bytes);
  const reading: PictureReading = {
    sha256: createHash('sha256').update(bytes).digest('hex'),
    type,
    bytes: bytes.length,
    width: null,
    height: null,
    broken: null,
    lighter: null,
    colours: [],
    thumb: null,
  };
  if (type === null) return { ...reading, broken: `not a picture, ${describeOther(bytes)}` };
  const size = headerSize(type, bytes);
  if (size) return { ...reading, ...size };
  try {
    const meta = await sharp(bytes, { limitInputPixels: false }).metadata();
    reading.width = meta.width ?? null;
    reading.height = meta.pageHeight ?? meta.height ?? null;
    if ((reading.width ?? 0) * (reading.height ?? 0) > MAX_PIXELS) {
      const size = `${figures.format(reading.width!)} × ${figures.format(reading.height!)}`;
      return { ...reading, broken: `${size} pixels, more than the ${figures.format(MAX_PIXELS)} that Detto opens` };
    }
    const open = () => sharp(bytes, { limitInputPixels: MAX_PIXELS, failOn: 'truncated' }).autoOrient();
    // Decoding costs most, so it is done once: the colours are taken from the pixels of the thumbnail.
    const { data, info } = await open()
      .resize({ ...THUMB, fit: 'inside', withoutEnlargement: type !== 'image/svg+xml' })
      .toColourspace('srgb')
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    reading.thumb = await sharp(data, { raw: info }).webp({ quality: 82, effort: 1 }).toBuffer();
    reading.colours = coloursOf(sampled(data, info.width, info.height));
    if (bytes.length > HEAVY_BYTES && type !== 'image/svg+xml' && type !== 'image/gif')
      reading.lighter = (await open().webp({ quality: 80 }).toBuffer()).length;
    return reading;
  } catch (error) {
    return { ...reading, broken: `it cannot be decoded (${firstLine(error)})` };
  }
}

/** At most 32 × 32 pixels of a picture, evenly spread; RGBA both. */
function sampled(pixels: Buffer, width: number, height: number): Buffer {
  const [columns, rows] = [Math.min(32, width), Math.min(32, height)];
  const out = Buffer.alloc(columns * rows * 4);
  for (let y = 0; y < rows; y++)
    for (let x = 0; x < columns; x++) {
      const from = (Math.floor(((y + 0.5) * height) / rows) * width + Math.floor(((x + 0.5) * width) / columns)) * 4;
      pixels.copy(out, (y * columns + x) * 4, from, from + 4);
    }
  return out;
}

function describeOther(bytes: Buffer): string {
  if (bytes.length === 0) return 'an empty file';
  if (/^\s*(?:<!doctype html|<html)/i.test(bytes.subarray(0, 512).toString('latin1'))) return 'an HTML page';
  return 'by its first bytes';
}

const firstLine = (error: unknown) => (error instanceof Error ? error.message : String(error)).split('\n')[0]!;

process.on('message', (task: ReaderTask) => {
  void (async () => {
    let answer: ReaderAnswer;
    try {
      answer =
        task.kind === 'page'
          ? { id: task.id, kind: 'page', reading: readPage(task.bytes, task.transport, task.sheets) }
          : { id: task.id, kind: 'picture', reading: await readPicture(task.bytes) };
    } catch (error) {
      answer = { id: task.id, kind: 'error', message: firstLine(error) };
    }
    process.send!(answer);
  })();
});
process.on('disconnect', () => process.exit(0));
