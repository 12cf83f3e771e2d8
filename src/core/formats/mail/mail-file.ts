import type { DocumentPage, Edit, WrittenDocument } from '../../model/document';
import type { Message } from '../../model/message';
import { DocumentError } from '../document-error';
import { charsetOf, decodeText, encodeText, withReferences } from '../html/charset';
import { patchPage } from '../html/patch';
import { readPage } from '../html/read-page';
import { numberPlaces } from '../unique-places';
import { decodeQuotedPrintable, encodeQuotedPrintable, parseMime, type MimePart } from './mime';

/** Bytes of a line without its end (RFC 5322, 2.1.1). */
const LONGEST_LINE = 998;

interface HtmlPart extends DocumentPage {
  part: MimePart;
  data: Buffer;
  charset: string;
}

/** A message taken apart. */
export interface MailFile {
  parts: MimePart[];
  pages: HtmlPart[];
  notes: Message[];
  /** Why nothing may be changed in it; null when it may. */
  refusal: Message | null;
}

const body = (bytes: Buffer, part: MimePart): Buffer => {
  const raw = bytes.subarray(part.bodyStart, part.bodyEnd);
  if (part.encoding === 'quoted-printable') return decodeQuotedPrintable(raw).data;
  if (part.encoding === 'base64') return Buffer.from(raw.toString('latin1').replace(/[^A-Za-z0-9+/=]/g, ''), 'base64');
  return raw;
};

/** Words of a header in encoded words (RFC 2047). */
function decodedHeader(value: string): string {
  return value
    .replace(/\?=\s+=\?/g, '?==?')
    .replace(/=\?([\w-]+)(?:\*[\w-]+)?\?([bq])\?([^?]*)\?=/gi, (whole, charset: string, kind: string, text: string) => {
      const bytes = /b/i.test(kind)
        ? Buffer.from(text, 'base64')
        : decodeQuotedPrintable(Buffer.from(text.replace(/_/g, ' '), 'latin1')).data;
      try {
        return decodeText(bytes, charset.toLowerCase(), { keepMark: false });
      } catch {
        return whole;
      }
    });
}

/** What keeps a message from being changed: its words are what somebody signed or sealed. */
function refusalOf(parts: readonly MimePart[]): Message | null {
  for (const { type, parameters } of parts) {
    const protocol = parameters.get('protocol') ?? '';
    if (/pgp/i.test(protocol) || type === 'application/pgp-encrypted') return { id: 'document.pgp' };
    if (type === 'multipart/signed' || /^application\/(?:x-)?pkcs7-mime$/.test(type)) return { id: 'document.smime' };
  }
  return null;
}

/** How a message is sealed that shows nothing of what it says (RFC 3156, 4; RFC 8551, 3.3 and 3.5.2); null where it is not. */
function sealedNote(parts: readonly MimePart[]): Message | null {
  if (parts.some((p) => p.type === 'multipart/encrypted' || p.type === 'application/pgp-encrypted'))
    return { id: 'document.pgp-encrypted' };
  if (parts.some((p) => /^application\/(?:x-)?pkcs7-mime$/.test(p.type))) return { id: 'document.smime-encrypted' };
  return null;
}

/** @throws DocumentError when it is no message */
export function readMail(bytes: Buffer): MailFile {
  const parts = parseMime(bytes.toString('latin1'));
  const { headers } = parts[0]!;
  if (headers.size === 0) throw new DocumentError({ id: 'document.not-mail' });
  const isShown = (p: MimePart) =>
    p.type === 'text/html' && !/^\s*attachment/i.test(p.headers.get('content-disposition') ?? '');
  const html = parts.filter(isShown);
  const subject = decodedHeader(headers.get('subject') ?? '').trim();
  const pages = html.map((part, i): HtmlPart => {
    const data = body(bytes, part);
    const named = part.parameters.get('charset');
    const charset = charsetOf(data, named);
    const reading = readPage(data, charset);
    reading.title = subject || reading.title;
    numberPlaces(reading.appearances);
    return { fragment: html.length > 1 ? `part=${i + 1}` : null, reading, part, data, charset };
  });
  const notes: Message[] = [];
  const refusal = refusalOf(parts);
  const sealed = pages.length === 0 ? sealedNote(parts) : null;
  if (sealed) notes.push(sealed);
  else {
    if (refusal) notes.push(refusal);
    if (pages.length === 0) notes.push({ id: 'document.no-html' });
  }
  if (headers.has('dkim-signature')) notes.push({ id: 'document.dkim' });
  return { parts, pages, notes, refusal };
}

/**
 * The file of a picture that stands in the message (RFC 2392).
 *
 * @param name as written: `cid:` and its id
 * @throws DocumentError when there is none
 */
export function mailPicture(bytes: Buffer, name: string): Buffer {
  let id = name.replace(/^cid:/i, '');
  try {
    id = decodeURIComponent(id);
  } catch {
    // It stands as it is.
  }
  const part = parseMime(bytes.toString('latin1')).find(
    (p) => p.headers.get('content-id')?.trim().replace(/^<|>$/g, '') === id,
  );
  if (!part) throw new DocumentError({ id: 'document.no-part', values: { part: name } });
  return body(bytes, part);
}

/** Where two versions differ: bytes, half open. */
function difference(a: Buffer, b: Buffer): { start: number; endA: number; endB: number } {
  let start = 0;
  while (start < a.length && start < b.length && a[start] === b[start]) start++;
  let same = 0;
  while (same < a.length - start && same < b.length - start && a[a.length - 1 - same] === b[b.length - 1 - same])
    same++;
  return { start, endA: a.length - same, endB: b.length - same };
}

