/**
 * `npm run bench -- documents FOLDER`: reads every document below a folder, and compares with readers that are not ours:
 * as many pictures, and three texts that were written, found again by them, with nothing else changed. Prints a table, and
 * every difference.
 */
import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { formatById, formatOfName } from '@/core/formats';
import { DocumentError } from '@/core/formats/document-error';
import { ZipFile } from '@/core/formats/zip/zip-file';
import type { Appearance, AppearanceElement } from '@/core/model/appearance';
import type { DocumentReading, Edit, FormatId } from '@/core/model/document';

const [folder = '.'] = process.argv.slice(2);
const OUT = path.resolve('dist/bench/documents-written');
const PYTHON = '/usr/bin/python3';
const WORDS = ['The quay “at dawn” & <after>', 'Zwei Möwen', 'Ένα πλοίο'];
const PICTURES: readonly AppearanceElement[] = ['picture', 'media', 'embedded', 'img', 'svg'];

interface Counted {
  path: string;
  pictures?: number;
  words?: string[];
  error?: string;
}

function counted(files: readonly string[]): Map<string, Counted> {
  const run = spawnSync(PYTHON, ['bench/documents/count.py'], { input: files.join('\n'), maxBuffer: 1 << 30 });
  if (run.status !== 0) throw new Error(run.stderr.toString());
  const rows = run.stdout
    .toString()
    .trim()
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line) as Counted);
  return new Map(rows.map((row) => [row.path, row]));
}

/** What an independent reader counts as pictures, of what we list. */
const isPicture = (a: Appearance): boolean =>
  PICTURES.includes(a.element) && (a.element !== 'embedded' || a.markup.src !== null);

const picturesIn = ({ pages }: DocumentReading, format: FormatId): number => {
  const all = pages.flatMap((p) => p.reading.appearances);
  // A figure of a PDF may show none, and several figures one.
  return format === 'pdf' ? new Set(all.flatMap((a) => a.markup.src || [])).size : all.filter(isPicture).length;
};

/** Pictures that pdfimages finds painted, masks left out. */
function paintedIn(file: string): Counted {
  const { status, stdout, stderr } = spawnSync('pdfimages', ['-list', file], { maxBuffer: 1 << 28 });
  if (status !== 0) return { path: file, error: stderr.toString().trim().slice(0, 200) };
  return {
    path: file,
    pictures: stdout
      .toString()
      .split('\n')
      .filter((line) => /^\s*\d+\s+\d+\s+(?:image|stencil)\s/.test(line)).length,
  };
}

/** Names of entries that differ, but for those that may. */
async function changedEntries(before: Buffer, after: Buffer): Promise<string[]> {
  const [a, b] = [await ZipFile.open(before), await ZipFile.open(after)];
  if (a.names.join('\n') !== b.names.join('\n')) return ['the list of entries'];
  return a.names.filter((n) => !a.read(n).equals(b.read(n)));
}

const isZip = (format: FormatId) => !['pdf', 'mail', 'markdown', 'svg', 'html'].includes(format);

const files = readdirSync(folder, { recursive: true, withFileTypes: true })
  .filter((e) => e.isFile())
  .map((e) => path.join(e.parentPath, e.name))
  .filter((f) => !['html', 'markdown', 'mail', 'svg', null].includes(formatOfName(f)))
  .sort();
rmSync(OUT, { recursive: true, force: true });
mkdirSync(OUT, { recursive: true });

/** A copy with words in it. */
export interface Written {
  /** What it was made of, below the folder. */
  file: string;
  format: FormatId;
  texts: string[];
}

