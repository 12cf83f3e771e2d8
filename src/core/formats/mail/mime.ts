import { DocumentError } from '../document-error';

/** Parts of one message, and parts within parts. */
const MOST_PARTS = 500;
const DEEPEST = 20;

/** One part of a message (RFC 2045, 2046); offsets are bytes of the file, half open. */
export interface MimePart {
  /** By lower-cased name; the first of a name counts. */
  headers: ReadonlyMap<string, string>;
  type: string;
  parameters: ReadonlyMap<string, string>;
  encoding: string;
  bodyStart: number;
  bodyEnd: number;
  /** A multipart around it is signed. */
  isSigned: boolean;
}

/** `name=value` pairs behind a header's value; the first of a name counts. */
function parametersOf(value: string): Map<string, string> {
  const out = new Map<string, string>();
  for (const m of value.matchAll(/;\s*([\w!#$%&'*+.^`|~-]+)\s*=\s*("((?:\\.|[^"\\])*)"|[^;\s]*)/g)) {
    const name = m[1]!.toLowerCase();
    if (!out.has(name)) out.set(name, m[3] === undefined ? m[2]! : m[3].replace(/\\(.)/g, '$1'));
  }
  return out;
}

/**
 * Takes a message apart, without decoding anything.
 *
 * @param source the file read as latin1, so that offsets are bytes
 * @returns its parts in their order, the message itself first
 * @throws DocumentError when it has more parts than any real one
 */
export function parseMime(source: string): MimePart[] {
  const parts: MimePart[] = [];
  const visit = (start: number, end: number, depth: number, isSigned: boolean): void => {
    if (parts.length >= MOST_PARTS || depth > DEEPEST) throw new DocumentError({ id: 'document.mail-parts' });
    const { headers, bodyStart } = readHeaders(source, start, end);
    const contentType = headers.get('content-type') ?? 'text/plain';
    const type = contentType.split(';')[0]!.trim().toLowerCase();
    const parameters = parametersOf(contentType);
    const encoding = (headers.get('content-transfer-encoding') ?? '7bit')
      .replace(/\(.*?\)/g, '')
      .trim()
      .toLowerCase();
    parts.push({ headers, type, parameters, encoding, bodyStart, bodyEnd: end, isSigned });
    const boundary = parameters.get('boundary');
    if (type.startsWith('multipart/') && boundary)
      for (const [from, to] of betweenBoundaries(source, bodyStart, end, boundary))
        visit(from, to, depth + 1, isSigned || type === 'multipart/signed');
    else if (type === 'message/rfc822' && /^(?:7bit|8bit|binary)$/.test(encoding))
      visit(bodyStart, end, depth + 1, isSigned);
  };
  visit(0, source.length, 0, false);
  return parts;
}

function readHeaders(source: string, start: number, end: number): { headers: Map<string, string>; bodyStart: number } {
  const headers = new Map<string, string>();
  let at = start;
  let last: string | null = null;
  while (at < end) {
    const next = lineEnd(source, at, end);
    const line = source.slice(at, next).replace(/\r$/, '');
    at = Math.min(end, next + 1);
    if (line === '') break;
    if (/^[ \t]/.test(line) && last !== null) headers.set(last, `${headers.get(last)} ${line.trim()}`);
    else {
      const m = /^([!-9;-~]+)\s*:\s*(.*)$/.exec(line);
      if (!m && !line.startsWith('From ')) break;
      last = m && !headers.has(m[1]!.toLowerCase()) ? m[1]!.toLowerCase() : null;
      if (last !== null) headers.set(last, m![2]!);
    }
  }
  return { headers, bodyStart: at };
}

const lineEnd = (source: string, at: number, end: number) => {
  const found = source.indexOf('\n', at);
  return found < 0 || found >= end ? end : found;
};

/** The ranges of the parts of a multipart; the line end before a boundary belongs to the boundary (RFC 2046, 5.1.1). */
function betweenBoundaries(source: string, start: number, end: number, boundary: string): [number, number][] {
  const out: [number, number][] = [];
  const open = `--${boundary}`;
  let from = -1;
  for (let at = start; at <= end;) {
    const next = lineEnd(source, at, end);
    const line = source.slice(at, next).replace(/[\r \t]+$/, '');
    if (line === open || line === `${open}--`) {
      if (from >= 0) {
        const before = source[at - 2] === '\r' ? at - 2 : at - 1;
        out.push([from, Math.max(from, before)]);
      }
      from = line === open ? Math.min(next + 1, end) : -1;
      if (from < 0) break;
    }
    if (next >= end) break;
    at = next + 1;
  }
  if (from >= 0) out.push([from, end]);
  return out;
}

/** Bytes that a transfer encoding stands for, and where each of them begins in what was encoded. */
export interface Decoded {
  data: Buffer;
  /** One more than bytes: the last is the end. */
  origin: Uint32Array;
}

const hex = (c: number | undefined) => (c === undefined ? -1 : parseInt(String.fromCharCode(c), 16));

/** Quoted-printable (RFC 2045, 6.7). */
export function decodeQuotedPrintable(raw: Buffer): Decoded {
  const data = Buffer.alloc(raw.length);
  const origin = new Uint32Array(raw.length + 1);
  let n = 0;
  for (let i = 0; i < raw.length;) {
    let step = 1;
    let byte: number | null = raw[i]!;
    if (byte === 0x3d) {
      const soft = /^=[ \t]*(?:\r\n|\n)/.exec(raw.subarray(i, i + 80).toString('latin1'));
      const [high, low] = [hex(raw[i + 1]), hex(raw[i + 2])];
      if (soft) [step, byte] = [soft[0].length, null];
      else if (high >= 0 && low >= 0) [step, byte] = [3, high * 16 + low];
    }
    if (byte !== null) {
      origin[n] = i;
      data[n++] = byte;
    }
    i += step;
  }
  origin[n] = raw.length;
  return { data: data.subarray(0, n), origin: origin.subarray(0, n + 1) };
}

/** Bytes of a line of quoted-printable before it is broken softly; 76 are allowed. */
const LINE = 70;

/** Quoted-printable on lines of its own between soft line breaks, so that no line grows too long. */
export function encodeQuotedPrintable(data: Buffer, newline: string): string {
  let out = `=${newline}`;
  let length = 0;
  for (const byte of data) {
    const isPlain = (byte >= 33 && byte <= 126 && byte !== 0x3d) || byte === 0x20;
    const token = isPlain ? String.fromCharCode(byte) : `=${byte.toString(16).toUpperCase().padStart(2, '0')}`;
    if (length + token.length > LINE) {
      out += `=${newline}`;
      length = 0;
    }
    out += token;
    length += token.length;
  }
  return `${out}=${newline}`;
}
