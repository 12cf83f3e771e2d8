import { strings } from '../../ui/strings';
import { differences, type Distinct } from './differences';
import type { Thing } from './recognised';

const fields = (...changed: [at: number, lightness: number][]) => {
  const all = Array.from({ length: 16 }, () => [128, 128, 128]);
  for (const [at, lightness] of changed) all[at] = [lightness, 128, 128];
  return all
    .flat()
    .map((byte) => byte.toString(16).padStart(2, '0'))
    .join('');
};
const fingerprint = (own = fields()) => ({ waves: '0'.repeat(16), blocks: '0'.repeat(16), fields: own, tells: true });
const thing = (name: string): Thing => ({ name, sure: 0.9, box: { x: 0, y: 0, width: 1, height: 1 } });
const recognition = (...names: string[]) => ({ text: '', words: [], things: names.map(thing), faces: [] }) as never;

const OWN: Distinct = {
  width: 400,
  height: 300,
  bytes: 1000,
  colours: ['blue', 'white'],
  fingerprint: fingerprint(),
  recognition: null,
  text: null,
  sha256: 'a',
};
const told = (other: Partial<Distinct>, own: Partial<Distinct> = {}) =>
  differences({ ...OWN, ...own }, { ...OWN, sha256: 'b', ...other }).map(strings.message);

test('one file is reported as such, and two that are alike in all that is measured as nothing', () => {
  expect(told({ sha256: 'a', width: 3 })).toEqual(['the same file']);
  expect(told({})).toEqual([]);
  expect(told({ sha256: null }, { sha256: null })).toEqual([]);
});

test.each([
  [800, 600, '2 times larger'],
  [600, 450, '50 % larger'],
  [200, 150, '2 times smaller'],
  [320, 240, '25 % smaller'],
])('%i × %i beside 400 × 300', (width, height, words) => expect(told({ width, height })).toEqual([words]));

test('a size that is hardly another, or not known, is not told', () => {
  expect(told({ width: 410, height: 305 })).toEqual([]);
  expect(told({ width: null, height: null })).toEqual([]);
});

test('lighter or darker as a whole, else where most is different', () => {
  const whole = (lightness: number) =>
    fields(...Array.from({ length: 16 }, (_, i) => [i, lightness] as [number, number]));
  expect(told({ fingerprint: fingerprint(whole(150)) })).toEqual(['lighter']);
  expect(told({ fingerprint: fingerprint(whole(100)) })).toEqual(['darker']);
  expect(told({ fingerprint: fingerprint(fields([0, 160])) })).toEqual(['different at the top left']);
  expect(told({ fingerprint: fingerprint(fields([6, 160])) })).toEqual(['different in the middle']);
  expect(told({ fingerprint: fingerprint(fields([15, 90])) })).toEqual(['different at the bottom right']);
  expect(told({ fingerprint: fingerprint(fields([14, 90], [15, 110])) })).toEqual(['different at the bottom']);
  expect(told({ fingerprint: fingerprint(fields([5, 131])) })).toEqual([]);
  expect(told({ fingerprint: null })).toEqual([]);
});

test('colours that come and go', () => {
  expect(told({ colours: ['blue', 'red', 'yellow'] })).toEqual(['more red, yellow', 'less white']);
  expect(told({ colours: ['white', 'blue'] })).toEqual([]);
});

test('things by their number, only where both were looked at', () => {
  expect(told({ recognition: recognition('boat', 'boat', 'bird') }, { recognition: recognition('boat') })).toEqual([
    '2 × boat instead of 1',
    'bird instead of none',
  ]);
  expect(told({ recognition: recognition('boat') }, { recognition: null })).toEqual([]);
});

test('the line of text that is new, else that there is less of it', () => {
  expect(told({ text: 'Sailings\nWinter 2026' }, { text: 'Sailings\nSummer 2026' })).toEqual([
    'it contains the text “Winter 2026”',
  ]);
  expect(told({ text: 'Sailings' }, { text: 'Sailings\nSummer 2026' })).toEqual(['it contains less text']);
  expect(told({ text: 'x'.repeat(90) })).toEqual([`it contains the text “${'x'.repeat(40)}”`]);
  expect(told({ text: null }, { text: '' })).toEqual([]);
});
