import { promises as fs } from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { uniquePlaces } from '@/core/formats/unique-places';
import { DocumentError } from '@/core/formats/document-error';
import { documentContextOf } from '@/core/house-style/house-style';
import type { BookMetadata, Edit, FormatId } from '@/core/model/document';
import { sharedBytes } from '@/server/workers/shared-bytes';
import { readList, type ReadRow } from '@/core/lists/read-list';
import { cellText, DECORATIVE } from '@/core/lists/list-table';
import { ownText, readTable } from '@/core/lists/table-file';
import type { GatheredPage } from '@/server/survey/store';
import { ReaderPool } from '@/server/workers/reader-pool';
import { strings } from '@/ui/strings';
import { UsageError, type ApplyOptions } from './arguments';
import { gather } from './audit';
import { inOrder } from './report';

/** What was done to one document. */
interface AppliedDocument {
  path: string;
  /** `page` and `place` as a row names them. */
  changes: { page: string; place: string; before: string; after: string }[];
  refusals: { page: string; place: string; reason: string }[];
  warnings: string[];
  /** Why nothing of it was written; absent where it was. */
  reason?: string;
}

export interface Applied {
  documents: AppliedDocument[];
}

/** A row of a list of words, as it was written. */
interface WordsRow {
  /** In the file, from 1; under a line of names, from 2. */
  number: number;
  page: string;
  place: string;
  appearance: string;
  src: string;
  alt: string;
  decorative: string;
  /** The text that the list was made with, where it says it. */
  was?: string;
  /** It stands for several places of a picture. */
  isForSeveral?: boolean;
}

const KEYS = ['page', 'place', 'appearance', 'src', 'alt', 'decorative'] as const;
const Json = z.array(z.record(z.string(), z.unknown()));
/** Words of a row; a longer text was made to be in the way. */
const LONGEST = 100_000;

