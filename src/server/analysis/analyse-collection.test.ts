import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { jest } from '@jest/globals';
import sharp from 'sharp';
import type { MetadataField } from '@/core/picture/metadata';
import { textOf } from '@/core/picture/recognised';
import { Recogniser, ReaderPool } from '../workers/reader-pool';

jest.setTimeout(240_000);

/** ExifTool, a general-purpose reference for metadata: it writes the files, and says what it reads in them itself. */
const EXIFTOOL = path.join(
  path.dirname(createRequire(import.meta.url).resolve('exiftool-vendored.pl')),
  'bin',
  'exiftool',
);

function exiftool(...args: string[]): string {
  const { stdout, stderr, status } = spawnSync('perl', [EXIFTOOL, ...args], { encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
  return stdout;
}

let folder: string;
const pool = new ReaderPool(1);
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'detto-metadata-'));
});
afterAll(() => {
  rmSync(folder, { recursive: true, force: true });
  pool.close();
});

const plain = () => sharp({ create: { width: 60, height: 40, channels: 3, background: '#35607a' } });

const XMP = {
  title: 'XMP-dc:Title',
  description: 'XMP-dc:Description',
  creator: 'XMP-dc:Creator',
  credit: 'XMP-photoshop:Credit',
  copyright: 'XMP-dc:Rights',
  licence: 'XMP-xmpRights:UsageTerms',
  statement: 'XMP-xmpRights:WebStatement',
  alt: 'XMP-iptcCore:AltTextAccessibility',
  extended: 'XMP-iptcCore:ExtDescrAccessibility',
} satisfies Partial<Record<MetadataField, string>>;
const IPTC = {
  title: 'IPTC:ObjectName',
  description: 'IPTC:Caption-Abstract',
  creator: 'IPTC:By-line',
  credit: 'IPTC:Credit',
  copyright: 'IPTC:CopyrightNotice',
} satisfies Partial<Record<MetadataField, string>>;
const EXIF = {
  description: 'EXIF:ImageDescription',
  creator: 'EXIF:Artist',
  copyright: 'EXIF:Copyright',
} satisfies Partial<Record<MetadataField, string>>;
const PNG = {
  title: 'PNG:Title',
  description: 'PNG:Description',
  creator: 'PNG:Author',
  copyright: 'PNG:Copyright',
} satisfies Partial<Record<MetadataField, string>>;

// IPTC Photo Metadata Standard 2021.1 by XMP and by IIM, EXIF 2.32, PNG 11.3.3.
test.each([
  ['jpg', 'XMP', XMP],
  ['png', 'XMP', XMP],
  ['webp', 'XMP', XMP],
  ['tif', 'XMP', XMP],
  ['jpg', 'IPTC', IPTC],
  ['tif', 'IPTC', IPTC],
  ['jpg', 'EXIF', EXIF],
  ['webp', 'EXIF', EXIF],
  ['png', 'PNG', PNG],
] as const)('what a %s says by %s is what ExifTool reads in it', async (format, by, fields) => {
  const file = path.join(folder, `${by}.${format}`);
  const bytes = await plain()
    .toFormat(format === 'tif' ? 'tiff' : format === 'jpg' ? 'jpeg' : format)
    .toBuffer();
  writeFileSync(file, bytes);
  const own = Object.entries(fields).map(([field, tag]) => [field, tag, `${field}: Fähre “${by}” <&>`] as const);
  exiftool(
    '-q',
    '-overwrite_original',
    '-codedcharacterset=utf8',
    ...own.map(([, tag, text]) => `-${tag}=${text}`),
    file,
  );
  const read = JSON.parse(exiftool('-j', '-G1', ...own.map(([, tag]) => `-${tag}`), file)) as [Record<string, string>];
  const theirs = Object.values(read[0]).slice(1).sort();
  const { details } = await pool.look(readFileSync(file));
  const ours = Object.entries(details!.metadata).filter(([field]) => field in fields);
  expect(ours.map(([, said]) => said.text).sort()).toEqual(theirs);
  expect(new Set(ours.map(([, said]) => said.by))).toEqual(new Set([by]));
  for (const [field, , text] of own) expect(details!.metadata[field as MetadataField]?.text).toBe(text);
});

test('when and where a photo was taken is what ExifTool wrote', async () => {
  const file = path.join(folder, 'taken.jpg');
  writeFileSync(file, await plain().jpeg().toBuffer());
  exiftool(
    ...[
      '-q',
      '-overwrite_original',
      '-EXIF:DateTimeOriginal=2024:05:14 09:12:30',
      '-GPSLatitude=60.15',
      '-GPSLatitudeRef=N',
    ],
    ...['-GPSLongitude=1.25', '-GPSLongitudeRef=W', file],
  );
  const { details } = await pool.look(readFileSync(file));
  expect(details!.metadata.taken).toEqual({ text: '2024-05-14 09:12', by: 'EXIF' });
  expect(details!.metadata.place).toEqual({ text: '60.15000, -1.25000', by: 'EXIF' });
});

