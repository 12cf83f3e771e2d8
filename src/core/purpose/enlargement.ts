import type { Appearance } from '../model/appearance';
import { fileNameOf } from '../picture/file-name';

const IMAGE = /\.(?:png|jpe?g|gif|webp|avif|svg|tiff?|bmp)$/i;

/** What a file's name says of the picture, without what sizes and copies add to it. */
const stemOf = (name: string) =>
  name
    .replace(IMAGE, '')
    .replace(IMAGE, '')
    .toLowerCase()
    .replace(/^\d{2,4}px[-_]/, '')
    .replace(
      /[-_.]?(?:thumb(?:nail)?|small|medium|large|full|big|orig(?:inal)?|tn|th|\d{2,4}x\d{2,4}|\d{2,4}(?:px|w)?)$/,
      '',
    );

/** Letters from which a name within another is no chance. */
const NAMED = 4;

/** Whether two files' names say that they are one picture, as a small copy and the large one. */
export function namesSame(one: string, other: string): boolean {
  const [a, b] = [stemOf(one), stemOf(other)];
  return (
    a !== '' && b !== '' && (a === b || (Math.min(a.length, b.length) >= NAMED && (a.includes(b) || b.includes(a))))
  );
}

/** A file's name in the path or the query of an address; empty where it names none. */
function fileIn(href: string): string {
  const path = fileNameOf(href);
  return IMAGE.test(path) ? path : '';
}

/**
 * Whether a link around a picture leads to a larger file of the same: its text describes the picture, and that it can be
 * enlarged is what the link adds (common practice).
 */
export function isEnlargement({ context: { control }, markup: { src } }: Appearance): boolean {
  if (control?.kind !== 'link' || !control.href || !src) return false;
  const file = fileIn(control.href).replace(/^[a-z]+:/i, '');
  if (file === '') return false;
  return namesSame(fileNameOf(src), file);
}
