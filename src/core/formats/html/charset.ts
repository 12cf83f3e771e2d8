import { isUtf8 } from 'node:buffer';
import { getEncoding } from 'encoding-sniffer';
import iconv from 'iconv-lite';

/** Documentation generators put long comments before the declaration; browsers look at 1,024 bytes only. */
const SNIFF_BYTES = 65_536;
/** Encodings in which the bytes of markup (`< > " ' & =` and space) can stand for something else. */
const NOT_ASCII = /^(utf-?16|utf-?32|iso-2022|hz|utf-?7|x-user-defined|replacement)/i;

export interface DecodedHtml {
  /** Lower-case label of the encoding, as iconv-lite takes it. */
  charset: string;
  /** The text without a byte order mark. */
  text: string;
}

/**
 * The encoding of a page: byte order mark, transport, declaration, then UTF-8 where the bytes are valid,
 * else windows-1252 (HTML Living Standard 13.2.3.2, with UTF-8 tried before the default).
 */
export function charsetOf(bytes: Buffer, transport?: string): string {
  const sniffed =
    transport && isLabel(transport)
      ? // Only a byte order mark goes before what the server says; the declaration need not be looked for.
        getEncoding(bytes.subarray(0, 4), { transportLayerEncodingLabel: transport })
      : getEncoding(bytes, { maxBytes: endOfHead(bytes), defaultEncoding: isUtf8(bytes) ? 'utf-8' : 'windows-1252' });
  return iconv.encodingExists(sniffed) ? sniffed.toLowerCase() : 'windows-1252';
}

/** Up to where a declaration is looked for. */
function endOfHead(bytes: Buffer): number {
  const body = bytes.subarray(0, SNIFF_BYTES).indexOf('<body');
  return body < 0 ? SNIFF_BYTES : Math.max(body, 1024);
}

/** Whether the Encoding Standard knows a label. */
function isLabel(label: string): boolean {
  try {
    return new TextDecoder(label).encoding !== '';
  } catch {
    return false;
  }
}

export function decodeHtml(bytes: Buffer, transport?: string): DecodedHtml {
  const charset = charsetOf(bytes, transport);
  return { charset, text: iconv.decode(bytes, charset) };
}

/** True when markup can be found in the bytes themselves, so that they can be patched in place. */
export function isAsciiTransparent(charset: string): boolean {
  return !NOT_ASCII.test(charset);
}

/** Encodes text; characters that the encoding lacks become numeric character references. */
export function encodeText(text: string, charset: string): Buffer {
  if (/^utf-?(8|16)/i.test(charset)) return iconv.encode(text, charset, { addBOM: false });
  const parts: Buffer[] = [];
  for (const character of text) {
    const bytes = iconv.encode(character, charset);
    const faithful = iconv.decode(bytes, charset) === character;
    parts.push(faithful ? bytes : Buffer.from(`&#${character.codePointAt(0)};`, 'latin1'));
  }
  return Buffer.concat(parts);
}
