import { Readable } from 'node:stream';
import parseRange from 'range-parser';

/** A name of a file, whatever its letters (RFC 6266). */
export const attachment = (name: string): string =>
  `attachment; filename="${name.replace(/[^\x20-\x7e]|["\\]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name)}`;

/** A file that is given in whole or in part. */
export interface ServedFile {
  name: string;
  bytes: number;
  /** Tells it from others under the same address (RFC 9110, 8.8.3). */
  etag: string;
  /** A part of it, both ends included. */
  open(start: number, end: number): Readable;
}

/**
 * Answers a request for a file with all of it, or with the one part that is asked for, so that a download that broke off can
 * go on (RFC 9110, 14; several parts at once are answered with the whole, as 14.2 allows).
 */
export function fileResponse(request: Request, { name, bytes, etag, open }: ServedFile): Response {
  const headers = {
    'content-type': name.endsWith('.zip') ? 'application/zip' : 'application/octet-stream',
    'content-disposition': attachment(name),
    'accept-ranges': 'bytes',
    etag,
  };
  const asked = request.headers.get('range');
  const condition = request.headers.get('if-range');
  const ranges = asked === null || (condition !== null && condition !== etag) ? null : parseRange(bytes, asked);
  if (ranges === -1)
    return new Response(null, { status: 416, headers: { ...headers, 'content-range': `bytes */${bytes}` } });
  const [only, ...more] = Array.isArray(ranges) && ranges.type === 'bytes' ? ranges : [];
  const body = (start: number, end: number) => Readable.toWeb(open(start, end)) as ReadableStream;
  if (!only || more.length > 0)
    return new Response(bytes === 0 ? null : body(0, bytes - 1), {
      headers: { ...headers, 'content-length': String(bytes) },
    });
  const { start, end } = only;
  return new Response(body(start, end), {
    status: 206,
    headers: {
      ...headers,
      'content-length': String(end - start + 1),
      'content-range': `bytes ${start}-${end}/${bytes}`,
    },
  });
}
