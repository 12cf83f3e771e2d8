import { stat } from 'node:fs/promises';
import type { FileTree } from './file-source';
import { FolderTree } from './folder-tree';
import { ZipTree } from './zip-tree';

/**
 * The files at a path: of a folder, of a ZIP that is named as one, or one document or page by itself.
 *
 * @throws UserError when there is nothing, or a ZIP that Detto does not open
 */
export async function openTree(target: string): Promise<FileTree> {
  const isZip = /\.zip$/i.test(target) && (await stat(target).catch(() => null))?.isFile();
  return isZip ? ZipTree.open(target) : FolderTree.open(target);
}
