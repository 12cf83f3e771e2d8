import { UserError } from '@/core/model/user-error';
import { promises as fs } from 'node:fs';
import path from 'node:path';
import type { Message } from '@/core/model/message';
import type { Cause } from '@/contract/survey';
import { isSafePath, type FileTree } from './file-source';
import { LIMITS, Skipped, tooBig } from './source';

/** Folders that belong to tools, not to a site. */
const TOOL_FOLDERS = new Set(['node_modules', '.git', '.svn', '.hg', '__MACOSX']);

/** A folder on this machine. Links are followed only inside the folder, and no folder is visited twice. */
export class FolderTree implements FileTree {
  private constructor(
    private readonly root: string,
    private readonly only: string | null,
  ) {}

  /**
   * @param target a folder, or one file in it, which is then the only page
   * @throws Error in words when there is no such folder
   */
  static async open(target: string): Promise<FolderTree> {
    let real: string;
    try {
      real = await fs.realpath(target);
    } catch {
      throw new UserError(`There is no folder or file at ${target}.`);
    }
    const stat = await fs.stat(real);
    if (stat.isDirectory()) return new FolderTree(real, null);
    if (stat.isFile()) return new FolderTree(path.dirname(real), path.basename(real));
    throw new UserError(`${target} is neither a folder nor a file.`);
  }

  async list() {
    const files: { path: string; size: number }[] = [];
    const skipped: { address: string; skipped: Skipped }[] = [];
    const pass = (address: string, reason: Message, cause?: Cause) =>
      skipped.push({ address, skipped: new Skipped(reason, cause) });
    if (this.only) {
      const { size } = await fs.stat(path.join(this.root, this.only));
      return { files: [{ path: this.only, size }], skipped };
    }
    const visited = new Set<string>([this.root]);
    const folders = [''];
    while (folders.length > 0) {
      const folder = folders.pop()!;
      const entries = await fs.readdir(path.join(this.root, folder), { withFileTypes: true }).catch(() => null);
      if (!entries) {
        pass(folder, { id: 'skip.folder-unreadable' });
        continue;
      }
      for (const entry of entries) {
        const file = folder ? `${folder}/${entry.name}` : entry.name;
        if (TOOL_FOLDERS.has(entry.name)) continue;
        const found = await this.follow(file).catch((error: unknown) => {
          pass(file, error instanceof Skipped ? error.reason : { id: 'skip.file-unreadable' });
          return null;
        });
        if (!found) continue;
        if (!found.directory) files.push({ path: file, size: found.size });
        else if (!visited.has(found.real)) {
          visited.add(found.real);
          folders.push(file);
        } else if (entry.isSymbolicLink()) pass(file, { id: 'skip.link-to-known-folder' }, 'same-page');
        if (files.length > LIMITS.files) {
          pass(file, { id: 'skip.too-many-files', values: { limit: LIMITS.files } }, 'limit');
          return { files: sorted(files), skipped };
        }
      }
    }
    return { files: sorted(files), skipped };
  }

  async read(file: string, limit: number): Promise<Buffer> {
    if (!isSafePath(file)) throw new Skipped({ id: 'skip.outside-folder' });
    const found = await this.follow(file);
    if (found.directory) throw new Skipped({ id: 'skip.is-folder' });
    if (found.size > limit) throw tooBig(found.size, limit, 'file');
    return fs.readFile(found.real);
  }

  private async follow(file: string): Promise<{ real: string; directory: boolean; size: number }> {
    let real: string;
    try {
      real = await fs.realpath(path.join(this.root, file));
    } catch (error) {
      const code = (error as NodeJS.ErrnoException).code;
      throw code === 'ELOOP'
        ? new Skipped({ id: 'skip.link-to-itself' })
        : new Skipped({ id: 'skip.no-file' }, 'not-found');
    }
    if (real !== this.root && !real.startsWith(this.root + path.sep))
      throw new Skipped({ id: 'skip.link-outside-folder' });
    const stat = await fs.stat(real);
    if (!stat.isDirectory() && !stat.isFile()) throw new Skipped({ id: 'skip.neither-file-nor-folder' });
    return { real, directory: stat.isDirectory(), size: stat.size };
  }

  async close(): Promise<void> {
    // Nothing is held open.
  }
}

function sorted(files: { path: string; size: number }[]) {
  return files.sort((a, b) => (a.path < b.path ? -1 : 1));
}
