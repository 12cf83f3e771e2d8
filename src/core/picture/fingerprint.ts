import { bmvbhash } from 'blockhash-core';
import { oklch } from './colours';
import type { View } from './features';

/** What a picture is compared with others by: all as lower-case hexadecimal digits, so that they can be kept anywhere. */
export interface Fingerprint {
  /** Perceptual hash: signs of 64 low frequencies of the cosine transform (16 digits). */
  waves: string;
  /** Block mean value hash: which of 64 blocks are lighter than their band (16 digits). */
  blocks: string;
  /** Mean colour of 4 × 4 fields: lightness and both OKLab axes, a byte each (96 digits). */
  fields: string;
  /** Whether there is enough in it for hashes to tell anything. */
  tells: boolean;
}

const SIDE = 32;
const LOW = 8;
const FIELDS = 4;
/** Spread of lightness (0 to 255) below which a picture is all but even. */
const LEAST_SPREAD = 4;

const COSINES = Array.from({ length: LOW }, (_, u) =>
  Float64Array.from({ length: SIDE }, (_, x) => Math.cos(((2 * x + 1) * u * Math.PI) / (2 * SIDE))),
);

/**
 * Measures a picture for comparison: a perceptual hash by the discrete cosine transform of 32 × 32 greys (common
 * practice), the block mean value hash of 8 × 8 blocks (Yang, Gu, Niu 2006, method 1), and a colour layout.
 */
export function fingerprintOf(whole: View): Fingerprint {
  const view = shrunk(whole);
  const { grey, spread } = greys(view);
  return {
    waves: waveHash(grey),
    blocks: bmvbhash(view, 8),
    fields: colourFields(view),
    tells: spread >= LEAST_SPREAD,
  };
}

/** Pixels of the longer side that are enough for means of large fields, and much quicker. */
const ENOUGH = 128;

/** The picture laid on white, at least 128 pixels in its longer side where it has them. */
function shrunk({ data, width, height }: View): View {
  const by = Math.max(
    1,
    Math.min(Math.floor(Math.max(width, height) / ENOUGH), Math.floor(Math.min(width, height) / SIDE)),
  );
  const small: View = { width: Math.ceil(width / by), height: Math.ceil(height / by), data: new Uint8Array(0) };
  const out = (small.data = new Uint8Array(small.width * small.height * 4).fill(255));
  for (let row = 0, to = 0; row < small.height; row++)
    for (let column = 0; column < small.width; column++, to += 4) {
      const right = Math.min(width, (column + 1) * by);
      const bottom = Math.min(height, (row + 1) * by);
      let [r, g, b] = [0, 0, 0];
      for (let y = row * by; y < bottom; y++)
        for (let at = (y * width + column * by) * 4, end = (y * width + right) * 4; at < end; at += 4) {
          const alpha = data[at + 3]!;
          if (alpha === 255) {
            r += data[at]!;
            g += data[at + 1]!;
            b += data[at + 2]!;
          } else {
            const [share, white] = [alpha / 255, 255 - alpha];
            r += data[at]! * share + white;
            g += data[at + 1]! * share + white;
            b += data[at + 2]! * share + white;
          }
        }
      const n = (right - column * by) * (bottom - row * by);
      out[to] = Math.round(r / n);
      out[to + 1] = Math.round(g / n);
      out[to + 2] = Math.round(b / n);
    }
  return small;
}

/** 32 × 32 greys, each the mean of what it covers. */
function greys({ data, width, height }: View): { grey: Float64Array; spread: number } {
  const grey = new Float64Array(SIDE * SIDE);
  for (let gy = 0; gy < SIDE; gy++)
    for (let gx = 0; gx < SIDE; gx++) {
      const [x0, x1] = range(gx, SIDE, width);
      const [y0, y1] = range(gy, SIDE, height);
      let sum = 0;
      for (let y = y0; y < y1; y++)
        for (let x = x0; x < x1; x++) {
          const at = (y * width + x) * 4;
          sum += 0.299 * data[at]! + 0.587 * data[at + 1]! + 0.114 * data[at + 2]!;
        }
      grey[gy * SIDE + gx] = sum / ((x1 - x0) * (y1 - y0));
    }
  const mean = grey.reduce((s, v) => s + v, 0) / grey.length;
  const spread = Math.sqrt(grey.reduce((s, v) => s + (v - mean) ** 2, 0) / grey.length);
  return { grey, spread };
}

/** The pixels that a cell covers; at least one. */
function range(cell: number, cells: number, length: number): [number, number] {
  const from = Math.min(length - 1, Math.floor((cell * length) / cells));
  return [from, Math.max(from + 1, Math.floor(((cell + 1) * length) / cells))];
}

function waveHash(grey: Float64Array): string {
  const rows = new Float64Array(LOW * SIDE);
  for (let y = 0; y < SIDE; y++)
    for (let u = 0; u < LOW; u++) {
      let sum = 0;
      for (let x = 0; x < SIDE; x++) sum += grey[y * SIDE + x]! * COSINES[u]![x]!;
      rows[u * SIDE + y] = sum;
    }
  const waves = new Float64Array(LOW * LOW);
  for (let v = 0; v < LOW; v++)
    for (let u = 0; u < LOW; u++) {
      let sum = 0;
      for (let y = 0; y < SIDE; y++) sum += rows[u * SIDE + y]! * COSINES[v]![y]!;
      waves[v * LOW + u] = sum;
    }
  // The first is the mean lightness, which says nothing of the shape.
  const median = waves.slice(1).sort()[31]!;
  let hex = '';
  for (let i = 0; i < 64; i += 4)
    hex += [0, 1, 2, 3].reduce((digit, k) => digit * 2 + (waves[i + k]! > median ? 1 : 0), 0).toString(16);
  return hex;
}

function colourFields({ data, width, height }: View): string {
  let hex = '';
  const byte = (value: number) =>
    Math.max(0, Math.min(255, Math.round(value)))
      .toString(16)
      .padStart(2, '0');
  for (let fy = 0; fy < FIELDS; fy++)
    for (let fx = 0; fx < FIELDS; fx++) {
      const [x0, x1] = range(fx, FIELDS, width);
      const [y0, y1] = range(fy, FIELDS, height);
      let [r, g, b] = [0, 0, 0];
      for (let y = y0; y < y1; y++)
        for (let x = x0, at = (y * width + x0) * 4; x < x1; x++, at += 4) {
          r += data[at]!;
          g += data[at + 1]!;
          b += data[at + 2]!;
        }
      const n = (x1 - x0) * (y1 - y0);
      const { l, c, h } = oklch(r / n, g / n, b / n);
      const radians = (h * Math.PI) / 180;
      // Axes of OKLab reach about ±0.4.
      hex += byte(l * 255) + byte(128 + c * Math.cos(radians) * 320) + byte(128 + c * Math.sin(radians) * 320);
    }
  return hex;
}
