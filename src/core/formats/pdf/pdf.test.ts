import type { DocumentError } from '../document-error';
import { pdfBody, pdfFile, type PdfObject } from '../testing/pdf-file';
import { appearancesOf, shown, writeTexts } from '../testing/round-trip';
import { pdf } from './index';
import { encodePng } from './png';

/** Tagged PDF (ISO 32000-1, 14.7 and 14.8): figures with their words, what is outside of the tags, incremental updates (7.5.6). */
interface Options {
  /** With a cross-reference stream instead of a table (7.5.8). */
  stream?: boolean;
  more?: PdfObject[];
  catalog?: string;
  figure?: string;
}

/** A page with two figures, an artifact and a picture that nobody tagged. */
function file({
  stream = false,
  more = [],
  catalog = '/MarkInfo << /Marked true >> /StructTreeRoot 6 0 R',
  figure,
}: Options = {}): Buffer {
  const image = (tag: string, x: number) => `${tag} q 100 0 0 50 ${x} 700 cm /I Do Q EMC\n`;
  const content = `/H1 << /MCID 0 >> BDC BT /F 20 Tf 50 800 Td (Harbour) Tj ET EMC\n${image('/Figure << /MCID 1 >> BDC', 10)}${image('/Artifact BMC', 120)}q 100 0 0 50 230 700 cm /I Do Q\n`;
  const objects: PdfObject[] = [
    [1, `<< /Type /Catalog /Pages 2 0 R /Lang (en-GB) ${catalog} >>`],
    [2, '<< /Type /Pages /Kids [3 0 R] /Count 1 >>'],
    [
      3,
      '<< /Type /Page /Parent 2 0 R /MediaBox [0 0 600 850] /Contents 4 0 R /Resources << /Font << /F 5 0 R >> /XObject << /I 10 0 R >> >> /StructParents 0 >>',
    ],
    [4, `<< /Length ${content.length} >>\nstream\n${content}\nendstream`],
    [5, '<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>'],
    [6, '<< /Type /StructTreeRoot /K [7 0 R 8 0 R 9 0 R] /RoleMap << /Bild /Figure >> >>'],
    [7, '<< /Type /StructElem /S /H1 /P 6 0 R /Pg 3 0 R /K 0 >>'],
    [8, figure ?? '<< /Type /StructElem /S /Bild /P 6 0 R /Pg 3 0 R /K 1 /ActualText (Quay) >>'],
    [9, '<< /Type /StructElem /S /Figure /P 6 0 R /Pg 3 0 R /Alt (A boat) >>'],
    [
      10,
      '<< /Type /XObject /Subtype /Image /Width 1 /Height 1 /ColorSpace /DeviceRGB /BitsPerComponent 8 /Length 3 >>\nstream\nABC\nendstream',
    ],
    ...more,
  ];
  if (!stream) return pdfFile(objects);
  const { body, offsets } = pdfBody(objects);
  const start = body.length;
  const last = objects.at(-1)![0];
  offsets[last + 1] = start;
  const rows = Buffer.concat(
    Array.from({ length: last + 2 }, (_, n) => {
      const row = Buffer.alloc(5);
      row.writeUInt8(offsets[n] ? 1 : 0, 0);
      row.writeUInt32BE(offsets[n] ?? 0, 1);
      return row;
    }),
  );
  const head = `${last + 1} 0 obj\n<< /Type /XRef /Size ${last + 2} /W [1 4 0] /Root 1 0 R /Length ${rows.length} >>\nstream\n`;
  return Buffer.concat([
    Buffer.from(body + head, 'latin1'),
    rows,
    Buffer.from(`\nendstream\nendobj\nstartxref\n${start}\n%%EOF\n`, 'latin1'),
  ]);
}
const reasonOf = (work: Promise<unknown>) =>
  work.then(
    () => 'done',
    (error: unknown) => (error as DocumentError).reason?.id ?? String(error),
  );

