import yauzl from 'yauzl';
import { isSafePath, type FileTree } from './file-source';
import { LIMITS, megabytes, Skipped, tooBig } from './source';

/** A ZIP, read in place: nothing is unpacked to disk, and what could be an attack is refused as a whole. */
export class ZipTree implements FileTree {
  private constructor(
    private readonly zip: yauzl.ZipFile,
    private readonly entries: Map<string, yauzl.Entry>,
  ) {}

  /**
   * @param file its path, or what is in it
   * @throws Error in words when the file is no ZIP, or one that Detto does not open
   */
  static async open(file: string | Buffer, limits = LIMITS): Promise<ZipTree> {
    const zip = await new Promise<yauzl.ZipFile>((resolve, reject) => {
      const options = { lazyEntries: true, autoClose: false, strictFileNames: true };
      const opened = (error: Error | null, found: yauzl.ZipFile) =>
        error ? reject(new Error(`This is not a ZIP that can be read (${error.message}).`)) : resolve(found);
      if (typeof file === 'string') yauzl.open(file, options, opened);
      else yauzl.fromBuffer(file, options, opened);
    });
    const entries = new Map<string, yauzl.Entry>();
    let total = 0;
    try {
      await new Promise<void>((resolve, reject) => {
        zip.on('error', (error: Error) => reject(new Error(`The ZIP is damaged or unsafe: ${error.message}.`)));
        zip.on('end', resolve);
        zip.on('entry', (entry: yauzl.Entry) => {
          const name = entry.fileName;
          total += entry.uncompressedSize;
          const ratio = entry.uncompressedSize / Math.max(1, entry.compressedSize);
          if (!isSafePath(name)) return reject(new Error(`The ZIP holds an unsafe name, “${name}”.`));
          if (entries.size >= limits.zipEntries)
            return reject(new Error(`The ZIP holds more than ${limits.zipEntries} files.`));
          if (total > limits.zip)
            return reject(new Error(`Unpacked, the ZIP is over the limit of ${megabytes(limits.zip)}.`));
          if (entry.uncompressedSize > 1_048_576 && ratio > limits.zipRatio)
            return reject(
              new Error(`“${name}” unpacks to ${Math.round(ratio)} times its size; such a ZIP is not opened.`),
            );
          if (entry.isEncrypted()) return reject(new Error(`“${name}” is encrypted.`));
          if (entries.has(name)) return reject(new Error(`The ZIP holds “${name}” twice.`));
          entries.set(name, entry);
          zip.readEntry();
        });
        zip.readEntry();
      });
    } catch (error) {
      zip.close();
      throw error;
    }
    return new ZipTree(zip, entries);
  }

  async list() {
    const files = [...this.entries.values()]
      .filter((e) => !e.fileName.endsWith('/') && !e.fileName.startsWith('__MACOSX/'))
      .map((e) => ({ path: e.fileName, size: e.uncompressedSize }))
      .sort((a, b) => (a.path < b.path ? -1 : 1));
    return { files, skipped: [] };
  }

  async read(file: string, limit: number): Promise<Buffer> {
    const entry = this.entries.get(file);
    if (!entry) throw new Skipped('no such file', 'not-found');
    if (entry.uncompressedSize > limit) throw tooBig(entry.uncompressedSize, limit, 'file');
    return new Promise((resolve, reject) =>
      this.zip.openReadStream(entry, (error, stream) => {
        const damaged = (e: Error) => reject(new Skipped(`damaged in the ZIP (${e.message})`));
        if (error) return damaged(error);
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
