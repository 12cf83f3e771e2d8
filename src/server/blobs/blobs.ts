import { createHash, randomUUID } from 'node:crypto';
import { promises as fs } from 'node:fs';
import path from 'node:path';
import { config } from '../config';

const SHA256 = /^[0-9a-f]{64}$/;

function fileOf(sha256: string): string {
  if (!SHA256.test(sha256)) throw new Error('not the name of a stored file');
  return path.join(/* turbopackIgnore: true */ config().dataDir, 'files', sha256.slice(0, 2), sha256);
}

/** Keeps bytes under their SHA-256, which it gives back; a second time costs nothing. */
export async function keepFile(bytes: Buffer): Promise<string> {
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const file = fileOf(sha256);
  const there = await fs.stat(file).catch(() => null);
  if (there) return sha256;
  await fs.mkdir(path.dirname(file), { recursive: true });
  const temporary = `${file}.${randomUUID()}`;
  await fs.writeFile(temporary, bytes);
  await fs.rename(temporary, file);
  return sha256;
}

/** @throws Error with code ENOENT when there is no such file */
export function readFile(sha256: string): Promise<Buffer> {
  return fs.readFile(fileOf(sha256));
}
