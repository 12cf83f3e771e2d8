import { createHash } from 'node:crypto';
import PQueue from 'p-queue';
import type { Appearance, PageReading } from '@/core/appearance';
import type { PictureReading } from '@/server/analysis/reader-tasks';
import { Skipped, type Source } from './source';

/** A picture as gathered: read, or the reason why it could not be. */
export type GatheredPicture =
  | { found: true; address: string; reading: PictureReading; bytes: Buffer }
  | { found: false; address: string; broken: string | null; unread: string | null };

export interface GatheredPage {
  address: string;
  bytes: Buffer;
  transport: string | null;
  reading: PageReading;
  /** By `Appearance.order`: the address of its picture; null for those that show no file. */
  pictureOf: (string | null)[];
}

/** Where a survey keeps what it finds; in memory for the command line, in the database for the application. */
export interface SurveyStore {
  /** Adds addresses not seen before, up to the limit of pages. */
  enqueue(addresses: { address: string; depth: number }[]): Promise<void>;
  /** The next address to read; null when none waits. What was handed out is handed out once. */
  next(): Promise<{ address: string; depth: number } | null>;
  page(page: GatheredPage): Promise<void>;
  skip(address: string, reason: string): Promise<void>;
  /** True when the picture at an address was gathered in this survey already. */
  hasPicture(address: string): Promise<boolean>;
  picture(picture: GatheredPicture): Promise<void>;
  /** Called as often as something changed. */
  progress(): Promise<void>;
}

export interface Readers {
  page(bytes: Buffer, transport?: string): Promise<PageReading>;
  picture(bytes: Buffer): Promise<PictureReading>;
}

export interface SurveyOptions {
  maxDepth: number;
  /** Pages and pictures in hand at a time. */
  concurrency: number;
  signal?: AbortSignal;
}

const MAX_DATA_URL = 2_000_000;
/** Pictures of one page; what a hostile page lists beyond it is not fetched. */
const MAX_PICTURES_PER_PAGE = 5_000;

/** The address under which an inline `svg` is known: by its markup, since it has no file. */
export function inlineAddress(markup: string): string {
  return `inline:${createHash('sha256').update(markup).digest('hex').slice(0, 32)}`;
}

/**
 * Gathers pages and their pictures until nothing waits. Whatever goes wrong with one page or picture is
 * told and left behind; the rest is still read.
 */
