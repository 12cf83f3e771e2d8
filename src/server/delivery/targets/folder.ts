import { promises as fs } from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { UserError } from '@/core/model/user-error';
import { hashOf } from '../../blobs/blobs';
import { config } from '../../config';
import { isSafePath } from '../../survey/file-source';
import { refuse, type DeliveryTarget, type DeliveryWriter } from './target';

const Configuration = z.object({
  folder: z.string().trim().min(1, 'Give the whole path of the folder.').max(4_000).meta({ label: 'Folder' }),
});
type Configuration = z.infer<typeof Configuration>;

/** A file as a target finds it: its real path, and its bytes; null where there is none. */
interface Found {
  real: string;
  bytes: Buffer | null;
}

/**
 * The documents in a folder of this machine, such as the one that was surveyed. Each is written beside the file that it
 * replaces and takes its name in one step, so that nobody ever finds half of one; a copy of what was there is kept.
 */
export const folderTarget: DeliveryTarget<Configuration> = {
  id: 'folder',
  configuration: Configuration,
  defaults: ({ kind, root }) => {
    if (!config().localFolders || kind === 'upload' || kind === 'zip') return null;
    return { folder: kind === 'folder' ? root : '' };
  },
  keepsWhatItTook: true,
  takes: () => true,

  async plan(document, configuration) {
    const { bytes } = await checked(await rootOf(configuration), document);
    return { creates: bytes === null };
  },

  async open({ configuration, folder, startedAt }) {
    const root = await rootOf(configuration);
    const backup = backupFolder(folder, startedAt);
    return {
      async write(document) {
        const { real, bytes } = await checked(root, document);
        const receipt = { address: real, hashBefore: document.hashBefore, hashAfter: document.hashAfter };
        // Written already by this delivery, before the process ended.
        if (bytes && (await hashOf(bytes)) === document.hashAfter) return receipt;
        if (bytes) await writeWhole(path.join(backup, path.relative(root, real)), bytes);
        await replace(real, await document.after());
        return receipt;
      },
      finish: async () => null,
      abandon: async () => undefined,
    } satisfies DeliveryWriter;
  },

  async undo({ address, hashBefore, hashAfter }, { configuration, folder, startedAt }) {
    const root = await rootOf(configuration);
    const now = await readOrNull(address);
    const hash = now && (await hashOf(now));
    if (hash === hashBefore) return;
    if (hash !== hashAfter) throw refuse('target.changed-since-delivery');
    if (hashBefore === null) return fs.unlink(address);
    const kept = await readOrNull(path.join(backupFolder(folder, startedAt), path.relative(root, address)));
    if (!kept || (await hashOf(kept)) !== hashBefore) throw refuse('target.no-backup');
    await replace(address, kept);
  },

  async verify({ address, hashAfter }) {
    const now = await readOrNull(address);
    return now === null ? 'gone' : (await hashOf(now)) === hashAfter ? 'as-written' : 'different';
  },
};

/** Named after the time of the delivery, so that people find it as well. */
const backupFolder = (folder: string, startedAt: Date): string =>
  path.join(folder, `backup-${startedAt.toISOString().slice(0, 19).replace(/:/g, '-')}`);

/** @throws UserError when there is no such folder, or none may be written here */
async function rootOf({ folder }: Configuration): Promise<string> {
  if (!config().localFolders) throw new UserError({ id: 'target.folders-only-here' });
  if (!path.isAbsolute(folder)) throw new UserError({ id: 'target.whole-path' });
  const real = await fs.realpath(folder).catch(() => null);
  const stat = real === null ? null : await fs.stat(real);
  if (real === null || !stat) throw new UserError({ id: 'target.no-folder', values: { folder } });
  if (real === config().dataDir || real.startsWith(config().dataDir + path.sep))
    throw new UserError({ id: 'target.own-folder' });
  // A collection may be one file; its folder is where that belongs.
  return stat.isDirectory() ? real : path.dirname(real);
}

/**
 * The file that a document is to replace, checked to be what was surveyed.
 *
 * @throws DocumentRefusedError when it is not, or leads out of the folder
 */
async function checked(
  root: string,
  {
    file,
    isNew,
    hashBefore,
    hashAfter,
  }: { file: string; isNew: boolean; hashBefore: string | null; hashAfter: string },
): Promise<Found> {
  if (!isSafePath(file)) throw refuse('target.outside');
  const wanted = path.join(root, file);
  const parent = await fs.realpath(path.dirname(wanted)).catch(() => null);
  if (parent === null) throw refuse('target.missing');
  const real = (await fs.realpath(wanted).catch(() => null)) ?? path.join(parent, path.basename(wanted));
  if (!real.startsWith(root + path.sep)) throw refuse('target.outside');
  const bytes = await readOrNull(real);
  const hash = bytes && (await hashOf(bytes));
  if (hash === hashAfter || hash === hashBefore) return { real, bytes };
  throw refuse(bytes === null ? 'target.missing' : isNew ? 'target.exists' : 'target.changed');
}

/** @throws DocumentRefusedError when there is something that cannot be read */
async function readOrNull(file: string): Promise<Buffer | null> {
  try {
    return await fs.readFile(file);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw asRefused(error);
  }
}

/** Puts a file in the place of another in one step, with the permissions of that one. */
async function replace(file: string, bytes: Buffer): Promise<void> {
  try {
    const mode = await fs.stat(file).then(
      (s) => s.mode & 0o7777,
      () => undefined,
    );
    await writeWhole(file, bytes, mode);
  } catch (error) {
    throw asRefused(error);
  }
}

/** Writes beside the place, to the disk, and takes the name. */
async function writeWhole(file: string, bytes: Buffer, mode?: number): Promise<void> {
  await fs.mkdir(path.dirname(file), { recursive: true });
  const beside = path.join(path.dirname(file), `.${path.basename(file)}.detto-part`);
  // Never through a link that somebody has put there.
  await fs.rm(beside, { force: true });
  const handle = await fs.open(beside, 'wx');
  try {
    await handle.writeFile(bytes);
    if (mode !== undefined) await handle.chmod(mode);
    await handle.sync();
    await handle.close();
    await fs.rename(beside, file);
  } catch (error) {
    await handle.close().catch(() => undefined);
    await fs.rm(beside, { force: true }).catch(() => undefined);
    throw error;
  }
}

const DENIED: readonly unknown[] = ['EACCES', 'EPERM', 'EROFS', 'EISDIR', 'ENOTDIR', 'ETXTBSY'];

/** What the file system forbids concerns one document; what is full or broken concerns the whole delivery. */
function asRefused(error: unknown): unknown {
  return DENIED.includes((error as NodeJS.ErrnoException).code) ? refuse('target.not-writable') : error;
}
