import path from 'node:path';
import { decodedPath } from '@/core/formats/html/decoded-path';
import { LIMITS, Skipped, tooBig, type FetchedPage, type FetchedPicture, type Source } from './source';

/** Files by their path with forward slashes, below one root: a folder or a ZIP. */
export interface FileTree {
  /** All files, sorted, and what was passed over with the reason. */
  list(): Promise<{ files: { path: string; size: number }[]; skipped: { address: string; skipped: Skipped }[] }>;
  /** @throws Skipped when there is no such file or it may not be read */
  read(file: string, limit: number): Promise<Buffer>;
  close(): Promise<void>;
}

const PAGE = /\.(?:html?|xhtml?)$/i;

/** A folder or ZIP of pages: every HTML file is a page, and nothing is fetched from elsewhere. */
export class FileSource implements Source {
  readonly isSite = false;
  readonly obeysRobots = true;
  private sizes: Map<string, number> | null = null;

  constructor(private readonly tree: FileTree) {}

  async seeds() {
    const { files, skipped } = await this.tree.list();
    this.sizes = new Map(files.map((f) => [f.path, f.size]));
    return { addresses: files.filter((f) => PAGE.test(f.path)).map((f) => f.path), skipped };
  }

  async page(address: string): Promise<FetchedPage> {
    const bytes = await this.read(address, LIMITS.page, 'page');
    return { bytes, address, status: null, directives: [], etag: null, lastModified: null };
  }

  async picture(address: string): Promise<FetchedPicture> {
    if (/^https?:/.test(address)) throw new Skipped({ id: 'skip.on-the-web' }, 'elsewhere');
    return { bytes: await this.read(address, LIMITS.picture, 'picture'), etag: null, lastModified: null };
  }

  private async read(file: string, limit: number, what: 'page' | 'picture'): Promise<Buffer> {
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
