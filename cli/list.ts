import { promises as fs } from 'node:fs';
import path from 'node:path';
import { groupBy } from '@/core/group-by';
import type { Edit } from '@/core/model/document';
import { sharedBytes } from '@/server/workers/shared-bytes';
import { ReaderPool } from '@/server/workers/reader-pool';
import { ownTitle } from '@/core/words/page-title';
import { DECORATIVE, type ListRow } from '@/core/lists/list-table';
import { writeList } from '@/server/lists/write-list';
import { readList, type ReadRow } from '@/core/lists/read-list';
import { strings } from '@/ui/strings';
import { listWords } from '@/ui/strings/lists';
import type { AuditOptions, ListOptions } from './arguments';
import { audit } from './audit';
import type { AuditReport } from './report';

type Appearance = AuditReport['appearances'][number];
type Progress = (line: string) => void;

/**
 * Surveys and lists what is there.
 *
 * @returns the table, where no file is named that it goes to
 * @throws Error in words when the target cannot be read
 */
export async function list(
  options: AuditOptions,
  asked: ListOptions,
  cwd: string,
  progress: Progress,
): Promise<Uint8Array | null> {
  const rows = listOf(await audit(options, cwd, progress), asked);
  const file = await writeList(all(rows), asked.format, listWords);
  if (asked.out === undefined) return file;
  await fs.writeFile(path.resolve(cwd, asked.out), file);
  process.stderr.write(`detto: ${strings.cli.list.written(rows.length, asked.out)}\n`);
  return null;
}

async function* all(rows: readonly ListRow[]): AsyncGenerator<readonly ListRow[]> {
  yield rows;
}

/** The rows of a report: by picture, the appearance that needs words most stands for it. */
export function listOf(report: AuditReport, { by, only }: Pick<ListOptions, 'by' | 'only'>): ListRow[] {
  const pictures = new Map(report.pictures.map((p) => [p.id, p]));
  const pages = new Map(report.pages.map((p) => [p.path, p]));
  const findings = groupBy(report.findings, (f) => f.appearance);
  const wanted = report.appearances.filter((a) => only === undefined || a.state === only);
  const alike = groupBy(wanted, (a) => `${a.picture ?? a.id} ${saidKey(a)}`);
  const need = (a: Appearance) => (a.state === 'missing' ? 0 : 1);
  const shown =
    by === 'appearance'
      ? wanted
      : [...groupBy(wanted, (a) => a.picture ?? a.id).values()].map((own) =>
          own.reduce((first, a) => (need(a) < need(first) ? a : first)),
        );
  return shown.map((a) => {
    const picture = a.picture === null ? undefined : pictures.get(a.picture);
    return {
      appearance: null,
      page: a.page,
      pageTitle: ownTitle(pages.get(a.page)?.title ?? ''),
      line: a.origin === 'script' ? null : a.line,
      picture: ownAddress(a, pages.get(a.page)?.document ?? null) ?? picture?.src ?? a.src,
      state: listWords.state(a.state as 'missing'),
      alt: a.state === 'described' ? a.name : '',
      newAlt: '',
      places: by === 'picture' ? (alike.get(`${a.picture ?? a.id} ${saidKey(a)}`)?.length ?? 1) : null,
      title: a.title ?? '',
      caption: a.caption ?? '',
      purpose: listWords.purpose(a.purpose),
      findings: (findings.get(a.id) ?? []).map((f) => `${strings.outcomes[f.outcome]}: ${f.message}`).join(' '),
      writtenBy: a.state === 'missing' ? '' : listWords.writer('page', null),
      uses: picture?.reach ?? 1,
      width: picture?.width ?? null,
      height: picture?.height ?? null,
      bytes: picture?.bytes ?? null,
    };
  });
}

/** What an appearance says, as one text to compare by. */
const saidKey = (a: Appearance): string => `${a.state} ${a.state === 'described' ? a.name : ''}`;

/** Where a picture stands in the document that a place is in; null of one that is a file of its own. */
function ownAddress({ src }: Appearance, document: string | null): string | null {
  if (document === null || !src || /^[a-z][a-z\d+.-]*:/i.test(src)) return null;
  return `${document}!/${src}`;
}

