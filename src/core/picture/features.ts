/** Pixels of a picture, RGBA, four bytes each, not premultiplied. */
export interface View {
  data: Uint8Array;
  width: number;
  height: number;
}

/** What is known of the file beside its pixels. */
export interface FileShape {
  /** Natural size in pixels. */
  width: number;
  height: number;
  type: string;
}

export const FEATURES = [
  'area',
  'shortSide',
  'aspect',
  'elongation',
  'square',
  'clear',
  'halfClear',
  'colours',
  'coloursPerPixel',
  'mainColour',
  'twoColours',
  'eightColours',
  'even',
  'soft',
  'hard',
  'entropy',
  'saturation',
  'saturationSpread',
  'grey',
  'white',
  'dark',
  'edges',
  'upright',
  'horizontals',
  'verticals',
  'border',
  'busy',
  'contrasty',
  'wraps',
  'rows',
  'jpeg',
  'vector',
] as const;
export type Feature = (typeof FEATURES)[number];
export type Features = Record<Feature, number>;

/** Differences of luminance (0 to 255) between neighbours: below, there is none; from there on, an edge. */
const EVEN = 0.5;
const SOFT = 8;
const HARD = 40;
const EDGE = 30;
const LINE = 20;
/** Share of a row or column that a line has to cover. */
const LONG = 0.35;
const BLOCKS = 8;

const share = (part: number, whole: number) => (whole === 0 ? 0 : part / whole);

/**
 * Measures of a picture that tell kinds apart: size and shape, transparency, number and spread of colours, evenness,
 * edges and long lines, the border, and whether it could be laid as tiles.
 *
 * Shares are from 0 to 1; sizes and counts are logarithms to the base of 2.
 *
 * @param view of the whole picture, at most a few hundred pixels each way
 */
export function featuresOf(view: View, shape: FileShape): Features {
  const colours = colourFeatures(view);
  const lum = luminances(view);
  const aspect = Math.log2(shape.width / shape.height);
  return {
    area: Math.log2(shape.width * shape.height + 1),
    shortSide: Math.log2(Math.min(shape.width, shape.height) + 1),
    aspect,
    elongation: Math.abs(aspect),
    square: shape.width === shape.height ? 1 : 0,
    ...colours,
    ...neighbourFeatures(lum, view),
    ...lineFeatures(lum, view),
    ...blockFeatures(lum, view),
    border: borderFeature(view),
    wraps: wrapFeature(lum, view),
    rows: rowFeature(lum, view),
    jpeg: shape.type === 'image/jpeg' ? 1 : 0,
    vector: shape.type === 'image/svg+xml' ? 1 : 0,
  };
}

/** One channel of a pixel laid on white. */
const onWhite = (value: number, alpha: number) => value * alpha + 255 * (1 - alpha);

function luminances({ data, width, height }: View): Float32Array {
  const out = new Float32Array(width * height);
  for (let i = 0, at = 0; i < out.length; i++, at += 4) {
    const light = 0.299 * data[at]! + 0.587 * data[at + 1]! + 0.114 * data[at + 2]!;
    out[i] = data[at + 3] === 255 ? light : onWhite(light, data[at + 3]! / 255);
  }
  return out;
}

function colourFeatures({ data, width, height }: View) {
  const n = width * height;
  const counts = new Uint32Array(1 << 15);
  const light = new Uint32Array(256);
  let [clear, halfClear, grey, white, dark, sum, squares] = [0, 0, 0, 0, 0, 0, 0];
  for (let at = 0; at < n * 4; at += 4) {
    let r = data[at]!;
    let g = data[at + 1]!;
    let b = data[at + 2]!;
    if (data[at + 3] !== 255) {
      const a = data[at + 3]! / 255;
      if (a < 0.05) clear++;
      else if (a < 0.95) halfClear++;
      r = onWhite(r, a);
      g = onWhite(g, a);
      b = onWhite(b, a);
    }
    const most = r > g ? (r > b ? r : b) : g > b ? g : b;
    const least = r < g ? (r < b ? r : b) : g < b ? g : b;
    if (most > least) {
      const saturation = (most - least) / most;
      sum += saturation;
      squares += saturation * saturation;
    }
    if (most - least < 12) grey++;
    if (least > 244) white++;
    if (most < 40) dark++;
    counts[((r >> 3) << 10) | ((g >> 3) << 5) | (b >> 3)]!++;
    light[(0.299 * r + 0.587 * g + 0.114 * b) | 0]!++;
  }
  // Sorting numbers without a comparison of one's own is many times faster, and rising.
  const ranked = counts.filter((c) => c > 0).sort();
  const first = (k: number) =>
    share(
      ranked.subarray(-k).reduce((s, c) => s + c, 0),
      n,
    );
  const entropy = light.reduce((s, c) => (c === 0 ? s : s - (c / n) * Math.log2(c / n)), 0);
  return {
    clear: clear / n,
    halfClear: halfClear / n,
    colours: Math.log2(ranked.length),
    coloursPerPixel: ranked.length / n,
    mainColour: first(1),
    twoColours: first(2),
    eightColours: first(8),
    entropy,
    saturation: sum / n,
    saturationSpread: Math.sqrt(Math.max(0, squares / n - (sum / n) ** 2)),
    grey: grey / n,
    white: white / n,
    dark: dark / n,
  };
}

