import type { Appearance } from '../model/appearance';
import { fileNameOf } from '../picture/file-name';
import { namesSame } from './enlargement';

/** Address that a picture leads to: by the link around it, else by the one link of its card; null for none. */
export const hrefOf = ({ context: { control, cardHref } }: Pick<Appearance, 'context'>): string | null =>
  control ? control.href : (cardHref ?? null);

/** A picture's file, and its size in pixels. */
export interface SizedFile {
  src: string | null;
  width: number | null;
  height: number | null;
}

/** How many times as many pixels the larger one has. */
const LARGER = 1.5;

/**
 * Whether one of the pictures of the page that a picture leads to is the same one larger, by the names of their files: a
 * thumbnail. What it holds is described there; here it is named by that page (common practice of galleries; WAI Images
 * Tutorial, functional images).
 *
 * @param there pictures of the page that it leads to
 */
export function isThumbnailOf(own: SizedFile, there: readonly SizedFile[]): boolean {
  if (!own.src || !own.width || !own.height) return false;
  const least = LARGER * own.width * own.height;
  const name = fileNameOf(own.src);
  return there.some(
    (t) =>
      t.src !== null &&
      (t.width ?? 0) * (t.height ?? 0) >= least &&
      namesSame(name, fileNameOf(t.src)) &&
      !countsOtherwise(own, t),
  );
}

/** The number that a file's name ends with, where it does not say a size; null for none. */
function counterOf({ src, width, height }: SizedFile): number | null {
  const digits = /(\d+)\.\w+$/.exec(fileNameOf(src ?? ''))?.[1];
  const number = digits === undefined ? null : Number(digits);
  return number === width || number === height ? null : number;
}

/** Whether two files of one name are different pictures of a series: `plot_003.png`, `plot_001.png`. */
function countsOtherwise(one: SizedFile, other: SizedFile): boolean {
  const [a, b] = [counterOf(one), counterOf(other)];
  return a !== null && b !== null && a !== b;
}

/** Where thumbnails do not stand: what leads from there is the frame of a site. */
const FRAME = new Set(['header', 'nav', 'footer']);

/** Whether a picture may be a thumbnail, by where it stands. */
export const mayBeThumbnail = (a: Appearance): boolean =>
  a.element === 'img' && hrefOf(a) !== null && (a.context.region === null || !FRAME.has(a.context.region));
