import type { Dispatcher } from 'undici';
import { weightOf } from '@/core/model/message';
import { Skipped } from './source';

/** Ends an answer whose rest nobody needs, so that its connection can be used again. */
export async function drop(body: Dispatcher.ResponseData['body']): Promise<void> {
  await body.dump({ limit: 65_536 }).catch(() => undefined);
}

/**
 * The whole of an answer.
 *
 * @param limit bytes
 * @throws Skipped when it is longer; the rest is not fetched
 */
export async function bodyOf(
  body: Dispatcher.ResponseData['body'],
  limit: number,
  what: 'page' | 'document' | 'picture' | 'sitemap',
  status: number,
): Promise<Buffer> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of body as AsyncIterable<Buffer>) {
    size += part.length;
    if (size > limit) {
      body.destroy();
      throw new Skipped({ id: 'skip.over-limit', values: { limit: weightOf(limit), what } }, 'size', status);
    }
    parts.push(part);
  }
  return Buffer.concat(parts);
}

/** The first bytes of an answer; of a longer one, the rest is not waited for (RFC 9309, 2.5). */
export async function startOf(body: Dispatcher.ResponseData['body'], limit: number): Promise<Buffer> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of body as AsyncIterable<Buffer>) {
    parts.push(part);
    size += part.length;
    if (size >= limit) break;
  }
  return Buffer.concat(parts).subarray(0, limit);
}
