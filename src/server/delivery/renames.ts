import { and, asc, eq, isNotNull, sql } from 'drizzle-orm';
import type { Rename } from '@/contract/delivery';
import { decodedPath } from '@/core/formats/html/decoded-path';
import { withFileName } from '@/core/picture/file-name';
import type { Collection } from '../catalogue/collections';
import { database } from '../db/database';
import { picture } from '../db/schema';
import { csvLine } from '@/core/lists/list-table';

/** A list of files to rename, as a file. */
export interface ListFile {
  name: string;
  type: string;
  bytes: Buffer;
}

/** Every file that is to be renamed, with its address now and then. */
export async function renamesOf(c: Pick<Collection, 'id'>): Promise<Rename[]> {
  const db = await database();
  const rows = await db
    .select({ pictureId: picture.id, src: picture.src, fileName: picture.fileName, uses: picture.appearances })
    .from(picture)
    .where(and(eq(picture.collectionId, c.id), isNotNull(picture.fileName), sql`${picture.appearances} > 0`))
    .orderBy(asc(picture.src), asc(picture.id));
  const renames = rows.map(({ src, fileName, ...row }) => ({ ...row, from: src!, to: withFileName(src!, fileName!) }));
  const taken = new Map<string, number>();
  for (const { to } of renames) taken.set(to, (taken.get(to) ?? 0) + 1);
  return renames.map((r) => ({ ...r, isTaken: taken.get(r.to)! > 1 }));
}

/** The part of an address that a server sees; a path of a folder as it is seen from its root. */
function pathOf(address: string): string {
  if (/^https?:/i.test(address)) return new URL(address).pathname;
  return `/${address.split('/').map(encodeURIComponent).join('/')}`;
}

/** Quotes a path where a space would end it. */
const quoted = (path: string) => (/\s/.test(path) ? `"${path}"` : path);

/**
 * Characters that mean something in the settings of a server, quoted or not: they end a line or a directive, begin a
 * block, a comment or a variable, or escape what follows.
 */

const MEANS_MORE = /[\u0000-\u001f\u007f"'\\;{}$#]/;

/** Renames as redirects, one a line; those whose name means something to a server are left out, and said. */
function redirects(renames: readonly Rename[], line: (from: string, to: string) => string): string {
  return renames
    .map((r) => {
      const [from, to] = [decodedPath(pathOf(r.from)), pathOf(r.to)];
      return MEANS_MORE.test(from) || MEANS_MORE.test(to)
        ? `# ${LEFT_OUT}: ${encodeURI(from).replace(/[^\w%/.~-]/g, encodeURIComponent)}\n`
        : line(quoted(from), quoted(to));
    })
    .join('');
}

const LEFT_OUT = 'Left out, since its name holds characters that mean something here';

/** How a list of renames is written: for people, and as redirects that two widely used servers read. */
const FORMS: Readonly<Record<string, { type: string; write(renames: readonly Rename[]): string }>> = {
  'renames.csv': {
    type: 'text/csv; charset=utf-8',
    write: (renames) =>
      [['old address', 'new address', 'used in places'], ...renames.map((r) => [r.from, r.to, r.uses])]
        .map(csvLine)
        .join(''),
  },
  // mod_alias of the Apache HTTP Server: Redirect permanent URL-path URL-path.
  'redirects-apache.conf': {
    type: 'text/plain; charset=utf-8',
    write: (renames) => redirects(renames, (from, to) => `Redirect permanent ${from} ${to}\n`),
  },
  // ngx_http_rewrite_module: return code URL.
  'redirects-nginx.conf': {
    type: 'text/plain; charset=utf-8',
    write: (renames) => redirects(renames, (from, to) => `location = ${from} { return 301 ${to}; }\n`),
  },
};

export const isRenameList = (name: string): boolean => Object.hasOwn(FORMS, name);

/** The text of a list of renames. @param name of the list's file */
export const renamesAs = (name: string, renames: readonly Rename[]): string => FORMS[name]!.write(renames);

/** A list of what is to be renamed, as a file; files that would get one name are left out. */
export async function renameList(c: Pick<Collection, 'id'>, name: string): Promise<ListFile> {
  const { type, write } = FORMS[name]!;
  const renames = (await renamesOf(c)).filter((r) => !r.isTaken);
  return { name, type, bytes: Buffer.from(write(renames)) };
}
