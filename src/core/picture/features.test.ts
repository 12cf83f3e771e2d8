import { featuresOf, type View } from './features';
import { kindOf } from './kind';

/** Pixels from rows of colours, one letter each. */
const COLOURS: Record<string, [number, number, number, number]> = {
  w: [255, 255, 255, 255],
  k: [0, 0, 0, 255],
  r: [255, 0, 0, 255],
  g: [128, 128, 128, 255],
  _: [0, 0, 0, 0],
  h: [0, 0, 0, 128],
};
const view = (rows: string[]): View => ({
  data: Uint8Array.from(rows.flatMap((row) => [...row].flatMap((c) => COLOURS[c]!))),
  width: rows[0]!.length,
  height: rows.length,
});
const measure = (rows: string[]) =>
  featuresOf(view(rows), { width: rows[0]!.length, height: rows.length, type: 'image/png' });
const times = (n: number, row: string) => Array.from({ length: n }, () => row);

// Expected values are counted by hand from the drawings.
test('shares of colours are counted over runs and single pixels alike', () => {
  const runs = measure(['wwwwrrrr', 'wwwwrrrr']);
  const single = measure(['wrwrwrwr', 'rwrwrwrw']);
  for (const f of [runs, single]) {
    expect(f).toMatchObject({ colours: 1, mainColour: 0.5, twoColours: 1, white: 0.5, grey: 0.5, dark: 0 });
    expect(f.saturation).toBeCloseTo(0.5, 10);
    expect(f.saturationSpread).toBeCloseTo(0.5, 10);
    expect(f.entropy).toBeCloseTo(1, 10);
    expect(f.coloursPerPixel).toBeCloseTo(2 / 16, 10);
  }
  expect(runs.even).toBeCloseTo(12 / 14, 10);
  expect(single.even).toBe(0);
  expect(single.hard).toBe(1);
});

test('a run ends where anything changes, transparency too, and goes on over the end of a row', () => {
  expect(measure(['kk_k', 'kkkk'])).toMatchObject({ clear: 1 / 8, halfClear: 0, mainColour: 7 / 8 });
  expect(measure(['kkhh', 'hhkk'])).toMatchObject({ clear: 0, halfClear: 0.5, mainColour: 0.5 });
  expect(measure(['wwww', 'wwww'])).toMatchObject({ mainColour: 1, even: 1, entropy: 0, white: 1 });
});

test('what is transparent counts as white', () => {
  expect(measure(['____', '____'])).toMatchObject({ clear: 1, white: 1, even: 1, dark: 0 });
});

test('lines are reported by how far they run, across and down', () => {
  const across = measure([...times(20, 'w'.repeat(60)), ...times(20, 'k'.repeat(60))]);
  expect(across.horizontals).toBeCloseTo(1 / 40, 10);
  expect(across.verticals).toBe(0);
  const down = measure(times(60, 'w'.repeat(20) + 'k'.repeat(20)));
  expect(down.verticals).toBeCloseTo(1 / 40, 10);
  expect(down.horizontals).toBe(0);
  // Twenty pixels are no line, however small the picture is.
  expect(measure(times(20, 'wwwkkk')).verticals).toBe(0);
});

test('edges have a direction', () => {
  const upright = measure(times(10, 'wwwwwkkkkk'));
  // Both pixels at the seam, in the eight rows that have neighbours on all sides.
  expect(upright.edges).toBeCloseTo(16 / 100, 10);
  expect(upright.upright).toBe(1);
  const slanted = measure(Array.from({ length: 10 }, (_, y) => 'w'.repeat(y + 1) + 'k'.repeat(9 - y)));
  expect(slanted.edges).toBeGreaterThan(0);
  expect(slanted.upright).toBe(0);
});

test('rows with much in them take turns with even ones, as lines of text do', () => {
  const text = measure([
    ...times(2, 'wwwwwwwwww'),
    ...times(2, 'wkwkwkwkwk'),
    ...times(2, 'wwwwwwwwww'),
    'wkwkwkwkwk',
    'wwwwwwwwww',
  ]);
  expect(text.rows).toBeCloseTo((4 / 8) * 100, 10);
  expect(measure(times(8, 'wwwwwwwwww')).rows).toBe(0);
});

test('a tile fits itself, a ramp does not', () => {
  const tile = measure(times(8, 'wgkgwgkg'));
  const ramp = measure(times(8, 'wwwwggkk'));
  expect(tile.wraps).toBeGreaterThan(ramp.wraps);
});

test('a picture of one pixel has measures too', () => {
  for (const value of Object.values(measure(['r']))) expect(Number.isFinite(value)).toBe(true);
});

/** A wall of many shades with soft edges, as a photograph has, and a window of a program, both in one tone. */
test('a picture of one tone and of many soft shades is a photo, and a window in grey is none', () => {
  const side = 96;
  const shades: View = { data: new Uint8Array(side * side * 4), width: side, height: side };
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const shade = 128 + 50 * Math.sin(x / 9) + 40 * Math.sin((y + x / 3) / 13) + ((x * 37 + y * 91) % 11);
      shades.data.set([shade, shade * 0.82, shade * 0.6, 255], 4 * (y * side + x));
    }
  const photo = kindOf(featuresOf(shades, { width: 960, height: 960, type: 'image/jpeg' }));
  expect([photo.kind, photo.sure]).toEqual(['photo', 0.7]);
  const window = times(96, 'w'.repeat(96)).map((row, y) => (y % 12 === 0 ? 'k'.repeat(96) : row));
  expect(kindOf(measure(window)).kind).not.toBe('photo');
});
