import { readFileSync } from 'node:fs';

/**
 * Every pair of a text colour and a ground that the style sheet makes, in both themes, against WCAG 2.2: 1.4.3 Contrast
 * (Minimum) for text, 1.4.11 Non-text Contrast for the focus. Relative luminance and ratio as defined there.
 */
const css = readFileSync('src/app/globals.css', 'utf8');
type Rgb = [number, number, number];

function colours(block: string): Record<string, Rgb> {
  const found = [...block.matchAll(/--([\w-]+): #([0-9a-f]{6});/g)];
  return Object.fromEntries(
    found.map(([, name, hex]) => [name, [0, 2, 4].map((i) => Number.parseInt(hex!.slice(i, i + 2), 16)) as Rgb]),
  );
}
const light = colours(/:root \{[^}]*\}/.exec(css)![0]);
const dark = { ...light, ...colours(/prefers-color-scheme: dark\) \{\s*:root \{[^}]*\}/.exec(css)![0]) };

const luminance = (rgb: Rgb): number => {
  const [r, g, b] = rgb.map((c) => {
    const s = c / 255;
    return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4;
  }) as Rgb;
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
};
const contrast = (a: Rgb, b: Rgb): number => {
  const [darker, lighter] = [luminance(a), luminance(b)].sort((x, y) => x - y);
  return (lighter! + 0.05) / (darker! + 0.05);
};
/** As `color-mix(in srgb, a share, b)` gives it. */
const mixed = (a: Rgb, share: number, b: Rgb): Rgb => a.map((c, i) => c * share + b[i]! * (1 - share)) as Rgb;

test('the measure is that of the standard', () => {
  expect(contrast([0, 0, 0], [255, 255, 255])).toBe(21);
  // The example that is known from the techniques: #767676 on white is the lightest grey that passes.
  expect(contrast([0x76, 0x76, 0x76], [255, 255, 255])).toBeGreaterThanOrEqual(4.5);
  expect(contrast([0x77, 0x77, 0x77], [255, 255, 255])).toBeLessThan(4.5);
});

describe.each([
  ['light', light],
  ['dark', dark],
] as const)('%s', (_, theme) => {
  const of = (name: string): Rgb => theme[name]!;
  const grounds: [string, Rgb][] = [
    ...['paper', 'sheet', 'wash'].map((name): [string, Rgb] => [name, of(name)]),
    ['the current line', mixed(of('wash'), 0.55, of('sheet'))],
  ];

  test.each(['ink', 'ink-2', 'fails', 'look', 'polish', 'said', 'key'])('%s is read on every ground', (name) => {
    for (const [ground, colour] of grounds) expect([ground, contrast(of(name), colour) >= 4.5]).toEqual([ground, true]);
  });

  test('a button is read on its ground, what was changed in a line on its tint', () => {
    expect(contrast(of('sheet'), of('ink'))).toBeGreaterThanOrEqual(4.5);
    for (const name of ['fails', 'said'])
      expect(contrast(of(name), mixed(of(name), 0.1, of('sheet')))).toBeGreaterThanOrEqual(4.5);
  });

  test('the focus and the fields are seen on every ground', () => {
    for (const [, colour] of grounds)
      for (const name of ['key', 'ink']) expect(contrast(of(name), colour)).toBeGreaterThanOrEqual(3);
  });
});
