import { deflateRawSync } from 'node:zlib';
import { DocumentError } from '../document-error';
import { zipOf } from '../testing/packages';
import { ZipFile, ZIP_LIMITS } from './zip-file';

/** Packages are read in place and written by replacing entries; what could be an attack is refused (APPNOTE 6.3). */
const reasonOf = (bytes: Buffer, read: string | null = null): Promise<string> =>
  ZipFile.open(bytes).then(
    (zip) => {
      if (read) {
        try {
          zip.read(read);
        } catch (error) {
          return (error as DocumentError).reason.id;
        }
      }
      return 'opened';
    },
    (error: unknown) => (error instanceof DocumentError ? error.reason.id : String(error)),
  );
const FILES = { 'a.xml': '<a/>', 'media/b.bin': Buffer.alloc(3000, 7), 'c.xml': '<c>é</c>' };

/** Where the local header of an entry begins, and the record of the directory. */
const localOf = (bytes: Buffer, name: string) => bytes.indexOf(name) - 30;
const recordOf = (bytes: Buffer, name: string) => bytes.lastIndexOf(name) - 46;

test('nothing changed is the same file; of a changed one, all other bytes stay', async () => {
  const bytes = await zipOf(FILES);
  const zip = await ZipFile.open(bytes);
  expect(zip.withEntries(new Map()).equals(bytes)).toBe(true);
  const after = zip.withEntries(new Map([['a.xml', Buffer.from('<a>longer than before</a>')]]));
  const again = await ZipFile.open(after);
  expect(again.names).toEqual(zip.names);
  expect(again.read('a.xml').toString()).toBe('<a>longer than before</a>');
  // Local header and data of the others, byte for byte.
  for (const name of ['media/b.bin', 'c.xml']) {
    const next = name === 'media/b.bin' ? localOf(bytes, 'c.xml') : bytes.indexOf('PK\u0001\u0002');
    const whole = bytes.subarray(localOf(bytes, name), next);
    expect(after.includes(whole)).toBe(true);
  }
});

test('a file before the first entry and a comment behind the last stay', async () => {
  const plain = await zipOf(FILES);
  const comment = Buffer.from('made at the quay');
  const bytes = Buffer.concat([plain, comment]);
  bytes.writeUInt16LE(comment.length, plain.length - 2);
  const after = (await ZipFile.open(bytes)).withEntries(new Map([['c.xml', Buffer.from('<c/>')]]));
  expect(after.subarray(-comment.length).equals(comment)).toBe(true);
  expect((await ZipFile.open(after)).read('c.xml').toString()).toBe('<c/>');
});

test.each<[string, (bytes: Buffer) => Buffer, string, string | null]>([
  ['cut off', (b) => b.subarray(0, b.length - 30), 'document.damaged', null],
  ['no ZIP', () => Buffer.from('hello'), 'document.damaged', null],
  ['encrypted', (b) => (b.writeUInt16LE(1, recordOf(b, 'a.xml') + 8), b), 'document.encrypted', null],
  ['a wrong checksum', (b) => (b.writeUInt32LE(1, recordOf(b, 'a.xml') + 16), b), 'document.damaged-part', 'a.xml'],
  ['a size that is a lie', (b) => (b.writeUInt32LE(9, recordOf(b, 'a.xml') + 24), b), 'document.damaged-part', 'a.xml'],
  [
    'more than it says',
    (b) => (b.writeUInt32LE(2, recordOf(b, 'media/b.bin') + 24), b),
    'document.damaged-part',
    'media/b.bin',
  ],
  ['another method', (b) => (b.writeUInt16LE(12, recordOf(b, 'a.xml') + 10), b), 'document.method', 'a.xml'],
  [
    'entries that share bytes',
    (b) => (b.writeUInt32LE(localOf(b, 'a.xml'), recordOf(b, 'c.xml') + 42), b),
    'document.damaged',
    null,
  ],
  [
    'a huge entry',
    (b) => (b.writeUInt32LE(ZIP_LIMITS.entry + 1, recordOf(b, 'a.xml') + 24), b),
    'document.unpacked',
    null,
  ],
  ['a bomb', (b) => (b.writeUInt32LE(200_000_000, recordOf(b, 'a.xml') + 24), b), 'document.ratio', null],
  [
    'a name that climbs',
    (b) => Buffer.from(b.toString('latin1').replaceAll('a.xml', '../.x'), 'latin1'),
    'document.unsafe-name',
    null,
  ],
  [
    'an absolute name',
    (b) => Buffer.from(b.toString('latin1').replaceAll('a.xml', '/etc/'), 'latin1'),
    'document.unsafe-name',
    null,
  ],
  [
    'one name twice',
    (b) => Buffer.from(b.toString('latin1').replaceAll('c.xml', 'a.xml'), 'latin1'),
    'document.damaged',
    null,
  ],
])('%s is refused', async (_, broken, reason, read) => {
  expect(await reasonOf(broken(Buffer.from(await zipOf(FILES))), read)).toBe(reason);
});

test('an entry that unpacks without end is cut off at its stated size', async () => {
  const bytes = await zipOf({ 'big.bin': Buffer.alloc(500_000) });
  bytes.writeUInt32LE(1000, recordOf(bytes, 'big.bin') + 24);
  expect(deflateRawSync(Buffer.alloc(500_000)).length).toBeLessThan(1000);
  expect(await reasonOf(bytes, 'big.bin')).toBe('document.damaged-part');
});

test('a missing entry is named', async () => {
  const zip = await ZipFile.open(await zipOf(FILES));
  expect(() => zip.read('no.xml')).toThrow(DocumentError);
  expect(zip.has('no.xml')).toBe(false);
});

test('what a package format asks of its first entry is reported', async () => {
  const book = await ZipFile.open(await zipOf({ mimetype: 'application/epub+zip', 'a.xml': '<a/>' }));
  expect(book.startsWithStored('mimetype')).toBe(true);
  expect((await ZipFile.open(await zipOf(FILES))).startsWithStored('a.xml')).toBe(false);
});
