import { config } from '../config';
import type { Collection } from '../collections/collections';
import { FileSource } from './file-source';
import { FolderTree } from './folder-tree';
import { SiteSource } from './site-source';
import type { Source } from './source';
import { ZipTree } from './zip-tree';

/** @throws Error in words when the collection cannot be reached at all */
export async function openSource(
  c: Pick<Collection, 'kind' | 'root' | 'scope'>,
  signal?: AbortSignal,
): Promise<Source> {
  switch (c.kind) {
    case 'site':
      return new SiteSource(c.root, config().allowedHosts, signal, c.scope);
    case 'zip':
      return new FileSource(await ZipTree.open(c.root));
    case 'folder':
    case 'upload':
      return new FileSource(await FolderTree.open(c.root));
  }
}
