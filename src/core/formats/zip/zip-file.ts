import { crc32, deflateRawSync, inflateRawSync } from 'node:zlib';
import yauzl from 'yauzl';
import { weightOf } from '../../model/message';
import { DocumentError } from '../document-error';

/** What a package may hold before it is taken for an attack; sizes in bytes. */
export const ZIP_LIMITS = {
  entries: 20_000,
  total: 1024 * 1024 * 1024,
  entry: 256 * 1024 * 1024,
  /** Unpacked size to packed size, of entries over {@link RATIO_FROM}. */
  ratio: 200,
};
const RATIO_FROM = 1024 * 1024;

const LOCAL = 0x04034b50;
const CENTRAL = 0x02014b50;
const END = 0x06054b50;
const STORED = 0;
const DEFLATED = 8;
const IS_ENCRYPTED = 1;
const HAS_DESCRIPTOR = 8;
const ZIP64 = 0xffffffff;

interface Entry {
  name: string;
  method: number;
  crc: number;
  packed: number;
  size: number;
  /** Where its local header, its data, and the record of the central directory stand. */
  header: number;
  data: number;
  record: number;
  recordLength: number;
}

const damaged = () => new DocumentError({ id: 'document.damaged' });

/** What the library lists, with its own checks of names and sizes (APPNOTE 6.3). */
function listEntries(bytes: Buffer): Promise<yauzl.Entry[]> {
  return new Promise((resolve, reject) => {
    const refuse = (error: Error) =>
      reject(/absolute path|relative path|invalid characters/i.test(error.message) ? unsafe() : damaged());
    yauzl.fromBuffer(bytes, { lazyEntries: true, strictFileNames: true }, (error, zip) => {
      if (error) return refuse(error);
      const entries: yauzl.Entry[] = [];
      let total = 0;
      zip.on('error', refuse);
      zip.on('end', () => resolve(entries));
      zip.on('entry', (entry: yauzl.Entry) => {
        total += entry.uncompressedSize;
        const reason = refusalOf(entry, entries.length, total);
        if (reason) return reject(reason);
        entries.push(entry);
        zip.readEntry();
      });
      zip.readEntry();
    });
  });
}

const unsafe = () => new DocumentError({ id: 'document.unsafe-name' });

function refusalOf(entry: yauzl.Entry, count: number, total: number): DocumentError | null {
  const { entries, total: most, entry: largest, ratio } = ZIP_LIMITS;
  if (count >= entries) return new DocumentError({ id: 'document.entries', values: { limit: entries } });
  if (total > most || entry.uncompressedSize > largest)
    return new DocumentError({ id: 'document.unpacked', values: { limit: weightOf(total > most ? most : largest) } });
  if (entry.uncompressedSize > RATIO_FROM && entry.uncompressedSize / Math.max(1, entry.compressedSize) > ratio)
    return new DocumentError({ id: 'document.ratio', values: { limit: ratio } });
  if (entry.generalPurposeBitFlag & IS_ENCRYPTED) return new DocumentError({ id: 'document.encrypted' });
  return null;
}

/** Where the end record stands; the comment behind it is 65,535 bytes at most. */
function endRecord(bytes: Buffer): number {
  for (let at = bytes.length - 22; at >= Math.max(0, bytes.length - 22 - 0xffff); at--)
    if (bytes.readUInt32LE(at) === END && at + 22 + bytes.readUInt16LE(at + 20) === bytes.length) return at;
  throw damaged();
}

/** A ZIP in memory, of which single entries are read and replaced; nothing is ever unpacked to disk. */
export class ZipFile {
  private readonly byName = new Map<string, Entry>();

  private constructor(
    private readonly bytes: Buffer,
    private readonly entries: Entry[],
    private readonly end: number,
    private readonly directory: number,
    /** Its sizes need 64 bits: it can be read, and not written. */
    private readonly isZip64: boolean,
  ) {
    for (const e of entries) this.byName.set(e.name, e);
  }

  /** @throws DocumentError when it is damaged, or could be an attack */
  static async open(bytes: Buffer): Promise<ZipFile> {
    const listed = await listEntries(bytes);
    try {
      const end = endRecord(bytes);
      const isZip64 = bytes.readUInt32LE(end + 16) === ZIP64 || bytes.readUInt16LE(end + 10) === 0xffff;
      const directory = isZip64 ? end : bytes.readUInt32LE(end + 16);
      let record = directory;
      const names = new Set<string>();
      const entries = listed.map((e): Entry => {
        if (names.has(e.fileName)) throw damaged();
        names.add(e.fileName);
        const header = e.relativeOffsetOfLocalHeader;
        if (bytes.readUInt32LE(header) !== LOCAL) throw damaged();
        const data = header + 30 + bytes.readUInt16LE(header + 26) + bytes.readUInt16LE(header + 28);
        const own = { name: e.fileName, method: e.compressionMethod, crc: e.crc32 };
        const at = {
          header,
          data,
          record,
          recordLength: 46 + e.fileNameLength + e.extraFieldLength + e.fileCommentLength,
        };
        if (!isZip64 && bytes.readUInt32LE(record) !== CENTRAL) throw damaged();
        record += at.recordLength;
        return { ...own, ...at, packed: e.compressedSize, size: e.uncompressedSize };
      });
      const order = [...entries].sort((a, b) => a.header - b.header);
      order.forEach((e, i) => {
        // Entries that share bytes let a small file unpack to any size.
        if (e.data + e.packed > (order[i + 1]?.header ?? directory)) throw damaged();
      });
      return new ZipFile(bytes, entries, end, directory, isZip64);
    } catch {
      throw damaged();
    }
  }

