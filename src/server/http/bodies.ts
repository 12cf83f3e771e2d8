import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import path from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import { weightOf } from '@/core/model/message';
import { UserError } from '@/core/model/user-error';
import { config } from '../config';

/** Bytes of a JSON body: ids of some hundred thousand pictures. */
export const JSON_LIMIT = 8 * 1024 * 1024;
/** Bytes of a list of texts. */
export const LIST_LIMIT = 50 * 1024 * 1024;

const tooLarge = (limit: number) =>
  new UserError({ id: 'error.body-too-large', values: { limit: weightOf(limit) } }, 413);

/** Passes a body on, up to a limit, and sees that all of it has arrived (`Content-Length`, RFC 9110, 8.6). */
function counted(request: Request, limit: number): Transform {
  const length = request.headers.get('content-length');
  const announced = length === null ? null : Number(length);
  let size = 0;
  return new Transform({
    transform(part: Buffer, _, done) {
      size += part.length;
      done(size > limit ? tooLarge(limit) : null, part);
    },
    flush(done) {
      const isWhole = announced === null || size === announced;
      done(isWhole ? null : new UserError({ id: 'error.body-cut', values: { arrived: size, announced } }));
    },
  });
}

function refuseAnnounced(request: Request, limit: number): void {
  if (Number(request.headers.get('content-length') ?? 0) > limit) throw tooLarge(limit);
}

const streamOf = (request: Request) =>
  request.body ? Readable.fromWeb(request.body as unknown as ReadableStream) : Readable.from([]);

/**
 * The JSON of a request.
 *
 * @param limit bytes
 * @throws UserError when it is too large (413), was cut off, or is no JSON
 */
export async function jsonBody(request: Request, limit = JSON_LIMIT): Promise<unknown> {
  const text = await textBody(request, limit);
  try {
    return JSON.parse(text);
  } catch {
    throw new UserError({ id: 'error.not-json' });
  }
}

/**
 * The text of a request.
 *
 * @param limit bytes
 * @throws UserError when it is too large (413), was cut off, or is not in UTF-8
 */
export async function textBody(request: Request, limit = JSON_LIMIT): Promise<string> {
  refuseAnnounced(request, limit);
  const parts: Buffer[] = [];
  await pipeline(streamOf(request), counted(request, limit), async (stream: AsyncIterable<Buffer>) => {
    for await (const part of stream) parts.push(part);
  });
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(Buffer.concat(parts));
  } catch {
    throw new UserError({ id: 'error.not-json' });
  }
}

/**
 * Writes the body of a request to a file; what is there of it after an error is removed.
 *
 * @param limit bytes
 * @throws UserError when it is too large (413), or was cut off
 */
export async function saveBody(request: Request, file: string, limit: number): Promise<void> {
  refuseAnnounced(request, limit);
  await mkdir(path.dirname(file), { recursive: true, mode: 0o700 });
  try {
    await pipeline(streamOf(request), counted(request, limit), createWriteStream(file, { mode: 0o600 }));
  } catch (error) {
    await rm(file, { force: true });
    throw error;
  }
}

/** Where bodies stand while they are read; what a process left there is removed by a later start. */
export const arrivals = (): string => path.join(config().dataDir, 'arriving');

/**
 * Gives the body of a request to something that reads it, as a file that is removed afterwards.
 *
 * @param limit bytes
 * @throws UserError as {@link saveBody} does
 */
export async function withBody<T>(request: Request, limit: number, read: (file: string) => Promise<T>): Promise<T> {
  const file = path.join(arrivals(), randomUUID());
  await saveBody(request, file, limit);
  try {
    return await read(file);
  } finally {
    await rm(file, { force: true });
  }
}
