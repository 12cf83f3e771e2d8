import { createWriteStream, promises as fs } from 'node:fs';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import yazl from 'yazl';
import { z } from 'zod';
import { isReadByLine } from '@/core/model/document';
import { UserError } from '@/core/model/user-error';
import { sharedReaders } from '../../workers/reader-pool';
import { sharedBytes } from '../../workers/shared-bytes';
import type { DeliveryContext, DeliveryTarget, DeliveryWriter, DownloadFile } from './target';

type Nothing = Record<string, never>;

/** What every download has in common: nothing is to be set, and nothing of it is anywhere until it is taken. */
const DOWNLOAD = {
  configuration: z.object({}) as unknown as DeliveryTarget<Nothing>['configuration'],
  defaults: () => ({}),
  keepsWhatItTook: false,
  plan: async () => ({ creates: false }),
} as const;

/** Where a download grows, and the name that it gets once it is whole. */
async function partOf({ folder }: DeliveryContext<Nothing>, name: string): Promise<{ part: string; whole: string }> {
  await fs.mkdir(folder, { recursive: true, mode: 0o700 });
  return { part: path.join(folder, `${name}.part`), whole: path.join(folder, name) };
}

async function finished(part: string, whole: string): Promise<DownloadFile> {
  await fs.rename(part, whole);
  return { name: path.basename(whole), bytes: (await fs.stat(whole)).size };
}

/** A ZIP of the changed and new documents, and nothing else. It is written to the disk as it grows. */
export const zipTarget: DeliveryTarget<Nothing> = {
  ...DOWNLOAD,
  id: 'zip',
  takes: () => true,
  async open(context) {
    const { part, whole } = await partOf(context, 'pages.zip');
    const zip = new yazl.ZipFile();
    const closing = new AbortController();
    const { signal } = closing;
    const written = pipeline(zip.outputStream as Readable, createWriteStream(part, { mode: 0o600 }), { signal });
    written.catch(() => undefined);
    return {
      async write({ file, after, hashBefore, hashAfter }) {
        const bytes = await after();
        // One after the other: an entry is asked for its bytes when the one before it has reached the disk.
        const taken = new Promise<void>((resolve) =>
          zip.addReadStreamLazy(file, { mtime: context.startedAt }, (give) =>
            give(null, Readable.from([bytes]).once('end', resolve)),
          ),
        );
        await Promise.race([taken, written]);
        return { address: file, hashBefore, hashAfter };
      },
      async finish() {
        zip.end();
        await written;
        return finished(part, whole);
      },
      async abandon() {
        closing.abort();
        await written.catch(() => undefined);
        await fs.rm(part, { force: true });
      },
    } satisfies DeliveryWriter;
  },
};

/** One unified diff of all documents that are read line by line. */
export const diffTarget: DeliveryTarget<Nothing> = {
  ...DOWNLOAD,
  id: 'diff',
  takes: isReadByLine,
  async open(context) {
    const { part, whole } = await partOf(context, 'changes.diff');
    const out = await fs.open(part, 'w', 0o600);
    return {
      async write({ file, before, after, isNew, hashBefore, hashAfter }) {
        const diff = await sharedReaders().diff(sharedBytes(await before()), sharedBytes(await after()), file, isNew);
        await out.appendFile(diff);
        return { address: file, hashBefore, hashAfter };
      },
      async finish() {
        await out.close();
        return finished(part, whole);
      },
      async abandon() {
        await out.close();
        await fs.rm(part, { force: true });
      },
    } satisfies DeliveryWriter;
  },
};

/** The one document that changes, as it will be. */
export const documentTarget: DeliveryTarget<Nothing> = {
  ...DOWNLOAD,
  id: 'document',
  takes: () => true,
  async open(context) {
    let paths: { part: string; whole: string } | null = null;
    return {
      async write({ file, after, hashBefore, hashAfter }) {
        if (paths) throw new UserError({ id: 'delivery.several' });
        paths = await partOf(context, path.posix.basename(file));
        await fs.writeFile(paths.part, await after(), { mode: 0o600 });
        return { address: file, hashBefore, hashAfter };
      },
      async finish() {
        return paths && finished(paths.part, paths.whole);
      },
      async abandon() {
        if (paths) await fs.rm(paths.part, { force: true });
      },
    } satisfies DeliveryWriter;
  },
};
