const toLinear = (v: number) => (v <= 10.31475 ? v / 3294.6 : ((v / 255 + 0.055) / 1.055) ** 2.4);
/** Of whole bytes, which most colours are made of. */
const LINEAR = Float64Array.from({ length: 256 }, (_, v) => toLinear(v));
const linear = (v: number) => LINEAR[v] ?? toLinear(v);

/** OKLCH of an sRGB colour: lightness 0 to 1, chroma, hue in degrees (Ottosson's OKLab, CSS Color 4). */
export function oklch(r: number, g: number, b: number): { l: number; c: number; h: number } {
  const [lr, lg, lb] = [linear(r), linear(g), linear(b)];
  const l = Math.cbrt(0.4122214708 * lr + 0.5363325363 * lg + 0.0514459929 * lb);
  const m = Math.cbrt(0.2119034982 * lr + 0.6806995451 * lg + 0.1073969566 * lb);
  const s = Math.cbrt(0.0883024619 * lr + 0.2817188376 * lg + 0.6299787005 * lb);
  const a = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
  const bb = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
  return {
    l: 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    c: Math.hypot(a, bb),
    h: (Math.atan2(bb, a) * 180) / Math.PI + (bb < 0 ? 360 : 0),
  };
}

/** Hues at which the names of full colours meet, in OKLCH degrees (our own setting, by eye). */
const HUES: [below: number, name: string][] = [
  [15, 'pink'],
  [45, 'red'],
  [75, 'orange'],
  [115, 'yellow'],
  [165, 'green'],
  [215, 'blue-green'],
  [275, 'blue'],
  [340, 'purple'],
  [360, 'pink'],
];

/** The basic word for a colour. */
export function colourName(r: number, g: number, b: number): string {
  const { l, c, h } = oklch(r, g, b);
  if (c < 0.03) return l > 0.93 ? 'white' : l < 0.25 ? 'black' : 'grey';
  if (l < 0.2) return 'black';
  const hue = HUES.find(([below]) => h < below)![1];
  if (hue === 'orange' && l < 0.6) return 'brown';
  if (c < 0.06 && hue === 'blue') return 'grey-blue';
  return hue;
}

/**
 * Colours in plain words, in order of weight: those that cover at least a tenth of what is not transparent.
 *
 * @param pixels RGBA, four bytes a pixel
 */
export function coloursOf(pixels: Uint8Array, most = 3): string[] {
  const weights = new Map<string, number>();
  let total = 0;
  for (let i = 0; i + 3 < pixels.length; i += 4) {
    const alpha = pixels[i + 3]! / 255;
    if (alpha < 0.1) continue;
    const name = colourName(pixels[i]!, pixels[i + 1]!, pixels[i + 2]!);
    weights.set(name, (weights.get(name) ?? 0) + alpha);
    total += alpha;
  }
  return [...weights]
    .filter(([, weight]) => weight >= total / 10)
    .sort((a, b) => b[1] - a[1])
    .slice(0, most)
    .map(([name]) => name);
}
