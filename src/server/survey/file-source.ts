import path from 'node:path';
import { formatOfName } from '@/core/formats';
import { MANIFEST, readManifest, type CoursePage } from '@/core/formats/course-package';
import { decodedPath } from '@/core/formats/html/decoded-path';
import type { FormatId } from '@/core/model/document';
import { asSkipped, LIMITS, Skipped, tooBig, type FetchedPage, type FetchedPicture, type Source } from './source';

/** Files by their path with forward slashes, below one root: a folder or a ZIP. */
export interface FileTree {
  /** All files, sorted, and what was passed over with the reason. */
  list(): Promise<{ files: { path: string; size: number }[]; skipped: { address: string; skipped: Skipped }[] }>;
  /** @throws Skipped when there is no such file or it may not be read */
  read(file: string, limit: number): Promise<Buffer>;
  close(): Promise<void>;
}

/** Office files of before 2007, by the ending of what they can be saved as. */
const OLD_OFFICE: Record<string, string> = {
  doc: 'docx',
  dot: 'docx',
  ppt: 'pptx',
  pps: 'pptx',
  xls: 'xlsx',
  xlt: 'xlsx',
};
/** Files that office programs keep beside an open document. */
const LOCK_FILE = /(?:^|\/)(?:~\$|\.~lock\.)/;

/** A folder or ZIP of pages and documents: every one of them is read, and nothing is fetched from elsewhere. */
export class FileSource implements Source {
  readonly isSite = false;
  readonly obeysRobots = true;
  private sizes: Map<string, number> | null = null;
  /** The pages of a course by their paths, with their places in it. */
  private readonly course = new Map<string, CoursePage & { rank: number }>();

  constructor(private readonly tree: FileTree) {}

  async seeds() {
    const { files, skipped } = await this.tree.list();
    this.sizes = new Map(files.map((f) => [f.path, f.size]));
    const known = files
      .filter((f) => !LOCK_FILE.test(f.path))
      .map((f) => ({ path: f.path, format: formatOfName(f.path) }));
    const drawings = known.filter((f) => f.format === 'svg');
    const others = known.filter((f) => f.format !== null && f.format !== 'svg');
    // Where pages show drawings they are pictures; alone they are documents.
    const documents = others.length > 0 ? others : drawings;
    for (const { path: file } of files) {
      const ending = OLD_OFFICE[path.posix.extname(file).slice(1).toLowerCase()];
      if (ending) skipped.push({ address: file, skipped: new Skipped({ id: 'document.old', values: { ending } }) });
    }
    if (this.sizes.has(MANIFEST)) await this.readCourse(skipped);
    const rank = (file: string) => this.course.get(file)?.rank ?? Infinity;
    const addresses = documents.map((f) => f.path).sort((a, b) => (rank(a) === rank(b) ? 0 : rank(a) - rank(b)));
    return { addresses, skipped };
  }

  private async readCourse(skipped: { address: string; skipped: Skipped }[]): Promise<void> {
    try {
      const pages = readManifest(await this.tree.read(MANIFEST, LIMITS.page));
      pages.forEach((page, rank) => this.course.set(page.path, { ...page, rank }));
    } catch (error) {
      skipped.push({ address: MANIFEST, skipped: asSkipped(error) });
    }
  }

  async page(address: string): Promise<FetchedPage> {
    // What is handed over as a page is one, whatever it is called.
    const format: FormatId = formatOfName(address) ?? 'html';
    const bytes = await this.read(
      address,
      format === 'html' ? LIMITS.page : LIMITS.document,
      format === 'html' ? 'page' : 'document',
    );
    const course = this.course.get(address);
    return {
      ...{ bytes, address, format, status: null, directives: [], etag: null, lastModified: null },
      ...(course ? { course: { title: course.title, rank: course.rank } } : {}),
    };
  }

  async picture(address: string): Promise<FetchedPicture> {
    if (/^https?:/.test(address)) throw new Skipped({ id: 'skip.on-the-web' }, 'elsewhere');
    return { bytes: await this.read(address, LIMITS.picture, 'picture'), etag: null, lastModified: null };
  }

  private async read(file: string, limit: number, what: 'page' | 'document' | 'picture'): Promise<Buffer> {
    const size = this.sizes?.get(file);
    if (size !== undefined && size > limit) throw tooBig(size, limit, what);
    return this.tree.read(file, limit);
  }

  /** Paths are resolved as a browser would with the root of the tree as the root of the site. */
  resolve(reference: string, page: string, base: string | null): string | null {
    const ref = reference.trim();
    try {
      const site = 'http://files.invalid/';
      const from = new URL(encodePath(page), site);
      const url = new URL(ref, base ? new URL(base, from) : from);
      if (url.origin !== new URL(site).origin) return /^https?:$/.test(url.protocol) ? url.href : null;
      return decodedPath(url.pathname).slice(1);
    } catch {
      return null;
    }
  }

  /** Every page is listed from the start; links add none. */
  outside(): 'no page' {
    return 'no page';
  }

  async close(): Promise<void> {
    await this.tree.close();
  }
}

const encodePath = (file: string) => file.split('/').map(encodeURIComponent).join('/');

/** True for a path that stays below its root: relative, no `..`, no drive, no backslash, no NUL. */
export function isSafePath(file: string): boolean {
  return (
    file !== '' &&
    !/[\\\0]/.test(file) &&
    !/^[a-z]:/i.test(file) &&
    !path.posix.isAbsolute(file) &&
    !file.split('/').includes('..')
  );
}
