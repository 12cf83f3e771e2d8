import { DocumentError } from '../document-error';
import { decodeXml, type XmlSource } from '../xml/xml-part';
import { parseXml, rootOf, type XmlElement } from '../xml/xml-tree';
import type { ZipFile } from '../zip/zip-file';

const MIMETYPE = /^application\/vnd\.oasis\.opendocument\.(text|presentation|spreadsheet)/;

export interface OdfPart extends XmlSource {
  name: string;
  root: XmlElement;
}

/** An OpenDocument package (OASIS ODF 1.3, parts 2 and 3). */
export class OdfPackage {
  readonly kind: string;
  private readonly parts = new Map<string, OdfPart>();

  /** @throws DocumentError when it is none, or is encrypted */
  constructor(readonly zip: ZipFile) {
    const kind = MIMETYPE.exec(zip.has('mimetype') ? zip.read('mimetype').toString('latin1') : '')?.[1];
    if (!kind || !zip.has('content.xml')) throw new DocumentError({ id: 'document.not-odf' });
    this.kind = kind;
    const manifest = zip.has('META-INF/manifest.xml') ? zip.read('META-INF/manifest.xml').toString('utf8') : '';
    if (/<[\w.-]*:?encryption-data/.test(manifest)) throw new DocumentError({ id: 'document.encrypted' });
  }

  get isSigned(): boolean {
    return this.zip.names.some((n) => /^META-INF\/.*signatures\.xml$/.test(n));
  }

  part(name: string): OdfPart {
    let part = this.parts.get(name);
    if (!part) {
      const source = decodeXml(this.zip.read(name), name);
      part = { name, ...source, root: rootOf(parseXml(source.text, name)) };
      this.parts.set(name, part);
    }
    return part;
  }

  optional(name: string): OdfPart | null {
    if (!this.zip.has(name)) return null;
    try {
      return this.part(name);
    } catch (error) {
      if (error instanceof DocumentError) return null;
      throw error;
    }
  }
}
