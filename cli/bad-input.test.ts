import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { crc32, deflateSync } from 'node:zlib';
import { auditOptions } from './arguments';
import { audit } from './audit';
import type { AuditReport } from './report';
import { asText } from './text';

/** A folder of everything that is wrong with real folders: each is reported, and the rest is still read. */
let root: string;
let report: AuditReport;

/** A well-formed PNG that claims a size and holds nothing of it. */
function emptyPng(width: number, height: number): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
    const frame = Buffer.alloc(8);
    frame.writeUInt32BE(data.length, 0);
    frame.writeUInt32BE(crc32(body), 4);
    return Buffer.concat([frame.subarray(0, 4), body, frame.subarray(4)]);
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([8, 2, 0, 0, 0], 8);
  const signature = Buffer.from('89504e470d0a1a0a', 'hex');
  return Buffer.concat([
    signature,
    chunk('IHDR', header),
    chunk('IDAT', deflateSync('')),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

beforeAll(async () => {
  root = mkdtempSync(path.join(tmpdir(), 'detto-bad-'));
  mkdirSync(path.join(root, 'loop'));
  symlinkSync(root, path.join(root, 'loop', 'again'));
  writeFileSync(path.join(root, 'one-line.html'), `<p>${'x'.repeat(50 * 1024 * 1024)}`);
  mkdirSync(path.join(root, 'mail'));
  const sealed = 'Subject: x\r\nContent-Type: application/pkcs7-mime; smime-type=enveloped-data\r\n\r\nMIIB';
  writeFileSync(path.join(root, 'mail', 'sealed.eml'), sealed);
  writeFileSync(path.join(root, 'no-image.html'), '<!doctype html><html lang="en"><title>Words only</title><p>Text');
  writeFileSync(
    path.join(root, 'legacy.html'),
    Buffer.from(
      '<meta charset="windows-1251"><title>\xcf\xf0\xe8\xe2\xe5\xf2</title><img src="a.gif" alt="\xcc\xee\xf0\xe5">',
      'latin1',
    ),
  );
  writeFileSync(
    path.join(root, 'index.html'),
    '<html lang="en"><title>Start</title><img src="huge.png" alt="Huge"><img src="text.png" alt="Text"><img src="empty.jpg" alt="None"><img src="nowhere.png" alt="Gone"><img src="nested.svg" alt="Nested"><img src="a.gif" alt="Dot">',
  );
  writeFileSync(path.join(root, 'a.gif'), Buffer.from('R0lGODlhAQABAIAAAP///wAAACwAAAAAAQABAAACAkQBADs=', 'base64'));
  writeFileSync(path.join(root, 'huge.png'), emptyPng(100_000, 100_000));
  writeFileSync(path.join(root, 'text.png'), 'this is no picture');
  writeFileSync(path.join(root, 'empty.jpg'), '');
  // Each level uses the one before ten times: ten thousand million shapes if it were drawn.
  const levels = Array.from({ length: 10 }, (_, i) => `<g id="l${i + 1}">${`<use href="#l${i}"/>`.repeat(10)}</g>`);
  writeFileSync(
    path.join(root, 'nested.svg'),
    `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><defs><rect id="l0" width="1" height="1"/>${levels.join('')}</defs><use href="#l10"/></svg>`,
  );
  report = await audit(auditOptions(['audit', root]), process.cwd(), () => undefined);
});
afterAll(() => rmSync(root, { recursive: true, force: true }));

const skipped = (address: string) => report.summary.skipped.find((s) => s.address === address)?.reason;
const broken = (src: string) =>
  report.findings.find((f) => f.rule === 'broken-source' && f.message.includes(src))?.message;

test('50 MB of one line are passed over with their size', () =>
  expect(skipped('one-line.html')).toBe('50 MB, over the limit of 5 MB for a page'));

test('a cyclic link is reported', () => expect(skipped('loop/again')).toBe('a link to a folder that is read already'));

test('a page with no image is read', () =>
  expect(report.pages).toContainEqual(
    expect.objectContaining({ path: 'no-image.html', title: 'Words only', lang: 'en' }),
  ));

test('a page in a legacy encoding is read in it', () => {
  expect(report.pages.find((p) => p.path === 'legacy.html')?.title).toBe('Привет');
  expect(report.appearances.find((a) => a.page === 'legacy.html')?.name).toBe('Море');
});

test('pictures that are none, or cannot be opened, are reported, each with its reason', () => {
  expect(broken('huge.png')).toContain('100,000 × 100,000 pixels, more than the 100,000,000 that Detto opens');
  expect(broken('text.png')).toContain('not a picture');
  expect(broken('empty.jpg')).toContain('an empty file');
  expect(broken('nowhere.png')).toContain('no such file');
});

test('a picture that would be drawn for ever is given up, and the rest is still read', () => {
  expect(broken('nested.svg')).toBeDefined();
  expect(report.pictures.find((p) => p.src === 'a.gif')).toMatchObject({ type: 'image/gif', width: 1, height: 1 });
});

test('a message that is sealed is named as that, in a folder and alone', async () => {
  const why = 'sealed with S/MIME as a whole, so it cannot be read: save it opened, and survey again';
  expect(asText(report)).toContain(`About mail/sealed.eml: ${why}.`);
  const alone = audit(auditOptions(['audit', path.join(root, 'mail', 'sealed.eml')]), process.cwd(), () => undefined);
  await expect(alone).rejects.toThrow(`No page could be read. sealed.eml: ${why}.`);
});
