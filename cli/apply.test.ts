import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { inline, paragraph, slidesOf, wordFiles, wordOf, zipOf } from '@/core/formats/testing/packages';
import { gif } from '@/server/testing/site';
import { apply, appliedText, isWhole, type Applied } from './apply';
import { auditOptions, readArguments, UsageError } from './arguments';
import { audit } from './audit';

/** `detto apply`: words of a list into copies of pages and documents; the originals stay. */
const root = mkdtempSync(path.join(tmpdir(), 'detto-cli-apply-'));
const PIC = (id: number) =>
  `<p:pic><p:nvPicPr><p:cNvPr id="${id}" name="P"/></p:nvPicPr><p:blipFill><a:blip r:embed="rId1"/></p:blipFill></p:pic>`;
beforeAll(async () => {
  const set = path.join(root, 'set');
  mkdirSync(path.join(set, 'sub'), { recursive: true });
  const write = (name: string, bytes: Buffer | string) => writeFileSync(path.join(set, name), bytes);
  const body = ['<wp:docPr id="1" name="A" descr="Old"/>', '<wp:docPr id="2" name="B"/>'].map((f) =>
    paragraph(inline(f)),
  );
  write('leaflet.docx', await wordOf(body.join('')));
  write('talk.pptx', await slidesOf([PIC(2), PIC(2)]));
  write('signed.docx', await zipOf({ ...wordFiles(body[0]!), '_xmlsignatures/s.xml': '<a/>' }));
  write(
    'locked.docx',
    Buffer.concat([Buffer.from('d0cf11e0a1b11ae1', 'hex'), Buffer.from('EncryptedPackage', 'utf16le')]),
  );
  write('old.doc', 'x');
  write('sub/page.html', '<title>P</title><p><img src="../a.gif"></p><p><img src="../a.gif"></p><img src="../b.gif">');
  write('a.gif', gif(60, 40));
  write('b.gif', gif(40, 60));
});
afterAll(() => rmSync(root, { recursive: true, force: true }));

let runs = 0;
async function applied(
  rows: unknown[] | string,
  target = 'set',
  out = `out${++runs}`,
): Promise<Applied & { out: string }> {
  const words = path.join(root, typeof rows === 'string' ? 'w.csv' : 'w.json');
  writeFileSync(words, typeof rows === 'string' ? rows : JSON.stringify(rows));
  const call = readArguments(['apply', words, target, '--out', out]);
  if (call.command !== 'apply') throw new Error('that is no apply');
  return { ...(await apply(call.options, root, () => undefined)), out: path.join(root, out) };
}
const auditOf = (target: string) => audit(auditOptions(['audit', target]), root, () => undefined);

test('an audit names documents page by page, and says what cannot be read', async () => {
  const { pages, appearances, summary } = await auditOf('set');
  expect(pages.map((p) => [p.path, p.format, p.document])).toEqual([
    ['leaflet.docx', 'docx', null],
    ['signed.docx', 'docx', null],
    ['sub/page.html', 'html', null],
    ['talk.pptx#slide=1', 'pptx', 'talk.pptx'],
    ['talk.pptx#slide=2', 'pptx', 'talk.pptx'],
  ]);
  expect(appearances.filter((a) => a.page === 'leaflet.docx').map((a) => [a.place, a.name, a.state])).toEqual([
    ['body > picture 1', 'Old', 'described'],
    ['body > picture 2', '', 'missing'],
  ]);
  expect(summary.skipped.map((s) => [s.address, s.reasonId])).toEqual([
    ['old.doc', 'document.old'],
    ['locked.docx', 'document.encrypted'],
  ]);
  expect(summary.notes[0]!.address).toBe('signed.docx');
});

test('each way to name a place works; what was written is read again', async () => {
  const { appearances } = await auditOf('set');
  const second = appearances.find((a) => a.page === 'talk.pptx#slide=2')!;
  const { documents, out, ...rest } = await applied([
    { page: 'leaflet.docx', place: 'body > picture 1', alt: 'New & “words”' },
    { page: 'leaflet.docx', place: 'body > picture 2', decorative: true },
    { appearance: second.id, alt: 'Second slide' },
    { page: 'talk.pptx#slide=1', src: 'talk.pptx!/ppt/media/image1.png', alt: 'First slide' },
    { page: 'sub/page.html', src: 'b.gif', alt: 'Tall', decorative: 'false' },
    { page: 'sub/page.html', place: 'p>img (2)', alt: 'Wide' },
    { page: 'sub/page.html', place: 'p>img', alt: '' },
  ]);
  expect(rest).toEqual({});
  expect(isWhole({ documents })).toBe(true);
  expect(documents).toEqual([
    {
      path: 'leaflet.docx',
      changes: [
        { page: 'leaflet.docx', place: 'body > picture 1', before: 'Old', after: 'New & “words”' },
        { page: 'leaflet.docx', place: 'body > picture 2', before: '', after: '' },
      ],
      ...{ refusals: [], warnings: [] },
    },
    expect.objectContaining({ path: 'sub/page.html', refusals: [] }),
    expect.objectContaining({ path: 'talk.pptx', refusals: [] }),
  ]);
  const again = await audit(auditOptions(['audit', out]), '/', () => undefined);
  expect(again.appearances.map((a) => [a.page, a.state, a.name])).toEqual([
    ['leaflet.docx', 'described', 'New & “words”'],
    ['leaflet.docx', 'decorative', ''],
    ['sub/page.html', 'missing', ''],
    ['sub/page.html', 'described', 'Wide'],
    ['sub/page.html', 'described', 'Tall'],
    ['talk.pptx#slide=1', 'described', 'First slide'],
    ['talk.pptx#slide=2', 'described', 'Second slide'],
  ]);
  expect(appliedText({ documents })).toContain('  #slide=2 slide > picture 2: no alt text → “Second slide”');
});

