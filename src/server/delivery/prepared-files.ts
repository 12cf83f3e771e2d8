import { promises as fs } from 'node:fs';
import path from 'node:path';
import { config } from '../config';
import { ensureRoom } from '../disk';

/** Where documents with their texts in place are kept until they are delivered, by the key of the prepared document. */
const root = (): string => path.join(/* turbopackIgnore: true */ config().dataDir, 'prepared');
const folderOf = (collectionId: string): string => path.join(root(), collectionId);
const fileOf = (collectionId: string, key: string): string => path.join(folderOf(collectionId), key);

/** @throws DiskFullError when the reserve for editors' words would be touched */
export async function keepPrepared(collectionId: string, key: string, bytes: Uint8Array): Promise<void> {
  const file = fileOf(collectionId, key);
  await fs.mkdir(path.dirname(file), { recursive: true, mode: 0o700 });
  await ensureRoom(root(), bytes.byteLength, config().reserve);
  // Whoever finds a file under its name finds all of it.
  await fs.writeFile(`${file}.part`, bytes, { mode: 0o600 });
  await fs.rename(`${file}.part`, file);
}

/** The bytes of a prepared document; null when they are not there any more. */
export async function readPrepared(collectionId: string, key: string): Promise<Buffer | null> {
  return fs.readFile(fileOf(collectionId, key)).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });
}

/** Removes what no document of a collection needs any more. @param keys those that are needed */
export async function keepOnly(collectionId: string, keys: ReadonlySet<string>): Promise<void> {
  const names = await fs.readdir(folderOf(collectionId)).catch(() => []);
  for (const name of names) if (!keys.has(name)) await fs.rm(fileOf(collectionId, name), { force: true });
}

/** Removes what belongs to no collection any more. */
export async function removePreparedOf(collections: ReadonlySet<string>): Promise<void> {
  for (const name of await fs.readdir(root()).catch(() => []))
    if (!collections.has(name)) await fs.rm(path.join(root(), name), { recursive: true, force: true });
}
