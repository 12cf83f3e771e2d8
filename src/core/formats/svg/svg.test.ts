import { gzipSync } from 'node:zlib';
import type { DocumentError } from '../document-error';
import { shown, writeTexts } from '../testing/round-trip';
import { svg } from './index';

/** Drawings as documents: names by SVG-AAM 1.0, 5.1. */
const NS = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"';
const write = async (source: string, texts: string[]) =>
  Buffer.from((await writeTexts(svg, Buffer.from(source), texts)).bytes).toString('utf8');

test.each([
  [
    `<svg ${NS}><title>Quay</title><desc>More</desc></svg>`,
    'described “Quay”',
    '<title>New &amp; “new”</title><desc>More</desc>',
  ],
  [`<svg ${NS} aria-label="Label"><title>Quay</title></svg>`, 'described “Label”', 'aria-label="New &amp; “new”"'],
  [
    `<svg ${NS} aria-labelledby="t u"><g id="t">A</g><g id="u">B</g></svg>`,
    'described “A B”',
    'aria-labelledby="t"><g id="t">New &amp; “new”</g>',
  ],
  [`<svg ${NS}><desc>Only more</desc></svg>`, 'described “Only more”', '><title>New &amp; “new”</title><desc>'],
  [`<svg ${NS}/>`, 'missing “”', '><title>New &amp; “new”</title></svg>'],
  [
    `<s:svg xmlns:s="http://www.w3.org/2000/svg"><s:g/></s:svg>`,
    'missing “”',
    '<s:title>New &amp; “new”</s:title><s:g/>',
  ],
])('%s', async (source, state, written) => {
  expect((await shown(svg, Buffer.from(source)))['']).toEqual([`svg: ${state}`]);
  const after = await write(source, ['New & “new”']);
  expect(after).toContain(written);
  expect((await shown(svg, Buffer.from(after)))['']).toEqual(['svg: described “New & “new””']);
});

test('pictures that it shows have words of their own; a drawing itself is not made decorative', async () => {
  const source = `<svg ${NS}><image id="i" xlink:href="a.png"/><image href="b.png"><title>B</title></image></svg>`;
  expect((await shown(svg, Buffer.from(source)))['']).toEqual([
    'svg: missing “”',
    'svg > image i: missing “”',
    'svg > image: described “B”',
  ]);
  const { bytes, refusals } = await writeTexts(svg, Buffer.from(source), ['', 'A']);
  expect(refusals.map((r) => r.reason.id)).toEqual(['refusal.svg-decorative']);
  expect(Buffer.from(bytes).toString()).toContain('<image id="i" xlink:href="a.png"><title>A</title></image>');
});

test('a compressed drawing is read, and not written', async () => {
  const bytes = gzipSync(`<svg ${NS}><title>Quay</title></svg>`);
  expect((await shown(svg, bytes))['']).toEqual(['svg: described “Quay”']);
  const failed = await writeTexts(svg, bytes, ['x']).catch((error: unknown) => error);
  expect((failed as DocumentError).reason.id).toBe('document.svgz');
  const other = await svg.read(Buffer.from('<html/>')).catch((error: unknown) => error);
  expect((other as DocumentError).reason.id).toBe('document.not-svg');
});
