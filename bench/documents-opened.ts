/**
 * `npm run bench -- documents-opened [FILES [FORMATS]]`: has programs open what `documents` has written, beside the originals, up to
 * FILES of each format that have pictures (20 unless said otherwise; `epub,pdf` for some formats alone). LibreOffice makes a PDF of both (as many pages, the
 * same text) and a flat document of the copy (the words are in it); xmllint parses every part that was changed; epubcheck
 * has no new message; pdfinfo and pdftotext find the same pages and text. Prints a table and every difference. Needs libreoffice, poppler-utils, libxml2-utils and epubcheck.
 */
import { spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { ZipFile } from '@/core/formats/zip/zip-file';
import type { FormatId } from '@/core/model/document';
import type { Written } from './documents';

const [most = '20', only = ''] = process.argv.slice(2);
const { folder, written } = JSON.parse(readFileSync('dist/bench/documents-written/written.json', 'utf8')) as {
  folder: string;
  written: [target: string, Written][];
};
/** What LibreOffice exports each format as, so that its words can be read. */
const FLAT: Partial<Record<FormatId, string>> = {
  docx: 'fodt',
  odt: 'fodt',
  pptx: 'fodp',
  odp: 'fodp',
  xlsx: 'fods',
  ods: 'fods',
};
const room = mkdtempSync(path.join(tmpdir(), 'detto-opened-'));

function run(program: string, args: string[], timeoutMs = 120_000): string | null {
  const { status, stdout } = spawnSync(program, args, { timeout: timeoutMs, maxBuffer: 1 << 30 });
  return status === 0 ? stdout.toString('utf8') : null;
}

/** A file in another format, by LibreOffice; null where it cannot open it. */
function converted(file: string, to: string, kind: 'before' | 'after'): string | null {
  const out = path.join(room, kind);
  mkdirSync(out, { recursive: true });
  const profile = `-env:UserInstallation=file://${path.join(room, 'profile')}`;
  run('soffice', [profile, '--headless', '--norestore', '--convert-to', to, '--outdir', out, file]);
  const made = path.join(out, `${path.basename(file, path.extname(file))}.${to}`);
  return existsSync(made) ? made : null;
}

const pagesOf = (file: string) => /^Pages:\s+(\d+)$/m.exec(run('pdfinfo', [file]) ?? '')?.[1] ?? null;
const textOf = (file: string) => run('pdftotext', ['-enc', 'UTF-8', file, '-']);
const isSamePrint = (a: string, b: string) => pagesOf(a) === pagesOf(b) && textOf(a) === textOf(b);

/** Faults that epubcheck finds, each with how often; null where it could not run. */
function epubFaults(file: string): string | null {
  const report = path.join(room, 'epubcheck.json');
  rmSync(report, { force: true });
  // Debian's program is an archive that some shells do not start.
  spawnSync('java', ['-jar', '/usr/bin/epubcheck', file, '--json', report, '-q'], { timeout: 120_000 });
  if (!existsSync(report)) return null;
  const { messages } = JSON.parse(readFileSync(report, 'utf8')) as {
    messages: { ID: string; severity: string; additionalLocations: number; locations: unknown[] }[];
  };
  return messages
    .filter((m) => !/^(?:USAGE|SUPPRESSED)$/.test(m.severity))
    .map((m) => `${m.ID} ${m.locations.length + m.additionalLocations}`)
    .sort()
    .join(', ');
}

/** Names of changed parts that xmllint does not take. */
async function notWellFormed(before: string, after: string): Promise<string[]> {
  const [a, b] = [await ZipFile.open(readFileSync(before)), await ZipFile.open(readFileSync(after))];
  const changed = b.names.filter((n) => !a.read(n).equals(b.read(n)));
  return changed.filter((name) => {
    const file = path.join(room, 'part.xml');
    writeFileSync(file, b.read(name));
    return run('xmllint', ['--noout', '--nonet', file]) === null;
  });
}

const table = new Map<FormatId, { files: number; opened: number; same: number; words: number }>();
const notes: string[] = [];
for (const [target, { file, format, texts }] of written) {
  const row = table.get(format) ?? { files: 0, opened: 0, same: 0, words: 0 };
  table.set(format, row);
  if (row.files >= Number(most) || (only !== '' && !only.split(',').includes(format))) continue;
  row.files++;
  const note = (text: string) => notes.push(`${file}: ${text}`);
  // Under one name, since a document may print its own.
  const name = `document${path.extname(target)}`;
  const [before, after] = [path.join(room, 'source', 'before', name), path.join(room, 'source', 'after', name)];
  for (const place of [before, after]) mkdirSync(path.dirname(place), { recursive: true });
  copyFileSync(path.join(folder, file), before);
  copyFileSync(target, after);
  if (format !== 'pdf') {
    const broken = await notWellFormed(before, after);
    if (broken.length > 0) note(`xmllint: ${broken.join(', ')}`);
  }
  if (format === 'epub') {
    const [was, is] = [epubFaults(before), epubFaults(after)];
    if (is !== null) row.opened++;
    if (was === is) row.same++;
    else note(`epubcheck: before ${was}; after ${is}`);
    continue;
  }
  if (format === 'pdf') {
    if (pagesOf(after) !== null) row.opened++;
    if (isSamePrint(before, after)) row.same++;
    else note('pdfinfo or pdftotext: other pages or text');
    continue;
  }
  const [was, is] = [converted(before, 'pdf', 'before'), converted(after, 'pdf', 'after')];
  if (is !== null) row.opened++;
  if ((was === null) === (is === null) && (was === null || isSamePrint(was, is!))) row.same++;
  else note('LibreOffice: other pages or text');
  const flat = converted(after, FLAT[format]!, 'after');
  const words = flat === null ? '' : readFileSync(flat, 'utf8').replace(/&lt;/g, '<').replace(/&gt;/g, '>');
  const missing = texts.filter(
    (t) =>
      !words
        .replace(/&quot;/g, '"')
        .replace(/&amp;/g, '&')
        .includes(t),
  );
  if (missing.length === 0) row.words++;
  else note(`LibreOffice’s own export lacks ${missing.join(' | ')}`);
  rmSync(path.join(room, 'before'), { recursive: true, force: true });
  rmSync(path.join(room, 'after'), { recursive: true, force: true });
}
rmSync(room, { recursive: true, force: true });
const lines = [...table].map(([format, r]) => {
  const words = FLAT[format] ? `${r.words} of ${r.files}` : '';
  return `| ${format} | ${r.files} | ${r.opened} | ${r.same} | ${words} |`;
});
process.stdout.write(
  [
    '| format | files | opened | same pages, text or messages | words in LibreOffice’s own export |',
    '| --- | --- | --- | --- | --- |',
    ...lines,
    '',
    ...notes,
  ].join('\n') + '\n',
);
