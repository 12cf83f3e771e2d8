import path from 'node:path';
import sharp from 'sharp';
import { createWorker, OEM, type Worker } from 'tesseract.js';
import type { TextLine } from '@/core/picture/recognised';
import { TEXT_DATA, type TextLanguage } from './recognition-languages';
import { MAX_PIXELS } from './picture-view';

/** Laid together when Detto is built: the engine wants them in one folder. */
const LANGUAGES = path.join(process.cwd(), 'dist', 'text-languages');

/** Sides to which pictures are brought, in pixels: small letters are recognised badly, and so is texture that is enlarged. */
const SIDE = 1200;
const PHOTO_SIDE = 1000;
const ENLARGE = 4;
let open: { languages: string; worker: Worker } | null = null;

/** One engine at a time: each takes some 100 MB. */
async function engine(languages: readonly string[]): Promise<Worker> {
  const key = languages.join('+');
  if (open?.languages === key) return open.worker;
  await open?.worker.terminate();
  open = null;
  const worker = await createWorker(
    languages.map((language) => TEXT_DATA[language as TextLanguage]),
    OEM.LSTM_ONLY,
    { langPath: LANGUAGES, cacheMethod: 'none', gzip: true },
  );
  open = { languages: key, worker };
  return worker;
}

/**
 * Text in a picture, line by line in reading order, sure or not.
 *
 * @param photo it is smaller then: what is enlarged in a photo is texture
 * @throws Error where the picture cannot be decoded
 */
export async function textIn(bytes: Buffer, languages: readonly string[], photo: boolean): Promise<TextLine[]> {
  const upright = sharp(bytes, { limitInputPixels: MAX_PIXELS }).autoOrient();
  const { autoOrient } = await sharp(bytes, { limitInputPixels: MAX_PIXELS }).metadata();
  const side = photo ? PHOTO_SIDE : SIDE;
  const factor = Math.min(photo ? 1 : ENLARGE, side / Math.max(autoOrient.width, autoOrient.height));
  const width = Math.max(1, Math.round(autoOrient.width * factor));
  const { data, info } = await upright
    .flatten({ background: '#ffffff' })
    .toColourspace('srgb')
    .resize({ width })
    .png({ compressionLevel: 1 })
    .toBuffer({ resolveWithObject: true });
  const worker = await engine(languages);
  const { data: page } = await worker.recognize(data, {}, { blocks: true, text: false });
  const box = ({ x0, y0, x1, y1 }: { x0: number; y0: number; x1: number; y1: number }) => ({
    x: round(x0 / info.width),
    y: round(y0 / info.height),
    width: round((x1 - x0) / info.width),
    height: round((y1 - y0) / info.height),
  });
  return (page.blocks ?? [])
    .flatMap((b) => b.paragraphs.flatMap((p) => p.lines))
    .map((line) => ({
      text: line.text.trim(),
      sure: round(line.confidence / 100),
      box: box(line.bbox),
      words: line.words.map((w) => ({ text: w.text, sure: round(w.confidence / 100), box: box(w.bbox) })),
    }))
    .filter((line) => line.text !== '');
}

const round = (value: number) => Math.round(value * 1000) / 1000;
