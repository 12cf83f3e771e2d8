import { isUtf8 } from 'node:buffer';

/**
 * Where places of a decoded text are in its bytes.
 *
 * @param text of the bytes, a byte order mark included
 * @param offsets in UTF-16 code units, at the beginning or end of a character
 * @returns the offset in bytes of each; null where bytes and text do not correspond so simply, and have to be read again
 */
export function byteOffsets(
  text: string,
  bytes: Buffer,
  charset: string,
  offsets: readonly number[],
): Map<number, number> | null {
  // No encoding makes more code units of a character than it has bytes.
  if (text.length === bytes.length) return new Map(offsets.map((at) => [at, at]));
  if (charset !== 'utf-8' || !isUtf8(bytes)) return null;
  const found = new Map<number, number>();
  let [units, at] = [0, 0];
  for (const offset of [...new Set(offsets)].sort((a, b) => a - b)) {
    at += Buffer.byteLength(text.slice(units, offset), 'utf8');
    units = offset;
    found.set(offset, at);
  }
  return found;
}