function neighbourFeatures(lum: Float32Array, { width, height }: View) {
  let [even, soft, hard, edges, upright] = [0, 0, 0, 0, 0];
  for (let y = 0; y < height; y++) {
    const inside = y > 0 && y < height - 1;
    for (let i = y * width, last = i + width - 1, first = i; i < last; i++) {
      const here = lum[i]!;
      const next = lum[i + 1]!;
      const step = here > next ? here - next : next - here;
      if (step < EVEN) even++;
      else if (step < SOFT) soft++;
      else if (step > HARD) hard++;
      if (!inside || i === first) continue;
      const dx = next - lum[i - 1]!;
      const dy = lum[i + width]! - lum[i - width]!;
      const square = dx * dx + dy * dy;
      if (square <= EDGE * EDGE) continue;
      edges++;
      const flat = Math.abs(dx);
      const steep = Math.abs(dy);
      // Within 3 degrees of upright or level.
      if (Math.min(flat, steep) < Math.max(flat, steep) * 0.0524) upright++;
    }
  }
  const pairs = Math.max(1, (width - 1) * height);
  return {
    even: even / pairs,
    soft: soft / pairs,
    hard: hard / pairs,
    edges: edges / (width * height),
    upright: share(upright, edges),
  };
}

/** How many rows and columns have an edge that runs on for long, as shares of all. */
function lineFeatures(lum: Float32Array, { width, height }: View) {
  const isLong = (best: number, length: number) => best > length * LONG && best > 20;
  const runs = new Uint16Array(width);
  const best = new Uint16Array(width);
  let [across, down] = [0, 0];
  for (let y = 0; y < height; y++) {
    let [run, most] = [0, 0];
    const row = y * width;
    const isLast = y === height - 1;
    for (let x = 0; x < width; x++) {
      const here = lum[row + x]!;
      if (!isLast && Math.abs(here - lum[row + width + x]!) > LINE) run++;
      else run = 0;
      if (run > most) most = run;
      if (x === width - 1) continue;
      // Columns are followed row by row, in the order of the memory.
      if (Math.abs(here - lum[row + x + 1]!) <= LINE) runs[x] = 0;
      else if (++runs[x]! > best[x]!) best[x] = runs[x]!;
    }
    if (isLong(most, width)) across++;
  }
  for (let x = 0; x < width - 1; x++) if (isLong(best[x]!, height)) down++;
  return { horizontals: across / height, verticals: down / width };
}

/** How much of the picture, cut in 8 × 8 blocks, has something in it. */
function blockFeatures(lum: Float32Array, { width, height }: View) {
  let [busy, contrasty, blocks] = [0, 0, 0];
  for (let by = 0; by < BLOCKS; by++)
    for (let bx = 0; bx < BLOCKS; bx++) {
      const [x0, x1] = [Math.floor((bx * width) / BLOCKS), Math.floor(((bx + 1) * width) / BLOCKS)];
      const [y0, y1] = [Math.floor((by * height) / BLOCKS), Math.floor(((by + 1) * height) / BLOCKS)];
      const n = (x1 - x0) * (y1 - y0);
      if (n === 0) continue;
      let [sum, squares] = [0, 0];
      for (let y = y0; y < y1; y++)
        for (let x = x0; x < x1; x++) {
          const v = lum[y * width + x]!;
          sum += v;
          squares += v * v;
        }
      const spread = Math.sqrt(Math.max(0, squares / n - (sum / n) ** 2));
      blocks++;
      if (spread > 6) busy++;
      if (spread > 25) contrasty++;
    }
  return { busy: share(busy, blocks), contrasty: share(contrasty, blocks) };
}

/** The share of the most frequent colour along the border. */
function borderFeature({ data, width, height }: View): number {
  const counts = new Map<number, number>();
  let n = 0;
  const add = (i: number) => {
    const at = i * 4;
    const key = data[at + 3]! < 13 ? -1 : ((data[at]! >> 4) << 8) | ((data[at + 1]! >> 4) << 4) | (data[at + 2]! >> 4);
    counts.set(key, (counts.get(key) ?? 0) + 1);
    n++;
  };
  for (let x = 0; x < width; x++) {
    add(x);
    add((height - 1) * width + x);
  }
  for (let y = 0; y < height; y++) {
    add(y * width);
    add(y * width + width - 1);
  }
  return Math.max(...counts.values()) / n;
}

/** How well opposite borders fit each other, beside how well neighbours do: near 1 for a tile, 0 for no fit. */
function wrapFeature(lum: Float32Array, { width, height }: View): number {
  if (width < 3 || height < 3) return 0;
  let [seam, inside] = [0, 0];
  for (let y = 0; y < height; y++) {
    const row = y * width;
    seam += Math.abs(lum[row]! - lum[row + width - 1]!) / height;
    inside += Math.abs(lum[row + (width >> 1)]! - lum[row + (width >> 1) + 1]!) / height;
  }
  for (let x = 0; x < width; x++) {
    seam += Math.abs(lum[x]! - lum[(height - 1) * width + x]!) / width;
    inside += Math.abs(lum[(height >> 1) * width + x]! - lum[((height >> 1) + 1) * width + x]!) / width;
  }
  return inside < 0.5 ? 0 : Math.min(1, inside / Math.max(seam, 0.001));
}

/** How often rows with much in them take turns with even ones, as lines of text do; per 100 rows. */
function rowFeature(lum: Float32Array, { width, height }: View): number {
  let turns = 0;
  let full = false;
  for (let y = 0; y < height; y++) {
    let steps = 0;
    for (let x = 0; x < width - 1; x++) if (Math.abs(lum[y * width + x]! - lum[y * width + x + 1]!) > EDGE) steps++;
    const now = steps > width * 0.04;
    if (now !== full) turns++;
    full = now;
  }
  return (turns / height) * 100;
}