interface Row {
  files: number;
  refused: number;
  pictures: number;
  same: number;
  uncounted: number;
  written: number;
  proved: number;
  seconds: number;
}
const table = new Map<FormatId, Row>();
const rowOf = (format: FormatId) => {
  const row = table.get(format) ?? {
    files: 0,
    refused: 0,
    pictures: 0,
    same: 0,
    uncounted: 0,
    written: 0,
    proved: 0,
    seconds: 0,
  };
  table.set(format, row);
  return row;
};
const notes: string[] = [];
const readable = files.filter((f) => formatOfName(f) !== 'pdf');
const others = counted(readable);
const written = new Map<string, Written>();
for (const [i, file] of files.entries()) {
  const id = formatOfName(file)!;
  const format = formatById(id);
  const row = rowOf(id);
  const name = path.relative(folder, file);
  row.files++;
  const bytes = readFileSync(file);
  const start = performance.now();
  try {
    const reading = await format.read(bytes, { name: file });
    const mine = picturesIn(reading, id);
    row.pictures += mine;
    const other = id === 'pdf' ? paintedIn(file) : others.get(file);
    if (other?.pictures === undefined) {
      row.uncounted++;
      if (other) notes.push(`${name}: the other reader fails: ${other.error}`);
    } else if (other.pictures === mine) row.same++;
    else notes.push(`${name}: ${mine} pictures, the other reader counts ${other.pictures}`);
    const places = reading.pages.flatMap((p) =>
      p.reading.appearances
        .filter((a) => a.element !== 'background')
        .map((a): Edit => ({ fragment: p.fragment, order: a.order })),
    );
    const edits = places.slice(0, WORDS.length).map((edit, k): Edit => ({ ...edit, text: WORDS[k]! }));
    const same = await format.write(bytes, [], { name: file }).catch((error: unknown) => error);
    if (same instanceof DocumentError) notes.push(`${name}: not written: ${same.reason.id}`);
    else if (same instanceof Error) throw same;
    else if (!Buffer.from((same as { bytes: Uint8Array }).bytes).equals(bytes))
      notes.push(`${name}: changes without a change`);
    if (edits.length > 0 && !(same instanceof DocumentError)) {
      row.written++;
      const out = await format.write(bytes, edits, { name: file });
      const texts = edits
        .filter((e) => !out.refusals.some((r) => r.order === e.order && (r.fragment ?? null) === (e.fragment ?? null)))
        .map((e) => e.text!);
      for (const r of out.refusals) notes.push(`${name}: ${r.reason.id}`);
      const after = Buffer.from(out.bytes);
      if (isZip(id)) {
        const changed = await changedEntries(bytes, after);
        const may = new Set(out.changes.map((c) => c.file));
        const strange = changed.filter((n) => !may.has(n) && !n.endsWith('.opf'));
        if (strange.length > 0) notes.push(`${name}: ${strange.join(', ')} changed too`);
      } else if (!after.subarray(0, bytes.length).equals(bytes)) notes.push(`${name}: the original is no prefix`);
      const again = await format.read(after, { name: file });
      const wrong = edits.filter(
        (e, k) =>
          texts.includes(WORDS[k]!) &&
          again.pages.find((p) => p.fragment === e.fragment)?.reading.appearances[e.order]?.accessible.name !== e.text,
      );
      if (wrong.length > 0) notes.push(`${name}: ${wrong.length} texts are not read again`);
      const target = path.join(OUT, `${i}-${path.basename(file)}`);
      writeFileSync(target, after);
      written.set(target, { file: name, format: id, texts });
    }
  } catch (error) {
    row.refused++;
    notes.push(`${name}: ${error instanceof DocumentError ? error.reason.id : (error as Error).stack}`);
  }
  row.seconds += (performance.now() - start) / 1000;
}
// For `documents-opened`, which has programs open them.
writeFileSync(path.join(OUT, 'written.json'), JSON.stringify({ folder: path.resolve(folder), written: [...written] }));
const found = counted([...written].filter(([, w]) => w.format !== 'pdf').map(([target]) => target));
for (const [target, { file, format, texts }] of written) {
  const words = found.get(target)?.words;
  if (format === 'pdf') {
    const check = spawnSync('qpdf', ['--check', target]);
    const json = spawnSync('qpdf', ['--json', target], { maxBuffer: 1 << 30 }).stdout.toString();
    if (check.status !== 2 && texts.every((t) => json.includes(JSON.stringify(t).slice(1, -1)))) rowOf(format).proved++;
    else notes.push(`${file}: qpdf does not find the words, or finds faults`);
  } else if (words === undefined)
    notes.push(`${file}: the other reader cannot read what was written: ${found.get(target)?.error}`);
  else if (texts.every((t) => words.includes(t))) rowOf(format).proved++;
  else notes.push(`${file}: the other reader does not find ${texts.filter((t) => !words.includes(t)).join(' | ')}`);
}
const lines = [...table].map(
  ([format, r]) =>
    `| ${format} | ${r.files} | ${r.refused} | ${r.pictures} | ${r.same} of ${r.files - r.refused - r.uncounted} | ${r.proved} of ${r.written} | ${r.seconds.toFixed(1)} |`,
);
process.stdout.write(
  [
    '| format | files | not read | pictures | as many as the other reader | words found by it | seconds |',
    '| --- | --- | --- | --- | --- | --- | --- |',
    ...lines,
    '',
    ...notes,
  ].join('\n') + '\n',
);
