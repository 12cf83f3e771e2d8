import { jest } from '@jest/globals';

/** How often a page is parsed while words are put into it: what costs most of a delivery is counted, not timed. */
const real = await import('./parse');
let parses = 0;
jest.unstable_mockModule('./parse', () => ({
  ...real,
  parseHtml: (source: string) => {
    parses++;
    return real.parseHtml(source);
  },
}));
const { writeProved } = await import('../write-proved');
const { html } = await import('./index');

const PAGE = '<!doctype html><html lang="de"><title>Fähre</title><p>Größe <img src="a.png"> und <img src="b.png">';
const count = async (bytes: Buffer, ...edits: Parameters<typeof writeProved>[2]) => {
  parses = 0;
  const { changes, refusals } = await writeProved(html, bytes, edits);
  expect([changes.length, refusals.length]).toEqual([edits.length, 0]);
  return parses;
};

test('alt texts cost two: the page as it was, and the proof', async () => {
  const edits = [0, 1].map((order) => ({ order, text: 'Das Schiff' }));
  expect(await count(Buffer.from(PAGE), ...edits)).toBe(2);
  expect(await count(Buffer.from(`\ufeff${PAGE}`), ...edits)).toBe(2);
  expect(await count(Buffer.from(PAGE, 'latin1'), ...edits)).toBe(2);
});

test('titles and what is put beside a picture are proved by the same reading', async () => {
  expect(await count(Buffer.from(PAGE), { order: 0, text: 'Das Schiff', title: 'Schiff' })).toBe(2);
});

test('bytes that are not what they say they are cost one more', async () => {
  const broken = Buffer.concat([Buffer.from('<meta charset=utf-8>\xff', 'latin1'), Buffer.from(PAGE)]);
  expect(await count(broken, { order: 0, text: 'Das Schiff' })).toBe(3);
});
