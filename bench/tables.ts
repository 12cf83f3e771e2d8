/**
 * `npm run bench -- tables`: lists in and out of LibreOffice Calc. It writes a list of ours in five encodings and with three
 * separators, and as a workbook and an OpenDocument sheet's CSV, and Detto reads them; Detto writes CSV and XLSX, and Calc
 * says what it reads. Prints each that differs. Needs libreoffice.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { csvLine, COLUMNS, type ListRow } from '@/core/lists/list-table';
import { readList } from '@/core/lists/read-list';
import { writeList, type ShownRow } from '@/server/lists/write-list';
import { listWords } from '@/ui/strings/lists';

const CALC = 'Text - txt - csv (StarCalc)';
/** Numbers of encodings in LibreOffice's filter options. */
const ENCODINGS = { 'utf-8': 76, 'utf-16le': 65535, 'windows-1252': 1, 'iso-8859-1': 12, 'windows-1251': 34 } as const;
const SEPARATORS = { ',': 44, ';': 59, tab: 9 } as const;
const LATIN = [
  'Überfahrt zur Insel, täglich',
  'Zwei Papageitaucher; im Flug',
  'L\'été à "la plage", déjà vu',
  '(decorative)',
];
const TEXTS: Record<keyof typeof ENCODINGS, string[]> = {
  'utf-8': ['Café am Hafen – „Fähre“', 'Puffins “in a row”; 5 €', '渡し船', '(decorative)'],
  'utf-16le': ['Café am Hafen – „Fähre“', 'Παπαγαλάκια, στο βράχο', '渡し船', '(decorative)'],
  'windows-1252': [...LATIN, 'The skipper’s “Tern” – 5 €'],
  'iso-8859-1': LATIN,
  'windows-1251': ['Паром у причала, утренний туман над гаванью', 'Тупики на скале; птичий заповедник', '(decorative)'],
};

const room = mkdtempSync(path.join(tmpdir(), 'detto-tables-'));
const faults: string[] = [];

/** A file in another format, by LibreOffice. */
function converted(file: string, filter: string, name: string, infilter?: string): Buffer {
  const out = path.join(room, name);
  const extension = filter.replace(/:.*$/, '');
  const { stderr } = spawnSync(
    'soffice',
    [
      `-env:UserInstallation=file://${path.join(room, 'profile')}`,
      ...['--headless', '--norestore', ...(infilter ? [`--infilter=${infilter}`] : [])],
      ...['--convert-to', filter, '--outdir', out, file],
    ],
    { timeout: 120_000 },
  );
  try {
    return readFileSync(path.join(out, `${path.basename(file).replace(/\.\w+$/, '')}.${extension}`));
  } catch {
    throw new Error(`LibreOffice wrote nothing: ${stderr}`);
  }
}

function compare(what: string, got: readonly string[], wanted: readonly string[]): void {
  const isSame = JSON.stringify(got) === JSON.stringify(wanted);
  process.stdout.write(`${isSame ? 'same  ' : 'OTHER '} ${what}\n`);
  if (!isSame) faults.push(`${what}: ${JSON.stringify(got)} instead of ${JSON.stringify(wanted)}`);
}

const row = (text: string, i: number): ShownRow => ({
  ...{ appearance: i + 1, page: 'a.html', pageTitle: 'A', line: i + 1, picture: `p${i}.jpg`, state: 'missing' },
  ...{ alt: '', newAlt: text, places: 1, title: '', caption: '', purpose: 'Informative', findings: '', writtenBy: '' },
  ...{ uses: 1, width: 10, height: 10, bytes: 99 },
});
async function* once(texts: readonly string[]): AsyncGenerator<readonly ShownRow[]> {
  yield texts.map(row);
}
const IN_UTF8 = `${CALC}:44,34,76,1`;

try {
  for (const [encoding, texts] of Object.entries(TEXTS) as [keyof typeof ENCODINGS, string[]][]) {
    const source = path.join(room, `${encoding}.csv`);
    const keys: (keyof ListRow)[] = COLUMNS.map(([key]) => key);
    const lines = [
      csvLine(COLUMNS.map(([, name]) => name)),
      ...texts.map((t, i) => csvLine(keys.map((k) => row(t, i)[k]))),
    ];
    writeFileSync(source, lines.join(''));
    for (const [name, separator] of Object.entries(SEPARATORS)) {
      const made = converted(
        source,
        `csv:${CALC}:${separator},34,${ENCODINGS[encoding]},1`,
        `${encoding}-${separator}`,
        IN_UTF8,
      );
      const list = await readList(made);
      compare(
        `written by Calc in ${encoding}, parted by ${name}, read as ${list.encoding}`,
        list.rows.map((r) => r.newAlt),
        texts,
      );
    }
    const workbook = converted(source, 'xlsx', `${encoding}-xlsx`, IN_UTF8);
    compare(
      `written by Calc as XLSX (${encoding})`,
      (await readList(workbook)).rows.map((r) => r.newAlt),
      texts,
    );
  }
  // Formulas among them, which Calc may not compute.
  const texts = [...TEXTS['utf-8'], '=1+1', '-5 °C at the pier', '@pier', 'Winter; =2+2'];
  for (const format of ['csv', 'xlsx'] as const) {
    const file = path.join(room, `ours.${format}`);
    writeFileSync(file, await writeList(once(texts), format, listWords));
    const read = converted(file, `csv:${CALC}:44,34,76,1`, `read-${format}`, format === 'csv' ? IN_UTF8 : undefined);
    compare(
      `${format} of ours, read by Calc`,
      (await readList(read)).rows.map((r) => r.newAlt),
      texts,
    );
  }
} finally {
  rmSync(room, { recursive: true, force: true });
}
process.stdout.write(faults.length === 0 ? 'all the same\n' : `${faults.join('\n')}\n`);
process.exitCode = faults.length === 0 ? 0 : 1;
