import path from 'node:path';
import { z } from 'zod';
import { config } from '../config';
import { FolderTree } from '../survey/folder-tree';
import { parseAddress } from '../survey/site-source';
import { startSurvey } from '../survey/surveys';
import { addCollection, type Collection } from './collections';

/** What a person asks for when they put a site or a folder on the shelf. */
export const Wanted = z.object({
  kind: z.enum(['site', 'folder']),
  where: z.string().trim().min(1, 'Say where the pages are.').max(2000),
  name: z.string().trim().min(1).max(120).optional(),
  maxPages: z.coerce.number().int().min(1).max(100_000).default(200),
  maxDepth: z.coerce.number().int().min(0).max(100).default(5),
});
export type Wanted = z.input<typeof Wanted>;

/**
 * Puts a site, or a folder of this machine, on the shelf and begins to survey it.
 *
 * @throws Error in words when there is no such place, or it may not be surveyed
 */
export async function beginCollection(asked: unknown): Promise<Collection> {
  const { kind, where, name, maxPages, maxDepth } = Wanted.parse(asked);
  let added: Collection;
  if (kind === 'site') {
    const url = parseAddress(where);
    added = await addCollection({ name: name ?? url.host, kind, root: url.href, maxPages, maxDepth });
  } else {
    if (!config().localFolders) throw new Error('Folders can be surveyed only where Detto runs on your own computer.');
    if (!path.isAbsolute(where)) throw new Error('Give the whole path of the folder, from the root.');
    const root = path.resolve(where);
    await FolderTree.open(root);
    added = await addCollection({ name: name ?? folderName(root), kind, root, maxPages: 100_000, maxDepth });
  }
  await startSurvey(added.id);
  return added;
}

/** Folders that are called the same everywhere are told apart by the one they are in. */
const COMMON_FOLDER =
  /^(?:[a-z]{2}(?:-[a-z]{2})?|html?|www|public(?:_html)?|dist|build|site|_site|docs?|out|output|web)$/i;

function folderName(root: string): string {
  const base = path.basename(root);
  return COMMON_FOLDER.test(base) ? path.join(path.basename(path.dirname(root)), base) : base;
}