/** @throws UsageError in words when the list cannot be read */
async function readWords(file: string): Promise<WordsRow[]> {
  const s = strings.cli.apply;
  const bytes = await fs.readFile(file).catch(() => {
    throw new UsageError(s.noList(file));
  });
  const rowOf = (number: number, value: (key: (typeof KEYS)[number]) => unknown): WordsRow => {
    const own = Object.fromEntries(
      KEYS.map((key) => [key, value(key) === undefined || value(key) === null ? '' : String(value(key))]),
    );
    return { number, ...own } as unknown as WordsRow;
  };
  const text = bytes.toString('utf8').replace(/^\ufeff/, '');
  if (/\.json$/i.test(file) || /^\s*\[/.test(text)) {
    let rows: z.infer<typeof Json>;
    try {
      rows = Json.parse(JSON.parse(text));
    } catch {
      throw new UsageError(s.noJson(file));
    }
    if (rows.some((row) => 'newAlt' in row)) return (await readList(bytes)).rows.map(fromList);
    return rows.map((row, i) => rowOf(i + 1, (key) => row[key]));
  }
  const { rows: table } = await readTable(bytes);
  const [head = [], ...rows] = table;
  const columns = head.map((name) => name.trim().toLowerCase());
  if (columns.includes('new alt text')) return (await readList(bytes)).rows.map(fromList);
  if (!columns.includes('alt') && !columns.includes('decorative')) throw new UsageError(s.noColumns(file));
  return rows.map((row, i) => rowOf(i + 2, (key) => cellText(ownText(row[columns.indexOf(key)] ?? ''))));
}

/** A row of a list that Detto wrote, as `list` does. */
const fromList = (row: ReadRow): WordsRow => ({
  ...{ number: row.row, page: row.page, place: '', appearance: '', src: row.picture },
  alt: row.newAlt === DECORATIVE ? '' : row.newAlt,
  decorative: row.newAlt === DECORATIVE ? 'true' : '',
  ...(row.alt === null ? {} : { was: row.alt }),
  isForSeveral: row.isForPicture,
});

/** Whether a folder is another one, or stands in it. */
const isWithin = (folder: string, other: string) => folder === other || folder.startsWith(other + path.sep);

/** The real path of what may not be there yet. */
async function realPath(target: string): Promise<string> {
  const real = await fs.realpath(target).catch(() => null);
  if (real !== null) return real;
  const parent = path.dirname(target);
  return parent === target ? target : path.join(await realPath(parent), path.basename(target));
}

/** A place that a row can name. */
interface Place {
  id: string;
  page: GatheredPage;
  order: number;
  place: string;
  src: string | null;
  before: string;
}

/**
 * Writes the words of a list into copies of documents and pages.
 *
 * @throws UsageError or Error in words when the list or the target cannot be read, or the copies would stand among the originals
 */
export async function apply(options: ApplyOptions, cwd: string, progress: (line: string) => void): Promise<Applied> {
  const s = strings.cli.apply;
  const rows = await readWords(path.resolve(cwd, options.words));
  const root = await fs.realpath(path.resolve(cwd, options.audit.target)).catch(() => {
    throw new UsageError(s.noTarget(options.audit.target));
  });
  if (/\.zip$/i.test(root)) throw new UsageError(s.noZip(options.audit.target));
  const isFolder = (await fs.stat(root)).isDirectory();
  const folder = isFolder ? root : path.dirname(root);
  const out = await realPath(path.resolve(cwd, options.out));
  if (isFolder ? isWithin(out, folder) : out === folder) throw new UsageError(s.outInside(options.out));

  const { store, style } = await gather(options.audit, cwd, progress, 'places');
  const places = placesOf(inOrder(store.pages));
  const documents = new Map<string, AppliedDocument>();
  const documentAt = (name: string): AppliedDocument => {
    const known = documents.get(name) ?? { path: name, changes: [], refusals: [], warnings: [] };
    documents.set(name, known);
    return known;
  };
  const unreadable = new Map(store.skipped.map(({ address, reason }) => [address, strings.message(reason)]));
  const wanted = new Map<string, { place: Place; edit: Edit }[]>();
  const taken = new Set<string>();
  for (const row of rows) {
    const isMarked = row.decorative.trim().toLowerCase() === 'true';
    if (row.alt.trim() === '' && !isMarked && /^(?:false)?$/i.test(row.decorative.trim())) continue;
    const named = documentOf(row.page, store.pages);
    const reason = unreadable.get(named);
    if (reason !== undefined) {
      documentAt(named).reason = reason;
      continue;
    }
    const found = matching(row, places, taken);
    const refuse = (why: string) =>
      documentAt(typeof found === 'string' ? named : fileOf(found.page)).refusals.push({
        page: row.page,
        place: row.place || row.src || row.appearance,
        reason: s.row(row.number, why),
      });
    if (typeof found === 'string') refuse(found);
    else if (!/^(?:true|false)?$/i.test(row.decorative.trim())) refuse(s.decorativeValue);
    else if (isMarked && row.alt.trim() !== '') refuse(s.bothValues);
    else if (row.alt.length > LONGEST) refuse(s.tooLong);
    else if (row.isForSeveral) refuse(s.forPicture);
    else if (taken.has(found.id)) refuse(s.twice);
    else {
      taken.add(found.id);
      const edit: Edit = { order: found.order, text: isMarked ? '' : row.alt, ...fragmentOf(found.page) };
      const name = fileOf(found.page);
      wanted.set(name, [...(wanted.get(name) ?? []), { place: found, edit }]);
    }
  }
  const pool = new ReaderPool(1);
  const { book } = documentContextOf(style);
  try {
    for (const [name, own] of wanted) {
      progress(s.writing(name));
      await writeOne(pool, documentAt(name), own, path.join(folder, name), path.join(out, name), book);
    }
  } finally {
    pool.close();
  }
  return { documents: [...documents.values()].sort((a, b) => (a.path < b.path ? -1 : 1)) };
}

const fileOf = (page: GatheredPage): string => page.document ?? page.address;
const fragmentOf = ({ address, document }: GatheredPage): { fragment?: string } =>
  document === null ? {} : { fragment: address.slice(document.length + 1) };

const keyOf = ({ page, place }: Place) => ({ page: page.address, place });

function placesOf(pages: readonly GatheredPage[]): Place[] {
  return (
    pages
      .flatMap((page) => {
        const keys = uniquePlaces(page.reading.appearances);
        return page.reading.appearances.map((a, i) => ({
          id: '',
          page,
          order: a.order,
          place: keys[i]!,
          src: page.pictureOf[a.order] ?? a.markup.src,
          before: a.state === 'described' ? a.accessible.name : '',
        }));
      })
      // As the ids of an audit's report are given.
      .map((place, i) => ({ ...place, id: `a${i + 1}` }))
  );
}

/** The file that a row's page is in, also where that page does not exist. */
function documentOf(page: string, pages: readonly GatheredPage[]): string {
  const known = pages.find((p) => p.address === page);
  return known ? fileOf(known) : page.replace(/#[a-z]+=\d+$/, '');
}

/** The place that a row names, or why it names none. */
function matching(row: WordsRow, places: readonly Place[], taken: ReadonlySet<string>): Place | string {
  const s = strings.cli.apply;
  if (row.appearance !== '') return places.find((p) => p.id === row.appearance) ?? s.noAppearance(row.appearance);
  const there = places.filter((p) => p.page.address === row.page);
  if (there.length === 0) return row.page === '' ? s.noKey : s.noPage(row.page);
  if (row.place !== '') {
    const found = there.find((p) => p.place === row.place);
    return found ?? s.noPlace(row.place);
  }
  if (row.src === '') return s.noKey;
  const shown = there.filter((p) => p.src === row.src || p.src === `${fileOf(p.page)}!/${row.src}`);
  if (shown.length === 0) return s.noPicture(row.src);
  if (shown.length === 1) return shown[0]!;
  // Rows of one page that look the same are for its places one after the other.
  const same = row.was === undefined ? [] : shown.filter((p) => p.before.trim() === row.was!.trim());
  return same.find((p) => !taken.has(p.id)) ?? s.severalPlaces(row.src, shown.length);
}

async function writeOne(
  pool: ReaderPool,
  document: AppliedDocument,
  own: readonly { place: Place; edit: Edit }[],
  from: string,
  to: string,
  book: BookMetadata,
): Promise<void> {
  const { page } = own[0]!.place;
  const format: FormatId = page.format;
  const bytes = await fs.readFile(from);
  try {
    const context = {
      modified: new Date().toISOString().replace(/\.\d+/, ''),
      ...(page.transport ? { transport: page.transport } : {}),
      ...(page.frontMatter ? { frontMatter: page.frontMatter } : {}),
      book,
    };
    const edits = own.map((o) => o.edit);
    const written = await pool.write(sharedBytes(bytes), format, from, edits, context);
    const placeAt = ({ fragment = null, order }: Pick<Edit, 'fragment' | 'order'>) =>
      own.find(({ edit }) => edit.order === order && (edit.fragment ?? null) === fragment)!.place;
    document.refusals.push(
      ...written.refusals.map((r) => ({ ...keyOf(placeAt(r)), reason: strings.message(r.reason) })),
    );
    document.changes.push(
      ...written.changes.map((c) => {
        const place = placeAt(c);
        const text = own.find((o) => o.place === place)!.edit.text!;
        return { ...keyOf(place), before: place.before, after: text };
      }),
    );
    document.warnings.push(...(written.warnings ?? []).map((w) => strings.message(w)));
    await fs.mkdir(path.dirname(to), { recursive: true });
    await fs.writeFile(to, written.bytes);
  } catch (error) {
    if (!(error instanceof DocumentError)) throw error;
    document.reason = strings.message(error.reason);
  }
}

/** Whether every row was written. */
export const isWhole = ({ documents }: Applied): boolean =>
  documents.every((d) => d.reason === undefined && d.refusals.length === 0);

/** A place as it is said under its document. */
const shown = (d: AppliedDocument, { page, place }: { page: string; place: string }) =>
  page.startsWith(`${d.path}#`) ? `${page.slice(d.path.length)} ${place}` : place;

/** What was done, for people. */
export function appliedText({ documents }: Applied): string {
  const s = strings.cli.apply;
  return documents
    .flatMap((d) => [
      d.reason === undefined ? s.document(d.path, d.changes.length) : s.notWritten(d.path, d.reason),
      ...d.changes.map((c) => s.change(shown(d, c), c.before, c.after)),
      ...d.refusals.map((r) => s.refused(shown(d, r), r.reason)),
      ...d.warnings.map((w) => `  ${w}`),
    ])
    .join('\n');
}
