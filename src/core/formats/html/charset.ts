import { isUtf8 } from 'node:buffer';
import { TextDecoder, normalizeEncoding } from '@exodus/bytes/encoding.js';
import { createMultibyteEncoder } from '@exodus/bytes/multi-byte.js';
import { createSinglebyteEncoder } from '@exodus/bytes/single-byte.js';
import { getEncoding } from 'encoding-sniffer';

/** Documentation generators put long comments before the declaration; browsers look at 1,024 bytes only. */
const SNIFF_BYTES = 65_536;
/** Encodings in which the bytes of markup (`< > " ' & =` and space) can stand for something else. */
const NOT_ASCII: ReadonlySet<string> = new Set(['utf-16le', 'utf-16be', 'iso-2022-jp']);
/** Legacy encodings of more than one byte (Encoding Standard, 10 to 13). */
const MULTI_BYTE: ReadonlySet<string> = new Set([
  ...['gbk', 'gb18030', 'big5', 'euc-jp', 'iso-2022-jp', 'shift_jis', 'euc-kr'],
]);

export interface DecodedHtml {
  /** Name of the encoding in the Encoding Standard, in lower case. */
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
    transport && normalizeEncoding(transport) !== null
      ? // Only a byte order mark goes before what the server says; the declaration need not be looked for.
        getEncoding(bytes.subarray(0, 4), { transportLayerEncodingLabel: transport })
      : getEncoding(bytes, { maxBytes: endOfHead(bytes), defaultEncoding: isUtf8(bytes) ? 'utf-8' : 'windows-1252' });
  const name = normalizeEncoding(sniffed);
  // What the standard replaces as a whole (`replacement`) is read for its markup all the same.
  return name === null || name === 'replacement' ? 'windows-1252' : name;
}

/** Up to where a declaration is looked for. */
function endOfHead(bytes: Buffer): number {
  const body = bytes.subarray(0, SNIFF_BYTES).indexOf('<body');
  return body < 0 ? SNIFF_BYTES : Math.max(body, 1024);
}

export function decodeHtml(bytes: Buffer, transport?: string): DecodedHtml {
  const charset = charsetOf(bytes, transport);
  return { charset, text: decodeText(bytes, charset, { keepMark: false }) };
}

/**
 * Decodes bytes by the indexes of the Encoding Standard, whatever those of the engine are.
 *
 * @param keepMark whether a byte order mark becomes a character of the text
 */
export function decodeText(bytes: Buffer, charset: string, { keepMark }: { keepMark: boolean }): string {
  return new TextDecoder(charset, { ignoreBOM: keepMark }).decode(bytes);
}

/** True when markup can be found in the bytes themselves, so that they can be patched in place. */
export function isAsciiTransparent(charset: string): boolean {
  return !NOT_ASCII.has(charset);
}

/** Encodes text; characters that the encoding lacks become numeric character references. */
export function encodeText(text: string, charset: string): Buffer {
  return encode(withReferences(text, charset), charset);
}

/** Text in which every character that an encoding lacks is a numeric character reference. */
export function withReferences(text: string, charset: string): string {
  if (canEncode(text, charset)) return text;
  return Array.from(text, (c) => (canEncode(c, charset) ? c : `&#${c.codePointAt(0)};`)).join('');
}

function canEncode(text: string, charset: string): boolean {
  try {
    encode(text, charset);
    return true;
  } catch {
    return false;
  }
}

const encoders = new Map<string, (text: string) => Uint8Array>();

/** @throws Error when the encoding lacks a character of the text */
function encode(text: string, charset: string): Buffer {
  if (charset === 'utf-8') return Buffer.from(text, 'utf8');
  if (charset === 'utf-16le') return Buffer.from(text, 'utf16le');
  if (charset === 'utf-16be') return Buffer.from(text, 'utf16le').swap16();
  let encoder = encoders.get(charset);
  if (!encoder) {
    encoder = MULTI_BYTE.has(charset) ? createMultibyteEncoder(charset) : createSinglebyteEncoder(charset);
    encoders.set(charset, encoder);
  }
  return Buffer.from(encoder(text));
}
