import path from 'node:path/posix';
import { DocumentError } from '../document-error';
import { decodeXml, type XmlSource } from '../xml/xml-part';
import { attributeOf, childrenOf, parseXml, rootOf, type XmlElement } from '../xml/xml-tree';
import { ZipFile } from '../zip/zip-file';

/** A compound file: a document of before 2007, or one that a password protects (MS-OFFCRYPTO, 1.3). */
const COMPOUND = Buffer.from('d0cf11e0a1b11ae1', 'hex');

/** Strict documents (ISO/IEC 29500-1) name the same things by other namespaces. */
export const transitional = (namespace: string): string =>
  namespace
    .replace('http://purl.oclc.org/ooxml/officeDocument', 'http://schemas.openxmlformats.org/officeDocument/2006')
    .replace('http://purl.oclc.org/ooxml/drawingml', 'http://schemas.openxmlformats.org/drawingml/2006')
    .replace('http://purl.oclc.org/ooxml/', 'http://schemas.openxmlformats.org/');

export interface Relationship {
  id: string;
  /** The last step of its type: `image`, `chart`, `slide`. */
  type: string;
  /** Name of a part, or an address outside. */
  target: string;
  isExternal: boolean;
}

/** A parsed part with its source. */
export interface Part extends XmlSource {
  name: string;
  root: XmlElement;
}

/** An Office Open XML package (ECMA-376, part 2). */
export class OoxmlPackage {
  private readonly parts = new Map<string, Part>();
  private readonly relations = new Map<string, Relationship[]>();

  private constructor(readonly zip: ZipFile) {}

  /** @throws DocumentError when it is none, or one that Detto does not open */
  static async open(bytes: Buffer): Promise<OoxmlPackage> {
    if (bytes.subarray(0, 8).equals(COMPOUND)) {
      const isLocked = bytes.includes(Buffer.from('EncryptedPackage', 'utf16le'));
      throw new DocumentError(isLocked ? { id: 'document.encrypted' } : { id: 'document.old', values: { ending: '' } });
    }
    const zip = await ZipFile.open(bytes);
    if (!zip.has('[Content_Types].xml')) throw new DocumentError({ id: 'document.not-office' });
    return new OoxmlPackage(zip);
  }

  /** A signature covers every part: a changed document would be refused or warned of (ECMA-376, part 2, 13). */
  get isSigned(): boolean {
    return this.zip.names.some((n) => n.startsWith('_xmlsignatures/'));
  }

  has(name: string): boolean {
    return this.zip.has(name);
  }

  /** @throws DocumentError when it cannot be read */
  part(name: string): Part {
    let part = this.parts.get(name);
    if (!part) {
      const source = decodeXml(this.zip.read(name), name);
      part = { name, ...source, root: rootOf(parseXml(source.text, name)) };
      this.parts.set(name, part);
    }
    return part;
  }

  /** A part that the document can do without; null where it is missing or cannot be read. */
  optional(name: string | undefined): Part | null {
    if (!name || !this.has(name)) return null;
    try {
      return this.part(name);
    } catch (error) {
      if (error instanceof DocumentError) return null;
      throw error;
    }
  }

  /** What a part leads to; those of the package itself for `''`. */
  relationships(name: string): Relationship[] {
    let own = this.relations.get(name);
    if (!own) {
      const file = path.join(path.dirname(name), '_rels', `${path.basename(name)}.rels`);
      const part = this.optional(name === '' ? '_rels/.rels' : file);
      own = part ? childrenOf(part.root).map((r) => relationship(r, name)) : [];
      this.relations.set(name, own);
    }
    return own;
  }

  /** The parts of one type that a part leads to, in the order of their ids' appearance. */
  related(name: string, type: string): string[] {
    return this.relationships(name)
      .filter((r) => r.type === type && !r.isExternal)
      .map((r) => r.target);
  }

  target(name: string, id: string | null): Relationship | undefined {
    return id === null ? undefined : this.relationships(name).find((r) => r.id === id);
  }

  /** The part that the package is about. */
  get main(): string {
    const main = this.related('', 'officeDocument')[0];
    if (!main || !this.has(main)) throw new DocumentError({ id: 'document.not-office' });
    return main;
  }

  /** Title and language of the core properties (ECMA-376, part 2, 11). */
  get properties(): { title: string; language: string | null; description: string | null } {
    const core = this.optional(this.related('', 'core-properties')[0]);
    const value = (local: string) =>
      (core &&
        childrenOf(core.root)
          .find((e) => e.local === local)
          ?.content.join('')
          .trim()) ||
      null;
    return { title: value('title') ?? '', language: value('language'), description: value('description') };
  }
}

function relationship(e: XmlElement, from: string): Relationship {
  const target = attributeOf(e, 'Target') ?? '';
  const isExternal = attributeOf(e, 'TargetMode') === 'External';
  return {
    id: attributeOf(e, 'Id') ?? '',
    type: (attributeOf(e, 'Type') ?? '').replace(/^.*\//, ''),
    // A path that climbs out of the package names no part of it.
    target: isExternal
      ? target
      : path
          .join(
            '/',
            path.dirname(from),
            target.startsWith('/') ? path.relative(path.join('/', path.dirname(from)), target) : target,
          )
          .slice(1),
    isExternal,
  };
}