/**
 * Puts the new texts of a table into the pages of a folder, and writes the pages that change below another one.
 *
 * @returns what was done, in words, and whether no row had to be left out
 * @throws Error in words when the table or the folder cannot be read
 */
export async function putBack(
  options: AuditOptions,
  { from, out, only }: ListOptions,
  cwd: string,
  progress: Progress,
): Promise<{ text: string; isWhole: boolean }> {
  const s = strings.cli.list;
  if (/^https?:|\.zip$/i.test(options.target)) throw new Error(s.onlyFolders);
  const { rows } = await readList(await fs.readFile(path.resolve(cwd, from!)));
  const report = await audit(options, cwd, progress);
  const shown = only === undefined ? report.appearances : report.appearances.filter((a) => a.state === only);
  const byPage = groupBy(shown, (a) => a.page);
  const pictures = new Map(report.pictures.map((p) => [p.id, p.src]));
  const pageOf = new Map(report.pages.map((p) => [p.path, p]));
  const edits = new Map<string, Edit[]>();
  const left: string[] = [];
  const taken = new Set<string>();
  for (const row of rows) {
    const own = (byPage.get(row.page) ?? []).filter((a) => !taken.has(a.id));
    const found = row.fault ? strings.lists.why[row.fault] : match(row, own, pictures);
    // Rows of one page that look the same are for its appearances one after the other.
    if (typeof found !== 'string') taken.add(found.id);
    if (row.newAlt === '') continue;
    if (typeof found === 'string') {
      left.push(s.unknown(row.row, found));
      continue;
    }
    const places = row.isForPicture && found.picture !== null ? alikeOf(shown, found) : [found];
    for (const place of places) {
      taken.add(place.id);
      const { document, path: page } = pageOf.get(place.page)!;
      const fragment = document === null ? {} : { fragment: page.slice(document.length + 1) };
      const file = document ?? page;
      edits.set(file, [...(edits.get(file) ?? []), { ...editOf(row, place), ...fragment }]);
    }
  }
  const root = path.resolve(cwd, options.target);
  const folder = (await fs.stat(root)).isDirectory() ? root : path.dirname(root);
  let [texts, pages] = [0, 0];
  const pool = new ReaderPool(1);
  const formats = new Map(report.pages.map((p) => [p.document ?? p.path, p.format]));
  for (const [page, own] of edits) {
    const before = await fs.readFile(path.join(folder, page));
    const { bytes, changes, refusals } = await pool.write(sharedBytes(before), formats.get(page)!, page, own);
    left.push(...refusals.map((r) => s.refused(page, r.line, strings.message(r.reason))));
    if (changes.length === 0) continue;
    const file = path.resolve(cwd, out!, page);
    await fs.mkdir(path.dirname(file), { recursive: true });
    await fs.writeFile(file, bytes);
    texts += changes.length;
    pages++;
  }
  pool.close();
  return { text: [...left, s.changed(texts, pages, out!)].join('\n'), isWhole: left.length === 0 };
}

/** The places of a picture that say what one of them says: all of them get what its row says. */
const alikeOf = (shown: readonly Appearance[], of: Appearance): Appearance[] =>
  shown.filter((a) => a.picture === of.picture && saidKey(a) === saidKey(of));

const editOf = (row: ReadRow, { order }: Appearance): Edit => ({
  order,
  text: row.newAlt === DECORATIVE ? '' : row.newAlt,
});

/** The appearance that a row is about: by its page, its picture, and the text that it had. */
function match(
  row: ReadRow,
  there: readonly Appearance[],
  pictures: ReadonlyMap<string, string | null>,
): Appearance | string {
  const why = strings.lists.why;
  if (row.page === '' || row.picture === '') return why['no-key'];
  const own = there.filter(
    (a) =>
      a.src === row.picture ||
      row.picture.endsWith(`!/${a.src}`) ||
      (a.picture !== null && pictures.get(a.picture) === row.picture),
  );
  const same = own.filter((a) => row.alt === null || row.alt.trim() === (a.state === 'described' ? a.name : '').trim());
  if (own.length === 0) return why['not-found'];
  if (same.length === 0) return strings.cli.list.otherNow;
  if (same.length > 1 && new Set(same.map((a) => a.name)).size > 1) return why.several;
  if (row.newAlt === DECORATIVE && same[0]!.namesControl) return why['names-control'];
  return same[0]!;
}
