import { cp, open, readdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { closeToOthers } from './data-folder';

/**
 * Copies the folder of a database that nobody has open. The copy is made beside its place, reaches the disk and is moved
 * there as a whole, so that a process that is killed, or a power failure, leaves no half of a database.
 *
 * @throws Error of the file system when it cannot be read or written
 */
export async function copyTemplate(template: string, folder: string): Promise<void> {
  const making = `${folder}.new`;
  await rm(making, { recursive: true, force: true });
  await cp(template, making, { recursive: true });
  // Who built Detto left the template readable for whoever runs it; a database is its owner's alone.
  await closeToOthers(making);
  for (const entry of await readdir(making, { withFileTypes: true, recursive: true }))
    if (entry.isFile()) await sync(path.join(entry.parentPath, entry.name));
  await rename(making, folder);
  await sync(path.dirname(folder));
}

async function sync(place: string): Promise<void> {
  const file = await open(place, 'r');
  try {
    await file.sync();
  } finally {
    await file.close();
  }
}
