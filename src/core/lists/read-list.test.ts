import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { performance } from 'node:perf_hooks';
import iconv from 'iconv-lite';
import { cellText, csvLine, neutralCell } from './list-table';
import { readList } from './read-list';
import { encodingOf, readTable, TABLE_LIMITS } from './table-file';

/**
 * Tables as other programs write them: Python's csv module and openpyxl (Debian's python3-openpyxl) in five encodings and
 * with three separators, and texts encoded by iconv-lite, which shares no code with the decoder here.
 */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-tables-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const TEXTS: Record<string, string[]> = {
  'utf-8': ['Café am Hafen – „Fähre“', 'Puffins “in a row”', '渡し船'],
  'utf-16le': ['Café am Hafen – „Fähre“', 'Παπαγαλάκια'],
  'windows-1252': ['Café am Hafen – „Fähre“, 5 €', 'The skipper’s “Tern”'],
  'iso-8859-1': ['Überfahrt zur Insel, täglich', 'L’été à la plage, déjà vu'.replace('’', "'")],
  'windows-1251': ['Паром у причала, утренний туман над гаванью', 'Тупики на скале, птичий заповедник'],
};
const decodedAs: Record<string, string> = { 'iso-8859-1': 'windows-1252' };

describe.each(Object.keys(TEXTS))('a table in %s', (encoding) => {
  test.each([',', ';', '\t'])('parted by %j, as Python writes it', async (separator) => {
    const file = path.join(folder, 'table.csv');
    const code = `import csv,json,sys
enc,sep,texts=json.loads(sys.argv[2])
with open(sys.argv[1],"w",encoding=enc,newline="") as f:
  w=csv.writer(f,delimiter=sep); w.writerow(["Page","Picture","New alt text"])
  for i,t in enumerate(texts): w.writerow(["a.html","p%d.jpg"%i,t])`;
    const named = encoding === 'utf-16le' ? 'utf-16' : encoding;
    execFileSync('/usr/bin/python3', ['-c', code, file, JSON.stringify([named, separator, TEXTS[encoding]])]);
    const list = await readList(readFileSync(file));
    expect(list.encoding).toBe(decodedAs[encoding] ?? encoding);
    expect(list.rows.map((r) => r.newAlt)).toEqual(TEXTS[encoding]);
    expect(list.rows.every((r) => r.fault === undefined)).toBe(true);
  });
});

test.each([
  ['windows-1250', 'Přístav s trajektem; zátoka; večerní světlo nad mořem; ještěd; žluťoučký kůň; Kamienna wieża'],
  ['iso-8859-7', 'Το πλοίο στο λιμάνι του νησιού, νωρίς το πρωί, με τους γλάρους'],
  ['shift_jis', 'フェリー乗り場の朝、霧の中の船着き場とカモメの群れ'],
])('%s is recognised in a text of some length', (encoding, text) =>
  expect(encodingOf(iconv.encode(`Page;New alt text\n${text}\n${text}`, encoding))).toBe(encoding),
);

test('a few texts of another alphabet count more than all the English beside them', () => {
  const english = 'Appearance;Page;Page title;Line;Picture;State;Alt text;New alt text;Places;Findings;Written by\n';
  const row = (text: string) => `1;a.html;Sailings and fares;12;img/quay.jpg;missing;;${text};1;Missing alt text;\n`;
  for (const [encoding, text] of [
    ['windows-1251', 'Паром у причала, утренний туман'],
    ['iso-8859-7', 'Το πλοίο στο λιμάνι του νησιού'],
    ['windows-1252', 'Überfahrt zur Insel – täglich'],
  ] as const)
    expect(encodingOf(iconv.encode(english + row(text).repeat(3), encoding))).toBe(encoding);
});

test('read in the wrong encoding, a row is refused, not taken with replacement characters', async () => {
  const bytes = iconv.encode('Page,Picture,New alt text\na,b,Café\nc,d,Plain\n', 'windows-1252');
  const { rows } = await readList(bytes, { encoding: 'utf-8' });
  expect(rows.map((r) => r.fault)).toEqual(['garbled', undefined]);
});

test('a replacement character that the file itself holds is the editor’s', async () => {
  const { rows } = await readList(Buffer.from('Page,Picture,New alt text\na,b,odd \ufffd sign\n'));
  expect(rows[0]).toMatchObject({ newAlt: 'odd \ufffd sign' });
  expect(rows[0]!.fault).toBeUndefined();
});

test('control characters are refused', async () => {
  const { rows } = await readList(Buffer.from('Page,Picture,New alt text\na,b,odd\u0000sign\n'));
  expect(rows[0]!.fault).toBe('control-characters');
});

test.each(['=1+1', "'=1+1", 'Winter; -5 °C', "a;'=b", 'x\n=1', '\t=1', '+49', 'plain; text', "it's"])(
  '%j comes back as it was, and computes nothing where commas or semicolons part cells',
  (text) => {
    expect(cellText(neutralCell(text))).toBe(text);
    const file = path.join(folder, 'formula.csv');
    writeFileSync(file, csvLine(['before, with a comma', text, 'after']));
    for (const separator of [',', ';']) {
      const code =
        'import csv,json,sys;print(json.dumps([c for r in csv.reader(open(sys.argv[1],newline=""),delimiter=sys.argv[2]) for c in r]))';
      const out = execFileSync('/usr/bin/python3', ['-c', code, file, separator], { encoding: 'utf8' });
      for (const cell of JSON.parse(out) as string[]) expect(cell.trim()).not.toMatch(/^[=+\-@]/);
    }
  },
);

describe('hostile tables', () => {
  test.each([
    ['an open quotation mark', `Page,New alt text\na,"${'b,c\n'.repeat(500_000)}`],
    ['a line of separators', `Page,New alt text\n${','.repeat(2_000_000)}`],
    ['quotation marks only', `Page,New alt text\n${'"'.repeat(1_000_001)}`],
    ['many short rows', `Page,New alt text\n${'\n1'.repeat(TABLE_LIMITS.rows + 10)}`],
  ])('%s is refused, in time that grows with its size', async (_, text) => {
    const took = async (bytes: Buffer) => {
      const from = performance.now();
      const found: unknown = await readTable(bytes).catch((error: unknown) => error);
      return [performance.now() - from, found] as const;
    };
    const [half] = await took(Buffer.from(text.slice(0, text.length / 2)));
    const [whole, found] = await took(Buffer.from(text));
    expect((found as { code?: string }).code).toBe('unreadable-list');
    // Quadratic, it would be four times; a busy machine is given the benefit.
    expect(whole).toBeLessThan(Math.max(half * 3.5, 4_000));
  });
});