  get names(): string[] {
    return this.entries.map((e) => e.name);
  }

  has(name: string): boolean {
    return this.byName.has(name);
  }

  /** Bytes of an entry when it is unpacked, as its header says; 0 where there is none. */
  sizeOf(name: string): number {
    return this.byName.get(name)?.size ?? 0;
  }

  /** @throws DocumentError when there is no such entry, or its bytes are not what its header says */
  read(name: string): Buffer {
    const e = this.byName.get(name);
    if (!e) throw new DocumentError({ id: 'document.no-part', values: { part: name } });
    const raw = this.bytes.subarray(e.data, e.data + e.packed);
    const out = unpacked(e, raw);
    if (out.length !== e.size || crc32(out) !== e.crc)
      throw new DocumentError({ id: 'document.damaged-part', values: { part: name } });
    return out;
  }

  /** Whether it is stored and the first entry, as OCF and ODF ask of `mimetype`. */
  startsWithStored(name: string): boolean {
    const first = this.entries.reduce<Entry | null>((a, b) => (a === null || b.header < a.header ? b : a), null);
    return first?.name === name && first.method === STORED;
  }

  /**
   * The ZIP with some entries replaced; the bytes of all others stay, their local headers, their order and their gaps too.
   *
   * @throws DocumentError when it needs 64 bits for its sizes
   */
  withEntries(changes: ReadonlyMap<string, Buffer>): Buffer {
    if (changes.size === 0) return this.bytes;
    if (this.isZip64) throw new DocumentError({ id: 'document.zip64' });
    const { bytes, directory } = this;
    const order = [...this.entries].sort((a, b) => a.header - b.header);
    const out: Buffer[] = [bytes.subarray(0, order[0]?.header ?? 0)];
    let at = out[0]!.length;
    const moved = new Map<Entry, number>();
    const renewed = new Map<Entry, Buffer>();
    order.forEach((e, i) => {
      moved.set(e, at);
      const content = changes.get(e.name);
      const piece = content ? this.entryWith(e, content) : bytes.subarray(e.header, order[i + 1]?.header ?? directory);
      if (content) renewed.set(e, piece);
      out.push(piece);
      at += piece.length;
    });
    const start = at;
    for (const e of this.entries) {
      const record = Buffer.from(bytes.subarray(e.record, e.record + e.recordLength));
      record.writeUInt32LE(moved.get(e)!, 42);
      const piece = renewed.get(e);
      if (piece) {
        record.writeUInt16LE(piece.readUInt16LE(6), 8);
        // CRC-32, packed size and size stand in one order in both headers.
        piece.copy(record, 16, 14, 26);
      }
      out.push(record);
      at += record.length;
    }
    // Whatever stands between the directory and its end, such as a signature of it.
    const last = this.entries.at(-1);
    const gap = last ? bytes.subarray(last.record + last.recordLength, this.end) : Buffer.alloc(0);
    const end = Buffer.from(bytes.subarray(this.end));
    end.writeUInt32LE(at - start, 12);
    end.writeUInt32LE(start, 16);
    return Buffer.concat([...out, gap, end]);
  }

  /** Local header and data of an entry with other content. */
  private entryWith(e: Entry, content: Buffer): Buffer {
    const data = e.method === STORED ? content : deflateRawSync(content);
    const header = Buffer.from(this.bytes.subarray(e.header, e.data));
    header.writeUInt16LE(header.readUInt16LE(6) & ~HAS_DESCRIPTOR, 6);
    header.writeUInt32LE(crc32(content), 14);
    header.writeUInt32LE(data.length, 18);
    header.writeUInt32LE(content.length, 22);
    return Buffer.concat([header, data]);
  }
}

function unpacked(e: Entry, raw: Buffer): Buffer {
  if (e.method === STORED) return raw;
  if (e.method !== DEFLATED) throw new DocumentError({ id: 'document.method', values: { part: e.name } });
  try {
    return inflateRawSync(raw, { maxOutputLength: Math.max(1, e.size) });
  } catch {
    throw new DocumentError({ id: 'document.damaged-part', values: { part: e.name } });
  }
}