/**
 * Puts words into the HTML of a message. The rest of it stays byte for byte, the encoding of each part with it.
 *
 * @throws DocumentError when it is signed or sealed
 */
export function writeMail(bytes: Buffer, edits: readonly Edit[]): WrittenDocument {
  let out = bytes;
  const first = readMail(bytes);
  if (first.refusal) throw new DocumentError(first.refusal);
  const told: WrittenDocument = { bytes, changes: [], refusals: [], warnings: [] };
  // One at a time, so that each is a small change of what is encoded.
  for (const edit of edits) {
    const { fragment = null, ...own } = edit;
    const page = readMail(out).pages.find((p) => p.fragment === fragment);
    if (!page) throw new RangeError(`The message has no part “${fragment}”.`);
    const { part, data, charset } = page;
    const patched = patchPage(data, [own], charset);
    told.refusals.push(...patched.refusals.map((r) => ({ fragment, ...r })));
    const after = withinCharset(data, patched.bytes, charset, lackedBy(part, data));
    if (after.equals(data)) continue;
    const raw = out.subarray(part.bodyStart, part.bodyEnd);
    const encoded = encodeBody(raw, part, data, after);
    if (!encoded) {
      told.refusals.push(
        ...patched.changes.map(({ order, part: p, line }) => ({
          ...{ fragment, order, part: p, line },
          reason: { id: 'refusal.line-length' },
        })),
      );
      continue;
    }
    out = Buffer.concat([out.subarray(0, part.bodyStart), encoded, out.subarray(part.bodyEnd)]);
    const before = page.reading.appearances[own.order]?.accessible.name ?? '';
    told.changes.push(
      ...patched.changes.map((c) => ({
        ...c,
        fragment,
        ...(c.part === 'attributes' && own.text !== undefined ? { words: { before, after: own.text } } : {}),
      })),
    );
  }
  const isSealed = first.parts[0]!.headers.has('dkim-signature');
  if (told.changes.length > 0 && isSealed) told.warnings!.push({ id: 'document.dkim-broken' });
  return { ...told, bytes: out };
}

/** Characters that a part has no room for, by its transfer encoding and by the charset that it declares; null for none. */
function lackedBy(part: MimePart, data: Buffer): RegExp | null {
  const declared = (part.parameters.get('charset') ?? '').trim();
  const isAscii = /^(?:us-ascii|ascii|ansi_x3\.4-1968)$/i.test(declared) && data.every((b) => b < 0x80);
  if (part.encoding === '7bit' || isAscii) return /[^\x00-\x7f]/gu;
  // Browsers read this name as windows-1252 (Encoding Standard, 4.2); mail programs need not (RFC 2046, 4.1.2). A part that
  // holds bytes of windows-1252 already is read so by everybody who can read it at all.
  const isLatin1 = /^(?:iso[-_]?8859-1|iso_8859-1:1987|latin1|l1|cp819|ibm819)$/i.test(declared);
  return isLatin1 && data.every((b) => b < 0x80 || b >= 0xa0) ? /[^\x00-\x7f\xa0-\xff]/gu : null;
}

/** What is new in a part, with numeric references for the characters that it has no room for. */
function withinCharset(before: Buffer, after: Buffer, charset: string, lacked: RegExp | null): Buffer {
  const { start, endB } = difference(before, after);
  if (lacked === null || after.subarray(start, endB).every((b) => b < 0x80)) return after;
  // Whole tags, so that no character is cut.
  const from = after.lastIndexOf('<', start);
  const to = after.indexOf('>', endB) + 1;
  const text = decodeText(after.subarray(from, to), charset, { keepMark: true });
  const written = text.replace(lacked, (c) => `&#${c.codePointAt(0)};`);
  return Buffer.concat([
    after.subarray(0, from),
    encodeText(withReferences(written, charset), charset),
    after.subarray(to),
  ]);
}

/** The body of a part with other content; null where a line would grow too long. */
function encodeBody(raw: Buffer, part: MimePart, before: Buffer, after: Buffer): Buffer | null {
  const newline = raw.includes('\r\n') ? '\r\n' : '\n';
  if (part.encoding === 'quoted-printable') {
    const { origin } = decodeQuotedPrintable(raw);
    const { start, endA, endB } = difference(before, after);
    const fresh = Buffer.from(encodeQuotedPrintable(after.subarray(start, endB), newline), 'latin1');
    return Buffer.concat([raw.subarray(0, origin[start]), fresh, raw.subarray(origin[endA])]);
  }
  if (part.encoding === 'base64') {
    const text = raw.toString('latin1');
    const width = /[A-Za-z0-9+/=]+/.exec(text)?.[0].length ?? 76;
    const lines = after.toString('base64').match(new RegExp(`.{1,${width}}`, 'g')) ?? [];
    return Buffer.from(/^\s*/.exec(text)![0] + lines.join(newline) + /[\r\n]*$/.exec(text)![0], 'latin1');
  }
  const isLong = after
    .toString('latin1')
    .split('\n')
    .some((line) => line.replace(/\r$/, '').length > LONGEST_LINE);
  const wasLong = before
    .toString('latin1')
    .split('\n')
    .some((line) => line.replace(/\r$/, '').length > LONGEST_LINE);
  return isLong && !wasLong ? null : after;
}