test('of several languages the default is read, of several creators all; XMP goes before EXIF', async () => {
  const file = path.join(folder, 'many.jpg');
  writeFileSync(file, await plain().jpeg().toBuffer());
  exiftool(
    ...['-q', '-overwrite_original', '-XMP-dc:Description-de=Zwei Papageitaucher', '-XMP-dc:Description=Two puffins'],
    ...['-XMP-dc:Creator=Ann', '-XMP-dc:Creator=Bo', '-EXIF:ImageDescription=SONY DSC', file],
  );
  const { details } = await pool.look(readFileSync(file));
  expect(details!.metadata.description).toEqual({ text: 'Two puffins', by: 'XMP' });
  expect(details!.metadata.creator!.text).toBe('Ann, Bo');
});

test('an SVG says its title, its description and what its RDF says; entities are not expanded', async () => {
  const svg = (doctype: string, title: string) =>
    Buffer.from(
      `${doctype}<svg xmlns="http://www.w3.org/2000/svg" width="60" height="40"><title>${title}</title><desc>Seen from the quay</desc><metadata><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:cc="http://creativecommons.org/ns#"><cc:Work rdf:about=""><cc:license rdf:resource="http://creativecommons.org/licenses/by/4.0/"/></cc:Work></rdf:RDF></metadata><rect width="60" height="20"/><g><title>A part</title></g></svg>`,
    );
  const { details } = await pool.look(svg('', 'The ferry'));
  expect(details!.metadata).toEqual({
    title: { text: 'The ferry', by: 'SVG' },
    description: { text: 'Seen from the quay', by: 'SVG' },
    licence: { text: 'http://creativecommons.org/licenses/by/4.0/', by: 'XMP' },
  });
  const bomb = await pool.look(svg('<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;&a;">]>', '&b;'));
  expect(bomb.details?.metadata.title?.text ?? '').not.toContain('aaaa');
});

test('a damaged file says nothing, and does no harm', async () => {
  const jpeg = await plain().jpeg().toBuffer();
  const broken = Buffer.concat([
    jpeg.subarray(0, 2),
    Buffer.from([0xff, 0xe1, 0x00, 0x12]),
    Buffer.from('Exif\0\0MM\0*\xff\xff\xff\xff', 'latin1'),
    jpeg.subarray(2),
  ]);
  expect((await pool.look(broken)).details?.metadata ?? {}).toEqual({});
});

test('a heavy picture has a copy as WebP that decodes to the same size', async () => {
  const noise = await sharp({
    create: {
      width: 400,
      height: 300,
      channels: 3,
      background: '#888',
      noise: { type: 'gaussian', mean: 128, sigma: 60 },
    },
  })
    .png()
    .toBuffer();
  const { lighter } = await pool.look(noise);
  const copy = await pool.lighter(noise);
  expect(copy.length).toBe(lighter);
  expect(copy.length).toBeLessThan(noise.length);
  expect(await sharp(copy).metadata()).toMatchObject({ format: 'webp', width: 400, height: 300 });
});

/** Levenshtein distance, for the character error rate that text recognition is measured by. */
function distance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next.push(Math.min(next[j - 1]! + 1, row[j]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1)));
    row = next;
  }
  return row[b.length]!;
}

test('rendered text of known content is recognised, in its languages, with boxes where it stands', async () => {
  const recogniser = new Recogniser();
  try {
    const lines = ['Winter sailings to Holm', 'Fähre täglich außer Montag', 'Day ticket £12'];
    const text = lines
      .map((l, i) => `<text x="30" y="${60 + i * 60}" font-size="34" font-family="DejaVu Sans, sans-serif">${l}</text>`)
      .join('');
    const bytes = await sharp(
      Buffer.from(
        `<svg xmlns="http://www.w3.org/2000/svg" width="620" height="240"><rect width="620" height="240" fill="#fff"/>${text}</svg>`,
      ),
    )
      .png()
      .toBuffer();
    const recognition = await recogniser.recognise({ bytes, languages: ['de', 'en'], photo: false, things: false });
    const read = textOf(recognition.lines, false);
    expect(distance(read, lines.join('\n')) / lines.join('\n').length).toBeLessThan(0.05);
    expect(recognition.lines).toHaveLength(3);
    expect(recognition.lines[1]!.box.y).toBeGreaterThan(0.25);
    expect(recognition.lines[1]!.box.y).toBeLessThan(0.55);
  } finally {
    recogniser.close();
  }
});

test('nothing is seen in an even picture', async () => {
  const recogniser = new Recogniser();
  try {
    const bytes = await plain().resize(300, 200).jpeg().toBuffer();
    expect(await recogniser.recognise({ bytes, languages: ['en'], photo: true, things: true })).toEqual({
      languages: ['en'],
      lines: [],
      things: [],
      faces: 0,
    });
  } finally {
    recogniser.close();
  }
});