test('rows that say too little or too much are refused, each with its reason; the others are written', async () => {
  const { documents, out } = await applied(
    [
      'page,place,src,alt,decorative',
      'leaflet.docx,body > picture 1,,x,true',
      'leaflet.docx,body > picture 9,,x,',
      'leaflet.docx,,,x,',
      'leaflet.docx,body > picture 2,,x,perhaps',
      "leaflet.docx,body > picture 2,,'=SUM(1),",
      'leaflet.docx,body > picture 2,,twice,',
      'sub/page.html,,a.gif,x,',
      'sub/page.html,,no.gif,x,',
      'gone.docx,body,,x,',
      'locked.docx,body > picture 1,,x,',
      'signed.docx,body > picture 1,,x,',
      'old.doc,body > picture 1,,x,',
    ].join('\r\n'),
  );
  const reasons = documents.map((d) => [
    d.path,
    d.reason ?? d.refusals.map((r) => r.reason.replace(/^row (\d+): /, '$1 ')),
  ]);
  expect(reasons).toEqual([
    ['gone.docx', ['10 there is no page gone.docx']],
    [
      'leaflet.docx',
      [
        '2 it has alt text and is decorative, too; leave one of them out',
        '3 there is no place “body > picture 9” on this page',
        '4 it names no place: give page and place, appearance, or page and src',
        '5 decorative is neither true nor false',
        '7 an earlier row is for the same place',
      ],
    ],
    ['locked.docx', expect.stringMatching(/password/)],
    ['old.doc', expect.stringMatching(/save it as \.docx first/)],
    ['signed.docx', expect.stringMatching(/signed/)],
    [
      'sub/page.html',
      ['8 a.gif is shown at 2 places of this page; name the place', '9 no.gif is not shown on this page'],
    ],
  ]);
  expect(isWhole({ documents })).toBe(false);
  expect(documents.find((d) => d.path === 'leaflet.docx')!.changes.map((c) => c.after)).toEqual(['=SUM(1)']);
  expect(['signed.docx', 'locked.docx', 'gone.docx', 'leaflet.docx'].map((f) => existsSync(path.join(out, f)))).toEqual(
    [false, false, false, true],
  );
});

test('words that are there already leave an identical file', async () => {
  const { documents, out } = await applied([{ page: 'leaflet.docx', place: 'body > picture 1', alt: 'Old' }]);
  expect(documents[0]!.changes).toEqual([]);
  expect(
    readFileSync(path.join(out, 'leaflet.docx')).equals(readFileSync(path.join(root, 'set', 'leaflet.docx'))),
  ).toBe(true);
});

test('copies never go among the originals, by whatever name that folder is called', async () => {
  symlinkSync(path.join(root, 'set'), path.join(root, 'other-name'));
  const rows = [{ page: 'leaflet.docx', place: 'body > picture 1', alt: 'x' }];
  for (const out of ['set', 'set/out', 'other-name', 'other-name/new/deep'])
    await expect(applied(rows, 'set', out)).rejects.toThrow(UsageError);
  await expect(applied(rows, 'set/leaflet.docx', 'set')).rejects.toThrow(UsageError);
  const one = await applied(rows, 'set/leaflet.docx');
  expect(one.documents.map((d) => d.path)).toEqual(['leaflet.docx']);
});

test.each([
  [['apply', 'w.csv', '--out', 'x'], /Missing required argument 'target'/],
  [['apply', 'w.csv', 'set'], /--out/],
  [['apply', 'w.csv', 'https://isle.example/', '--out', 'x'], /not to an address/],
  [['apply', 'w.csv', 'set', 'more', '--out', 'x'], /Too many arguments/],
])('%s is no call', (args, reason) => expect(() => readArguments(args)).toThrow(reason));

test('a list that is none is refused', async () => {
  for (const [rows, reason] of [
    ['page,place\nx,y', /has no column/],
    ['[{"page": ', /not a JSON array/],
  ] as const)
    await expect(applied(rows)).rejects.toThrow(reason);
});
