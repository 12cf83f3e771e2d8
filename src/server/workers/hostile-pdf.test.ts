import { pdf } from '@/core/formats/pdf';
import { pdfFile, type PdfObject } from '@/core/formats/testing/pdf-file';
import type { UserError } from '@/core/model/user-error';
import { ReaderPool } from './reader-pool';

/** PDF that would hold its reader for ever: each ends within its bound, and others are read meanwhile. */
const times = <T>(count: number, make: (i: number) => T): T[] => Array.from({ length: count }, (_, i) => make(i));
const catalog = (more = ''): PdfObject => [1, `<< /Type /Catalog /Pages 2 0 R ${more} >>`];
const page = (number: number, more = ''): PdfObject => [
  number,
  `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 600 850] ${more} >>`,
];
const ONE: PdfObject[] = [[2, '<< /Type /Pages /Kids [3 0 R] /Count 1 >>'], page(3)];
const TAGGED = catalog('/MarkInfo << /Marked true >> /StructTreeRoot 6 0 R');
const form = (number: number, content: string, used?: number): PdfObject => [
  number,
  `<< /Type /XObject /Subtype /Form /BBox [0 0 9 9] ${used ? `/Resources << /XObject << /F ${used} 0 R >> >>` : ''} /Length ${content.length} >>\nstream\n${content}\nendstream`,
];
const DRAWN: PdfObject[] = [
  [2, '<< /Type /Pages /Kids [3 0 R] /Count 1 >>'],
  page(3, '/Contents 4 0 R /Resources << /XObject << /F 10 0 R >> >>'),
  [4, '<< /Length 5 >>\nstream\n/F Do\nendstream'],
];

const CASES: Record<string, () => Buffer> = {
  'a million pages that are one': () =>
    pdfFile([catalog(), [2, `<< /Type /Pages /Count 1000000 /Kids [${'3 0 R '.repeat(1_000_000)}] >>`], page(3)]),
  'a tree of pages with ten million leaves in eight nodes': () =>
    pdfFile([
      catalog(),
      [2, `<< /Type /Pages /Count 10000000 /Kids [${'10 0 R '.repeat(10)}] >>`],
      ...times(7, (i): PdfObject => [10 + i, `<< /Type /Pages /Count 10 /Kids [${`${11 + i} 0 R `.repeat(10)}] >>`]),
      page(17),
    ]),
  'a tree of pages that holds itself': () =>
    pdfFile([catalog(), [2, '<< /Type /Pages /Count 5 /Kids [2 0 R 3 0 R] >>'], page(3)]),
  'roles that stand for each other': () =>
    pdfFile([
      TAGGED,
      ...ONE,
      [6, '<< /Type /StructTreeRoot /K [7 0 R] /RoleMap << /A /B /B /A >> >>'],
      [7, '<< /S /A /P 6 0 R /K [0 1] >>'],
    ]),
  'a structure that holds itself': () =>
    pdfFile([
      TAGGED,
      ...ONE,
      [6, `<< /Type /StructTreeRoot /K [${'<< /S /P /K [7 0 R] >> '.repeat(1000)}] >>`],
      [7, '<< /S /P /K 6 0 R >>'],
    ]),
  'a structure 100,000 deep': () =>
    pdfFile([
      TAGGED,
      ...ONE,
      [6, '<< /Type /StructTreeRoot /K 7 0 R >>'],
      ...times(100_000, (i): PdfObject => [7 + i, `<< /S /P /K ${8 + i} 0 R >>`]),
    ]),
  'a table of objects that comes before itself': () => pdfFile([catalog(), ...ONE], (table) => `/Prev ${table}`),
  'a form that draws itself': () => pdfFile([catalog(), ...DRAWN, form(10, '/F Do', 10)]),
  'forms that draw ten billion rectangles': () =>
    pdfFile([
      catalog(),
      ...DRAWN,
      ...times(10, (i) => form(10 + i, '/F Do '.repeat(10), 11 + i)),
      form(20, '0 0 1 1 re f'),
    ]),
};

const GOOD = pdfFile([catalog('/Lang (en)'), ...ONE]);
/** Milliseconds of processor time. */
const LIMIT = 6000;
const pool = new ReaderPool(1, undefined, undefined, LIMIT);
afterAll(() => pool.close());

test('the sample itself is one that is read', async () => {
  expect((await pdf.read(GOOD, { name: 'good.pdf' })).pages).toHaveLength(1);
});

test.each(Object.entries(CASES))('%s', async (name, make) => {
  const hostile = pool.document(make(), 'pdf', 'hostile.pdf').then(
    ({ pages }) => `${pages.length} page`,
    (error: UserError) => error.reason?.id ?? error.message,
  );
  // What somebody waits for is read beside it.
  const good = await pool.document(GOOD, 'pdf', 'good.pdf', {}, true);
  expect(good.pages[0]!.reading.lang).toBe('en');
  // Only what draws without end needs to be ended.
  const ends = name.startsWith('forms') ? ['reader.too-long'] : ['1 page', 'document.damaged'];
  expect(ends).toContain(await hostile);
});