export async function runSurvey(
  source: Source,
  store: SurveyStore,
  readers: Readers,
  { maxDepth, concurrency, signal }: SurveyOptions,
): Promise<void> {
  const seeds = await source.seeds();
  for (const { address, reason } of seeds.skipped) await store.skip(address, reason);
  await store.enqueue(seeds.addresses.map((address) => ({ address, depth: 0 })));

  const pictures = new PQueue({ concurrency: concurrency * 2 });
  const gathering = new Map<string, Promise<void>>();
  const working = new Set<Promise<void>>();
  while (!signal?.aborted) {
    const waiting = await store.next();
    if (waiting) {
      const work: Promise<void> = readOne(waiting).finally(() => working.delete(work));
      working.add(work);
      if (working.size >= concurrency) await Promise.race(working);
    } else if (working.size > 0) await Promise.race(working);
    else break;
  }
  await Promise.all(working);
  await store.progress();

  /** A page is kept after its pictures, so that a survey taken up again has all of a page or nothing. */
  async function readOne({ address, depth }: { address: string; depth: number }): Promise<void> {
    try {
      const fetched = await source.page(address);
      const reading = await readers.page(fetched.bytes, fetched.transport).catch((error: Error) => {
        throw new Skipped(`the page could not be read: ${error.message}`);
      });
      const page = gather(fetched.address, fetched, reading);
      if (fetched.address !== address) await store.skip(address, `it redirects to ${fetched.address}`);
      const links = linked(reading, fetched.address, depth);
      if (depth < maxDepth) await store.enqueue(links);
      else for (const l of links) await store.skip(l.address, `more than ${maxDepth} links away from the start`);
      await Promise.all(picturesOf(page).map((picture) => gatherPicture(picture, page)));
      if (signal?.aborted) return;
      await store.page(page);
    } catch (error) {
      if (signal?.aborted) return;
      await store.skip(address, error instanceof Skipped ? error.reason : `it could not be read (${String(error)})`);
    }
    await store.progress();
  }

  function picturesOf({ address, pictureOf, reading }: GatheredPage): string[] {
    const wanted = new Set(pictureOf.filter((a) => a !== null));
    for (const a of reading.appearances)
      for (const c of a.candidates) {
        const candidate = source.resolve(c.src, address, reading.base);
        if (candidate) wanted.add(candidate);
      }
    return [...wanted].slice(0, MAX_PICTURES_PER_PAGE);
  }

  /** Gathers a picture once, whatever the number of pages that show it at the same time. */
  function gatherPicture(address: string, page: GatheredPage): Promise<void> {
    let work = gathering.get(address);
    if (!work) {
      work = pictures.add(async () => {
        if (!(await store.hasPicture(address))) await readPicture(address, page);
      });
      gathering.set(address, work);
    }
    return work;
  }

  function gather(address: string, fetched: { bytes: Buffer; transport?: string }, reading: PageReading): GatheredPage {
    const byMap = new Map<string, string | null>();
    const own = reading.appearances.map((a) => {
      const found = pictureAddress(a, address, reading);
      if (a.element === 'img' && a.map) byMap.set(a.map, found);
      return found;
    });
    const pictureOf = reading.appearances.map((a, i) =>
      a.element === 'area' ? (byMap.get(a.map ?? '') ?? null) : own[i]!,
    );
    return { address, bytes: fetched.bytes, transport: fetched.transport ?? null, reading, pictureOf };
  }

  function pictureAddress(a: Appearance, page: string, reading: PageReading): string | null {
    if (a.markup !== null) return inlineAddress(a.markup);
    const src = a.src?.trim() || a.candidates[0]?.src || null;
    if (!src) return null;
    return src.startsWith('data:') ? src : source.resolve(src, page, reading.base);
  }

  function linked(reading: PageReading, address: string, depth: number) {
    const out = new Set<string>();
    for (const link of reading.links) {
      const target = source.resolve(link, address, reading.base);
      if (target && source.follows(target).follow) out.add(target);
    }
    return [...out].map((target) => ({ address: target, depth: depth + 1 }));
  }

  async function readPicture(address: string, page: GatheredPage): Promise<void> {
    if (signal?.aborted) return;
    try {
      const bytes = address.startsWith('inline:')
        ? inlineBytes(page, address)
        : address.startsWith('data:')
          ? dataBytes(address)
          : await source.picture(address);
      const reading = await readers.picture(bytes);
      // Inline markup is drawn by the page, whatever a drawing library makes of it on its own.
      if (address.startsWith('inline:')) reading.broken = null;
      await store.picture({ found: true, address, reading, bytes });
    } catch (error) {
      if (signal?.aborted) return;
      const reason = error instanceof Skipped ? error.reason : (error as Error).message;
      // Not looking is no fault of the picture's.
      const unread = error instanceof Skipped && error.notLookedAt;
      await store.picture({ found: false, address, broken: unread ? null : reason, unread: unread ? reason : null });
    }
    await store.progress();
  }
}

/** Inline markup as a file of its own: with the namespace that HTML lets it leave out. */
function inlineBytes(page: GatheredPage, address: string): Buffer {
  const own = page.reading.appearances.find((a) => a.markup !== null && inlineAddress(a.markup) === address);
  const markup = own?.markup ?? '';
  const named = /^<svg[^>]*\sxmlns\s*=/i.test(markup)
    ? markup
    : markup.replace(/^<svg/i, '<svg xmlns="http://www.w3.org/2000/svg"');
  return Buffer.from(named);
}

function dataBytes(url: string): Buffer {
  const m = /^data:[^,]*?(;base64)?,(.*)$/is.exec(url);
  if (!m) throw new Skipped('a data address that is not well-formed');
  if (m[2]!.length > MAX_DATA_URL) throw new Skipped('a data address over the limit of 2 MB');
  return m[1]
    ? Buffer.from(m[2]!, 'base64')
    : Buffer.from(decodeURIComponent(m[2]!.replace(/%(?![0-9a-f]{2})/gi, '%25')));
}