test('figures by their roles, with alt text else actual text; artifacts and pictures outside of the tags told apart', async () => {
  const bytes = file();
  expect(await shown(pdf, bytes)).toEqual({
    '': [
      'page 1 > figure 1: described “Quay”',
      'page 1 > figure 2: described “A boat”',
      'page 1 > artifact 2: decorative “”',
      'page 1 > picture 3: missing “”',
    ],
  });
  const [quay, boat, , outside] = await appearancesOf(pdf, bytes);
  expect(quay!.context).toMatchObject({
    headings: ['Harbour'],
    lang: 'en-GB',
    spot: { id: 'spot.page', values: { page: 1 } },
  });
  expect([quay!.markup.src, boat!.markup.src, outside!.markup.src]).toEqual([
    'page 1, picture 1',
    null,
    'page 1, picture 3',
  ]);
  expect(quay!.layout.box!.left).toBeCloseTo(10 / 600);
  expect(quay!.layout.box!.top).toBeCloseTo(100 / 850);
  const png = await pdf.picture!(bytes, 'page 1, picture 1');
  expect(Buffer.from(png).equals(encodePng(Buffer.from('ABC'), 1, 1, 3))).toBe(true);
  expect(await reasonOf(pdf.picture!(bytes, 'page 1, picture 9'))).toBe('document.no-part');
});

test.each([false, true])(
  'words are appended, and the file as it was is an exact prefix (cross-reference stream: %s)',
  async (stream) => {
    const bytes = file({ stream });
    const { bytes: after, changes, refusals } = await writeTexts(pdf, bytes, ['Der Kai, “früh”', null, 'x', 'x']);
    expect(Buffer.from(after).subarray(0, bytes.length).equals(bytes)).toBe(true);
    expect((await shown(pdf, after))['']!.slice(0, 2)).toEqual([
      'page 1 > figure 1: described “Der Kai, “früh””',
      'page 1 > figure 2: described “A boat”',
    ]);
    expect(changes.map((c) => c.words)).toEqual([{ before: 'Quay', after: 'Der Kai, “früh”' }]);
    expect(refusals.map((r) => r.reason.id)).toEqual(['refusal.untagged', 'refusal.untagged']);
    // A second change stands on the first.
    const { bytes: again } = await writeTexts(pdf, after, [null, 'Two boats']);
    expect((await shown(pdf, again))['']!.slice(0, 2)).toEqual([
      'page 1 > figure 1: described “Der Kai, “früh””',
      'page 1 > figure 2: described “Two boats”',
    ]);
    expect(Buffer.from((await writeTexts(pdf, again, [null, 'Two boats'])).bytes).equals(Buffer.from(again))).toBe(
      true,
    );
  },
);

test('a figure is not made an artifact, and one inside another object is not replaced', async () => {
  const { refusals } = await writeTexts(pdf, file(), ['']);
  expect(refusals.map((r) => r.reason.id)).toEqual(['refusal.pdf-decorative']);
  const direct = file({
    figure: '<< /Type /StructElem /S /P /P 6 0 R /Pg 3 0 R /K << /Type /StructElem /S /Figure /Pg 3 0 R /K 1 >> >>',
  });
  expect((await writeTexts(pdf, direct, ['x'])).refusals.map((r) => r.reason.id)).toEqual(['refusal.pdf-direct']);
});

test.each([
  ['untagged', file({ catalog: '' }), 'document.untagged-write'],
  ['signed', file({ more: [[11, '<< /Type /Sig /ByteRange [0 1 2 3] /Contents <00> >>']] }), 'document.signed'],
  ['cut off', file().subarray(0, 900), 'document.damaged'],
  ['no PDF', Buffer.from('%PDF-1.7\nhello'), 'document.damaged'],
])('%s: nothing is written', async (_, bytes, reason) => {
  expect(await reasonOf(writeTexts(pdf, bytes, ['x']))).toBe(reason);
});

test('an untagged file is read all the same, and says that its pictures are heard by nobody', async () => {
  const { pages, notes } = await pdf.read(file({ catalog: '' }));
  expect(notes).toEqual([{ id: 'document.untagged' }]);
  expect(pages[0]!.reading.appearances.map((a) => a.state)).toEqual(['missing', 'decorative', 'missing']);
});

test('a loop in the structure ends', async () => {
  const bytes = file({ figure: '<< /Type /StructElem /S /Sect /P 6 0 R /K [8 0 R 6 0 R 9 0 R] >>' });
  expect((await shown(pdf, bytes))['']![0]).toBe('page 1 > figure 1: described “A boat”');
});
