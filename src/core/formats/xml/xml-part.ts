import { normalizeEncoding } from '@exodus/bytes/encoding.js';
import { DocumentError } from '../document-error';
import { decodeText, encodeText } from '../html/charset';

/** A decoded XML file, and the way back to its bytes. */
export interface XmlSource {
  text: string;
  /** Characters that its encoding lacks become numeric references. */
  encode(text: string): Buffer;
}

const DECLARED = /^<\?xml[^>]*?encoding\s*=\s*["']([A-Za-z0-9._-]+)["']/;

/**
 * Decodes an XML file by its byte order mark, else by its declaration, else as UTF-8 (XML 1.0, appendix F). A byte order
 * mark stays in the text, so that it is written back.
 *
 * @param part its name, for the error
 * @throws DocumentError when its bytes are none of that encoding
 */
export function decodeXml(bytes: Buffer, part: string): XmlSource {
  const declared = encodingOf(bytes);
  const encoding = normalizeEncoding(declared);
  const unreadable = () => new DocumentError({ id: 'document.encoding', values: { part, encoding: declared } });
  if (encoding === null || encoding === 'replacement') throw unreadable();
  const encode = (text: string) => encodeText(text, encoding);
  const text = decodeText(bytes, encoding, { keepMark: true });
  // What cannot be written back as it was is not touched.
  if (!encode(text).equals(bytes)) throw unreadable();
  return { text, encode };
}

function encodingOf(bytes: Buffer): string {
  const [a, b] = bytes;
  if (a === 0xff && b === 0xfe) return 'utf-16le';
  if (a === 0xfe && b === 0xff) return 'utf-16be';
  // Without a mark, `<?` is recognised by where its zeros stand.
  if (a === 0x3c && b === 0) return 'utf-16le';
  if (a === 0 && b === 0x3c) return 'utf-16be';
  const head = bytes.subarray(0, 256).toString('latin1').replace(/^ï»¿/, '');
  return DECLARED.exec(head)?.[1] ?? 'utf-8';
}
