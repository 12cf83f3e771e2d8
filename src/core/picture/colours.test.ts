import { colourName, coloursOf, oklch } from './colours';

/** CSS Color 4: sRGB colours and their OKLCH values as the specification's examples and named colours have them (from memory). */
test.each([
  ['white', [255, 255, 255], 1, 0, null],
  ['black', [0, 0, 0], 0, 0, null],
  ['red', [255, 0, 0], 0.62796, 0.25768, 29.234],
  ['lime', [0, 255, 0], 0.86644, 0.29483, 142.495],
  ['blue', [0, 0, 255], 0.45201, 0.31321, 264.052],
  ['green', [0, 128, 0], 0.51975, 0.17686, 142.495],
  ['rebeccapurple', [102, 51, 153], 0.44027, 0.1603, 303.373],
] as const)('%s in OKLCH', (_, [r, g, b], l, c, h) => {
  const own = oklch(r, g, b);
  expect(own.l).toBeCloseTo(l, 3);
  expect(own.c).toBeCloseTo(c, 3);
  if (h !== null) expect(own.h).toBeCloseTo(h, 0);
});

/** Names of CSS colours, of which the basic word is part, or common usage (common practice). */
test.each([
  ['white', 255, 255, 255],
  ['black', 0, 0, 0],
  ['grey', 128, 128, 128],
  ['grey', 192, 192, 192],
  ['red', 220, 20, 60],
  ['red', 220, 20, 30],
  ['red', 178, 34, 34],
  ['orange', 255, 140, 0],
  ['yellow', 255, 255, 0],
  ['yellow', 255, 215, 0],
  ['green', 34, 139, 34],
  ['green', 154, 205, 50],
  ['yellow', 250, 220, 0],
  ['blue', 30, 80, 200],
  ['blue', 65, 105, 225],
  ['blue', 30, 144, 255],
  ['purple', 128, 0, 128],
  ['pink', 255, 105, 180],
  ['brown', 139, 69, 19],
  ['brown', 120, 70, 20],
  ['blue-green', 0, 128, 128],
])('%s is rgb(%i, %i, %i)', (name, r, g, b) => expect(colourName(r, g, b)).toBe(name));

describe('the colours of a picture', () => {
  const pixels = (...runs: [count: number, r: number, g: number, b: number, a?: number][]) =>
    Uint8Array.from(runs.flatMap(([n, r, g, b, a = 255]) => Array.from({ length: n }, () => [r, g, b, a]).flat()));
  const [RED, BLUE, WHITE] = [
    [220, 20, 60],
    [65, 105, 225],
    [255, 255, 255],
  ] as const;

  test('by weight, from a tenth on', () => {
    expect(coloursOf(pixels([5, ...BLUE], [80, ...WHITE], [15, ...RED]))).toEqual(['white', 'red']);
    expect(coloursOf(pixels([10, ...BLUE], [75, ...WHITE], [15, ...RED]))).toEqual(['white', 'red', 'blue']);
    expect(coloursOf(pixels([10, ...BLUE], [75, ...WHITE], [15, ...RED]), 1)).toEqual(['white']);
  });

  test('what is transparent has none, and what is half so counts half', () => {
    expect(coloursOf(pixels([90, ...WHITE, 0], [10, ...RED]))).toEqual(['red']);
    expect(coloursOf(pixels([60, ...BLUE, 120], [40, ...RED]))).toEqual(['red', 'blue']);
    expect(coloursOf(pixels([100, ...WHITE, 0]))).toEqual([]);
    expect(coloursOf(new Uint8Array())).toEqual([]);
  });
});
