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
  const { lum, ...colours } = colourFeatures(view);
  const aspect = Math.log2(shape.width / shape.height);
  return {
    area: Math.log2(shape.width * shape.height + 1),
    shortSide: Math.log2(Math.min(shape.width, shape.height) + 1),
    aspect,
    elongation: Math.abs(aspect),
    square: shape.width === shape.height ? 1 : 0,
    ...colours,
    ...neighbourFeatures(lum, view),
    ...blockFeatures(lum, view),
    border: borderFeature(view),
    wraps: wrapFeature(lum, view),
    jpeg: shape.type === 'image/jpeg' ? 1 : 0,
    vector: shape.type === 'image/svg+xml' ? 1 : 0,
  };
}

/** One channel of a pixel laid on white. */
const onWhite = (value: number, alpha: number) => value * alpha + 255 * (1 - alpha);

/** Shares of colours; and the luminance of each pixel on white, which all other measures are taken from. */
function colourFeatures({ data, width, height }: View) {
  const n = width * height;
  const lum = new Float32Array(n);
  const counts = new Uint32Array(1 << 15);
  const used: number[] = [];
  const light = new Uint32Array(256);
  let [clear, halfClear, grey, white, dark, sum, squares] = [0, 0, 0, 0, 0, 0, 0];
  // Drawings and screenshots have long runs of one colour, which is looked at once for each.
  for (let from = 0, to = 0; from < n; from = to) {
    const at = from * 4;
    let r = data[at]!;
    let g = data[at + 1]!;
    let b = data[at + 2]!;
    const alpha = data[at + 3]!;
    for (to = from + 1; to < n; to++) {
      const next = to * 4;
      if (data[next] !== r || data[next + 1] !== g || data[next + 2] !== b || data[next + 3] !== alpha) break;
    }
    const run = to - from;
    let luminance = 0.299 * r + 0.587 * g + 0.114 * b;
    if (alpha !== 255) {
      const a = alpha / 255;
      if (a < 0.05) clear += run;
      else if (a < 0.95) halfClear += run;
      r = onWhite(r, a);
      g = onWhite(g, a);
      b = onWhite(b, a);
      luminance = onWhite(luminance, a);
    }
    if (run === 1) lum[from] = luminance;
    else lum.fill(luminance, from, to);
    const most = r > g ? (r > b ? r : b) : g > b ? g : b;
    const least = r < g ? (r < b ? r : b) : g < b ? g : b;
    if (most > least) {
      const saturation = (most - least) / most;
      sum += run * saturation;
      squares += run * saturation * saturation;
    }
    if (most - least < 12) grey += run;
    if (least > 244) white += run;
    if (most < 40) dark += run;
    const bin = ((r >> 3) << 10) | ((g >> 3) << 5) | (b >> 3);
    if (counts[bin] === 0) used.push(bin);
    counts[bin]! += run;
    light[(0.299 * r + 0.587 * g + 0.114 * b) | 0]! += run;
  }
  // Sorting numbers without a comparison of one's own is many times faster, and rising.
  const ranked = Uint32Array.from(used, (bin) => counts[bin]!).sort();
  const first = (k: number) =>
    share(
      ranked.subarray(-k).reduce((s, c) => s + c, 0),
      n,
    );
  const entropy = light.reduce((s, c) => (c === 0 ? s : s - (c / n) * Math.log2(c / n)), 0);
  return {
    lum,
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

/**
 * How pixels differ from those beside and below them: how even it is, its edges and their direction, how many rows and
 * columns have an edge that runs on for long (shares of all), and how often rows with much in them take turns with even
 * ones, as lines of text do (per 100 rows). All in one way through it, which costs less than it is long.
 */
function neighbourFeatures(lum: Float32Array, { width, height }: View) {
  const isLong = (best: number, length: number) => best > length * LONG && best > 20;
  // Columns are followed row by row, in the order of the memory.
  const runs = new Uint16Array(width);
  const best = new Uint16Array(width);
  let [even, soft, hard, edges, upright, across, down, turns] = [0, 0, 0, 0, 0, 0, 0, 0];
  let full = false;
  for (let y = 0; y < height; y++) {
    const above = y > 0 ? -width : 0;
    const below = y < height - 1 ? width : 0;
    const inside = above !== 0 && below !== 0;
    const row = y * width;
    let [run, longest, steps, before] = [0, 0, 0, lum[row]!];
    for (let x = 0; x < width; x++) {
      const i = row + x;
      const here = lum[i]!;
      const under = lum[i + below]!;
      const drop = here > under ? here - under : under - here;
      if (drop <= LINE) run = 0;
      else if (++run > longest) longest = run;
      if (x === width - 1) break;
      const next = lum[i + 1]!;
      const step = here > next ? here - next : next - here;
      if (step < EVEN) even++;
      else if (step < SOFT) soft++;
      else if (step > HARD) hard++;
      if (step <= LINE) runs[x] = 0;
      else {
        if (step > EDGE) steps++;
        if (++runs[x]! > best[x]!) best[x] = runs[x]!;
      }
      const dx = next - before;
      before = here;
      if (!inside || x === 0) continue;
      const dy = under - lum[i + above]!;
      if (dx * dx + dy * dy <= EDGE * EDGE) continue;
      edges++;
      const flat = dx < 0 ? -dx : dx;
      const steep = dy < 0 ? -dy : dy;
      // Within 3 degrees of upright or level.
      if (flat < steep ? flat < steep * 0.0524 : steep < flat * 0.0524) upright++;
    }
    if (isLong(longest, width)) across++;
    const now = steps > width * 0.04;
    if (now !== full) turns++;
    full = now;
  }
  for (let x = 0; x < width - 1; x++) if (isLong(best[x]!, height)) down++;
  const pairs = Math.max(1, (width - 1) * height);
  return {
    even: even / pairs,
    soft: soft / pairs,
    hard: hard / pairs,
    edges: edges / (width * height),
    upright: share(upright, edges),
    horizontals: across / height,
    verticals: down / width,
    rows: (turns / height) * 100,
  };
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
