import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import opentype, { type Font, type PathCommand } from 'opentype.js';

/** Text drawn as outlines of a shipped font, so that pictures come out the same on every machine. */
const require = createRequire(import.meta.url);
const fonts = new Map<string, Font>();

function font(weight: 400 | 700): Font {
  const name = `@fontsource/atkinson-hyperlegible/files/atkinson-hyperlegible-latin-${weight}-normal.woff`;
  let loaded = fonts.get(name);
  if (!loaded) {
    const bytes = readFileSync(require.resolve(name));
    loaded = opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
    fonts.set(name, loaded);
  }
  return loaded;
}

export interface TextStyle {
  size: number;
  fill: string;
  bold?: boolean;
  anchor?: 'start' | 'middle' | 'end';
}

/** @param y baseline */
export function text(words: string, x: number, y: number, { size, fill, bold, anchor = 'start' }: TextStyle): string {
  const f = font(bold ? 700 : 400);
  const width = f.getAdvanceWidth(words, size);
  const left = anchor === 'start' ? x : anchor === 'middle' ? x - width / 2 : x - width;
  return `<path fill="${fill}" d="${f.getPath(words, left, y, size).commands.map(data).join('')}"/>`;
}

/** The library's own writer of path data rounds some numbers to NaN (opentype.js 2.0). */
function data(c: PathCommand): string {
  const n = (...values: number[]) => values.map((v) => Math.round(v * 10) / 10).join(' ');
  switch (c.type) {
    case 'Z':
      return 'Z';
    case 'C':
      return `C${n(c.x1, c.y1, c.x2, c.y2, c.x, c.y)}`;
    case 'Q':
      return `Q${n(c.x1, c.y1, c.x, c.y)}`;
    default:
      return `${c.type}${n(c.x, c.y)}`;
  }
}
