import { UserError } from '@/core/model/user-error';
import yauzl from 'yauzl';
import { isSafePath, type FileTree } from './file-source';
import { LIMITS, megabytes, Skipped, tooBig } from './source';

/** What the library says, in words where it speaks of the format's own fields. */
function notZip({ message }: Error): string {
  if (/absolute path|invalid relative path|invalid characters/i.test(message)) return 'The ZIP holds an unsafe name.';
  if (/end of central directory|signature not found/i.test(message)) return 'This is not a ZIP, or its end is missing.';
  return 'The ZIP is damaged: it cannot be read to its end.';
}

type Passed = Awaited<ReturnType<FileTree['list']>>['skipped'][number];

/** Bytes of a name, as file systems have it at most for a whole path of folders (`PATH_MAX` is 4,096). */
const LONGEST_NAME = 2_000;
/** Bytes of the fixed part of a local header (APPNOTE 4.3.7). */
const LOCAL_HEADER = 30;

/** Where an entry ends at least: its local header may have more in it than the directory tells. */
const leastEnd = (e: yauzl.Entry) => e.relativeOffsetOfLocalHeader + LOCAL_HEADER + e.fileNameLength + e.compressedSize;

/**
 * Entries that share bytes let a small file unpack to any size, each within its own limit.
 *
 * @throws Error in words when two overlap
 */
function refuseOverlaps(ranges: { start: number; end: number; name: string }[]): void {
  ranges.sort((a, b) => a.start - b.start);
  for (let i = 1; i < ranges.length; i++) {
    const [before, after] = [ranges[i - 1]!, ranges[i]!];
    if (after.start < before.end)
      throw new UserError(
        `In the ZIP, “${before.name.slice(0, 80)}” and “${after.name.slice(0, 80)}” share the same bytes; such a ZIP is not opened.`,
      );
  }
}

/** A ZIP, read in place: nothing is unpacked to disk, and what could be an attack is refused as a whole. */
export class ZipTree implements FileTree {
  private constructor(
    private readonly zip: yauzl.ZipFile,
    private readonly entries: Map<string, yauzl.Entry>,
    private readonly skipped: Passed[],
  ) {}

  /**
   * @param file its path, or what is in it
   * @throws Error in words when the file is no ZIP, or one that Detto does not open
   */
  static async open(file: string | Buffer, limits = LIMITS): Promise<ZipTree> {
    const zip = await new Promise<yauzl.ZipFile>((resolve, reject) => {
      const options = { lazyEntries: true, autoClose: false, strictFileNames: true };
      const opened = (error: Error | null, found: yauzl.ZipFile) =>
        error ? reject(new UserError(notZip(error))) : resolve(found);
      if (typeof file === 'string') yauzl.open(file, options, opened);
      else yauzl.fromBuffer(file, options, opened);
    });
    const entries = new Map<string, yauzl.Entry>();
    const skipped: Passed[] = [];
    const ranges: { start: number; end: number; name: string }[] = [];
    let total = 0;
    try {
      await new Promise<void>((resolve, reject) => {
        zip.on('error', (error: Error) => reject(new UserError(notZip(error))));
        zip.on('end', resolve);
        zip.on('entry', (entry: yauzl.Entry) => {
          const name = entry.fileName;
          total += entry.uncompressedSize;
          const ratio = entry.uncompressedSize / Math.max(1, entry.compressedSize);
          ranges.push({ start: entry.relativeOffsetOfLocalHeader, end: leastEnd(entry), name });
          if (Buffer.byteLength(name) > LONGEST_NAME) {
            const reason = { id: 'skip.long-name', values: { length: name.length } };
            skipped.push({ address: name, skipped: new Skipped(reason, 'size') });
            return zip.readEntry();
          }
          if (!isSafePath(name)) return reject(new UserError(`The ZIP holds an unsafe name, “${name}”.`));
          if (entries.size >= limits.zipEntries)
            return reject(new UserError(`The ZIP holds more than ${limits.zipEntries} files.`));
          if (total > limits.zip)
            return reject(new UserError(`Unpacked, the ZIP is over the limit of ${megabytes(limits.zip)}.`));
          if (entry.uncompressedSize > 1_048_576 && ratio > limits.zipRatio)
            return reject(
              new UserError(`“${name}” unpacks to ${Math.round(ratio)} times its size; such a ZIP is not opened.`),
            );
          if (entry.isEncrypted()) return reject(new UserError(`“${name}” is encrypted.`));
          if (entries.has(name)) return reject(new UserError(`The ZIP holds “${name}” twice.`));
          entries.set(name, entry);
          zip.readEntry();
        });
        zip.readEntry();
      });
      refuseOverlaps(ranges);
    } catch (error) {
      zip.close();
      throw error;
    }
    return new ZipTree(zip, entries, skipped);
  }

  async list() {
    const files = [...this.entries.values()]
      .filter((e) => !e.fileName.endsWith('/') && !e.fileName.startsWith('__MACOSX/'))
      .map((e) => ({ path: e.fileName, size: e.uncompressedSize }))
      .sort((a, b) => (a.path < b.path ? -1 : 1));
    return { files, skipped: this.skipped };
  }

  async read(file: string, limit: number): Promise<Buffer> {
    const entry = this.entries.get(file);
    if (!entry) throw new Skipped({ id: 'skip.no-file' }, 'not-found');
    if (entry.uncompressedSize > limit) throw tooBig(entry.uncompressedSize, limit, 'file');
    return new Promise((resolve, reject) =>
      this.zip.openReadStream(entry, (error, stream) => {
        const damaged = () => reject(new Skipped({ id: 'skip.damaged-in-zip' }, 'unreadable'));
        if (error) return damaged();
        const parts: Buffer[] = [];
        stream.on('data', (part: Buffer) => parts.push(part));
        stream.on('error', damaged);
        stream.on('end', () => resolve(Buffer.concat(parts)));
      }),
    );
  }

  async close(): Promise<void> {
    this.zip.close();
  }
}
