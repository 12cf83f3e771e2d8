import { UserError } from '@/core/model/user-error';
import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { promises as fs } from 'node:fs';
import path from 'node:path';
import { config } from '../config';

const CIPHER = 'aes-256-gcm';
const KEY_BYTES = 32;
const IV_BYTES = 12;
const TAG_BYTES = 16;

let key: Promise<Buffer> | null = null;

/** The key that the settings give, or that of this data folder, made when it is first needed; only its owner can read the file. */
function ownKey(): Promise<Buffer> {
  const given = config().key;
  return (key ??= given ? Promise.resolve(given) : readOrMakeKey(path.join(config().dataDir, 'secret.key')));
}

/** @throws Error in words when there is a file and it is no key */
export async function readOrMakeKey(file: string): Promise<Buffer> {
  await fs.mkdir(path.dirname(file), { recursive: true });
  try {
    await fs.writeFile(file, randomBytes(KEY_BYTES), { mode: 0o600, flag: 'wx' });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  }
  const bytes = await fs.readFile(file);
  if (bytes.length !== KEY_BYTES) throw new UserError(`${file} is not a key of Detto's. Put the right one back.`);
  return bytes;
}

/** Encrypts what is kept at rest and must not be read in a copy of the database (AES-256-GCM). */
export async function seal(text: string): Promise<string> {
  const iv = randomBytes(IV_BYTES);
  const cipher = createCipheriv(CIPHER, await ownKey(), iv);
  const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
  return Buffer.concat([iv, cipher.getAuthTag(), sealed]).toString('base64');
}

/** @throws Error in words when the key is another, or the text was changed */
export async function unseal(sealed: string): Promise<string> {
  const bytes = Buffer.from(sealed, 'base64');
  const own = await ownKey();
  try {
    const decipher = createDecipheriv(CIPHER, own, bytes.subarray(0, IV_BYTES));
    decipher.setAuthTag(bytes.subarray(IV_BYTES, IV_BYTES + TAG_BYTES));
    const rest = bytes.subarray(IV_BYTES + TAG_BYTES);
    return Buffer.concat([decipher.update(rest), decipher.final()]).toString('utf8');
  } catch {
    throw new UserError('The sign-in of the site cannot be read with the key that Detto has. Enter it again.');
  }
}
