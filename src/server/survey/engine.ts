import { createHash } from 'node:crypto';
import { setTimeout } from 'node:timers/promises';
import PQueue from 'p-queue';
import type { Appearance } from '@/core/model/appearance';
import type { PagePicture, PageReading } from '@/core/model/page';
import { importsOf, type StyleSheet } from '@/core/formats/html/backgrounds';
import type { PictureFacts } from '@/server/workers/tasks';
import type { Scope } from '@/contract/scope';
import type { DomSnapshot } from '@/core/formats/html/snapshot';
import { messageOf } from '../log';
import type { Renderer } from './browser/browser';
import { Skipped, UNCHANGED, type FetchedPage, type FetchedPicture, type Source, type Validators } from './source';

/** A picture as gathered: read, or the reason why it could not be. */
export type GatheredPicture =
  | ({ found: true; address: string; reading: PictureFacts; bytes: Buffer } & Validators)
  | { found: false; address: string; skipped: Skipped };

export interface GatheredPage {
  address: string;
  bytes: Buffer;
  /** Of the bytes. */
  sha256: string;
  transport: string | null;
  validators: Validators;
  status: number | null;
  reading: PageReading;
  /** By `Appearance.order`: the address of its picture; null for those that show no file. */
  pictureOf: (string | null)[];
  /** Addresses of pages that it leads to, and of all pictures on it. */
  links: string[];
  pictures: string[];
  /** Where it leads and the survey does not. */
  left: { address: string; skipped: Skipped }[];
  /** The same for two addresses of one page; null where addresses are files. */
  sameKey: string | null;
  /** Hash of its title and of what it shows. */
  showsKey: string;
  /** Of `meta robots` and `X-Robots-Tag`. */
  directives: string[];
  /** What the account has to say of a page that was read; null when there is nothing. */
  note: string | null;
  /** Its icons and previews, by their whole addresses. */
  pagePictures: PagePicture[];
}

/** A page as the survey before kept it. */
export interface KnownPage extends Validators {
  sha256: string;
  /** Whether a browser had a part in it: its bytes do not tell then whether it has changed. */
  rendered: boolean;
  links: string[];
  pictures: string[];
}

/** A picture as the survey before kept it; without a hash when it could not be read. */
export interface KnownPicture extends Validators {
  sha256: string | null;
}

export interface Waiting {
  address: string;
  depth: number;
  /** The page that led to it first. */
  foundOn: string | null;
}

/** Where a survey keeps what it finds; in memory for the command line, in the database for the application. */
export interface SurveyStore {
  /** What an earlier run left is known then; until then only `next` and `known` may be asked. */
  readonly loaded: Promise<void>;
  /** Adds addresses not seen before, up to the limit of pages. */
  enqueue(addresses: Waiting[]): Promise<void>;
  /** The next address to read; null when none waits. What was handed out is handed out once. */
  next(): Promise<Waiting | null>;
  /** A page as the survey before kept it; null when there is none. */
  known(address: string): Promise<KnownPage | null>;
  page(page: GatheredPage): Promise<void>;
  /** A page is as it was kept, with its pictures and appearances. */
  unchanged(address: string): Promise<void>;
  skip(address: string, skipped: Skipped): Promise<void>;
  /** Addresses that are left aside unless another way leads to them. */
  leave(addresses: { address: string; foundOn: string; skipped: Skipped }[]): Promise<void>;
  /** True when the picture at an address was gathered in this survey already. */
  hasPicture(address: string): Promise<boolean>;
  /** A picture as the survey before kept it; null when there is none. */
  knownPicture(address: string): Promise<KnownPicture | null>;
  picture(picture: GatheredPicture): Promise<void>;
  pictureUnchanged(address: string): Promise<void>;
  /** A style sheet was asked for, or is left out, with the reason. */
  sheet(address: string, foundOn: string, skipped: Skipped | null): Promise<void>;
  /** Called as often as something changed. */
  progress(): Promise<void>;
}

export interface Readers {
  page(bytes: Buffer, transport?: string, sheets?: StyleSheet[]): Promise<PageReading>;
  rendered(reading: PageReading, snapshot: DomSnapshot): Promise<PageReading>;
  picture(bytes: Buffer): Promise<PictureFacts>;
}

export interface SurveyOptions {
  maxDepth: number;
  /** Pages and pictures in hand at a time. */
  concurrency: number;
  signal?: AbortSignal;
  /** Which pages are opened in a browser: none, those that are empty without scripts, or all. */
  reading?: Scope['reading'];
  /** Null where pages are never opened in a browser, as those of a folder. */
  renderer?: Renderer | null;
}

/** A page read, with what the account has to say of it. */
interface Read {
  reading: PageReading;
  note: string | null;
  /** Where a script leads on to. */
  leadsTo: string | null;
}

const MAX_DATA_URL = 2_000_000;
const MAX_SHEET = 2_000_000;
const MAX_SHEETS_PER_PAGE = 20;
/** How deep style sheets that import others are followed, and how many one page leads to in all. */
const MAX_IMPORTS = 3;
const MAX_SHEETS_IN_ALL = 50;
/** Milliseconds before a picture that got no answer is asked for once more; a host where many get none is not. */
const SECOND_TRY = 2_000;
const MOST_SILENT = 3;
/** Bytes of an address or a path; what is longer was made to be in the way. */
const LONGEST_ADDRESS = 2_000;
/** A UTF-16 code unit is three bytes at most; most addresses need no counting. */
const isTooLong = (address: string) =>
  3 * address.length > LONGEST_ADDRESS && Buffer.byteLength(address) > LONGEST_ADDRESS;

interface FetchedSheet {
  /** Null when it shows no picture. */
  sheet: StyleSheet | null;
  /** Addresses of those it imports. */
  imports: string[];
}
/** Pictures of one page; what a hostile page lists beyond it is not fetched. */
const MAX_PICTURES_PER_PAGE = 5_000;
/** Addresses of which it is remembered whether they are pages of the survey. */
const MOST_OUTSIDES = 50_000;
/** Addresses outside of the survey that one page adds to the account. */
const MAX_LEFT_PER_PAGE = 200;

/** The address under which an inline `svg` is known: by its markup, since it has no file. */
export function inlineAddress(markup: string): string {
  return `inline:${sha256(markup).slice(0, 32)}`;
}

const number = (n: number) => n.toLocaleString('en-GB');

const sha256 = (content: string | Buffer) => createHash('sha256').update(content).digest('hex');

/** Why a page that was fetched could not be read. */
const unreadable =
  ({ status }: FetchedPage) =>
  (error: Error): never => {
    throw new Skipped(`the page could not be read: ${error.message}`, 'unreadable', status);
  };

/**
 * Gathers pages and their pictures until nothing waits. Whatever goes wrong with one page or picture is
 * told and left behind; the rest is still read. What has not changed since the survey before is not read again.
 *
 * @param opening - where it is kept
 */
export async function runSurvey(
  source: Source,
  opening: SurveyStore | Promise<SurveyStore>,
  readers: Readers,
  { maxDepth, concurrency, signal, reading: how = 'source', renderer = null }: SurveyOptions,
): Promise<void> {
  const seeds = source.seeds();
  // Whoever awaits it is told.
  seeds.catch(() => undefined);
  const store = await opening;
  const pictures = new PQueue({ concurrency: concurrency * 2 });
  /** Whether the picture at an address is another than the survey before found. */
  const gathering = new Map<string, Promise<boolean>>();
  const sheets = new Map<string, Promise<FetchedSheet>>();
  /** Pictures in a row that got no answer, by host. */
  const silent = new Map<string, number>();
  const outsides = new Map<string, Skipped | 'no page' | null>();
  let expected: StyleSheet[] = [];
  const working = new Set<Promise<void>>();
  const take = (work: Promise<void>) => {
    const taken: Promise<void> = work.finally(() => working.delete(taken));
    working.add(taken);
    // When the store fails, the first to notice says so; the others must not end the process.
    taken.catch(() => undefined);
  };
  take(enqueueStart());
  while (!signal?.aborted) {
    const waiting = await store.next();
    if (waiting) {
      take(readOne(waiting));
      if (working.size >= concurrency) await Promise.race(working);
    } else if (working.size > 0) await Promise.race(working);
    else break;
  }
  await Promise.all(working);
  await store.progress();

  async function enqueueStart(): Promise<void> {
    const { addresses, skipped } = await seeds;
    await store.loaded;
    for (const one of skipped) await store.skip(one.address, one.skipped);
    await enqueue(addresses.map((address) => ({ address, depth: 0, foundOn: null })));
  }

  /** Addresses that are too long are told, and not followed. */
  async function enqueue(waiting: Waiting[]): Promise<void> {
    const long = waiting.filter(({ address }) => isTooLong(address));
    for (const { address } of long)
      await store.skip(address, new Skipped(`its address has ${number(address.length)} characters`, 'size'));
    await store.enqueue(long.length === 0 ? waiting : waiting.filter((one) => !long.includes(one)));
  }

  /** A page is kept after its pictures, so that a survey taken up again has all of a page or nothing. */
  async function readOne({ address, depth }: Waiting): Promise<void> {
    try {
      const kept = await store.known(address);
      const known = kept?.rendered || how === 'browser' ? null : kept;
      const fetched = await source.page(address, known ?? undefined).finally(() => store.loaded);
      const same =
        fetched === UNCHANGED || (known && fetched.address === address && sha256(fetched.bytes) === known.sha256);
      if (known && same && (await takeUnchanged(address, depth, known))) return;
      // Nobody asks a server "has it changed?" without knowing the page; one that says so all the same is asked plainly.
      const plain = fetched === UNCHANGED ? await source.page(address) : fetched;
      if (plain === UNCHANGED)
        throw new Skipped('the server says it has not changed, and does not give it', 'server', 304);
      await readFetched(address, depth, plain);
    } catch (error) {
      if (signal?.aborted) return;
      await store.skip(
        address,
        error instanceof Skipped ? error : new Skipped(`it could not be read: ${messageOf(error)}`),
      );
    }
    await store.progress();
  }

  /** False when one of its pictures is another by now, so that the page has to be read again. */
  async function takeUnchanged(address: string, depth: number, known: KnownPage): Promise<boolean> {
    const changed = await Promise.all(known.pictures.map((picture) => gatherPicture(picture, null)));
    if (changed.some(Boolean)) return false;
    await follow(known.links, address, depth);
    if (!signal?.aborted) await store.unchanged(address);
    await store.progress();
    return true;
  }

  async function readFetched(address: string, depth: number, fetched: FetchedPage): Promise<void> {
    if (isTooLong(fetched.address))
      throw new Skipped(`it redirects to an address of ${number(fetched.address.length)} characters`, 'size');
    const { reading, note, leadsTo } = await read(fetched);
    const page = gather(fetched, reading, note);
    if (leadsTo && source.outside(leadsTo) === null) page.links.push(leadsTo);
    if (fetched.address !== address)
      await store.skip(address, new Skipped(`it redirects to ${fetched.address}`, 'redirect', fetched.status));
    await store.leave(page.left.slice(0, MAX_LEFT_PER_PAGE).map((l) => ({ ...l, foundOn: page.address })));
    await follow(page.links, page.address, depth);
    await Promise.all(page.pictures.map((picture) => gatherPicture(picture, page)));
    if (!signal?.aborted) await store.page(page);
  }

  async function read(fetched: FetchedPage): Promise<Read> {
    const reading = await readSource(fetched);
    if (!renderer || how === 'source' || (how === 'auto' && !reading.shell))
      return { reading, note: noteOn(reading), leadsTo: null };
    try {
      const { snapshot, leadsTo } = await renderer.render(fetched, reading.isDynamic);
      const rendered = await readers.rendered(reading, snapshot).catch(unreadable(fetched));
      const note = leadsTo ? `a script leads on to ${leadsTo.slice(0, 300)}` : noteOn(rendered);
      return { reading: rendered, note, leadsTo: leadsTo && source.resolve(leadsTo, fetched.address, null) };
    } catch (error) {
      if (!(error instanceof Skipped) || signal?.aborted) throw error;
      return { reading, note: `read by its source only: ${error.reason}`, leadsTo: null };
    }
  }

  /** The owner of a page may not want it found, which matters to search editors. */
  function noteOn(reading: PageReading): string | null {
    const kept = reading.directives.filter((d) => d === 'noindex' || d === 'none' || d === 'noimageindex');
    const { leftOut, appearances } = reading;
    const notes = [
      ...(kept.length > 0 ? [`marked ${kept.join(', ')}`] : []),
      ...(leftOut > 0
        ? [
            `${number(appearances.length)} of its ${number(appearances.length + leftOut)} pictures are read, the limit of one page`,
          ]
        : []),
    ];
    return notes.length > 0 ? notes.join('; ') : null;
  }

  function readWith(fetched: FetchedPage, own: StyleSheet[]): Promise<PageReading> {
    return readers.page(fetched.bytes, fetched.transport, own).catch(unreadable(fetched));
  }

  /** Pages of a site link the same style sheets; one that links others is read a second time. */
  async function readSource(fetched: FetchedPage): Promise<PageReading> {
    const tried = expected;
    const reading = await readWith(fetched, tried);
    const wanted = reading.sheets
      .slice(0, MAX_SHEETS_PER_PAGE)
      .map((sheet) => source.resolve(sheet, fetched.address, reading.base));
    const budget = { left: MAX_SHEETS_IN_ALL, page: fetched.address };
    const linked = await Promise.all(
      wanted.filter((sheet) => sheet !== null).map((sheet) => sheetsFrom(sheet, budget)),
    );
    const telling = linked.flat();
    expected = telling;
    const asTried = telling.length === tried.length && telling.every((sheet, i) => sheet === tried[i]);
    return asTried ? reading : readWith(fetched, telling);
  }

  /** A style sheet with those it imports before it, as they count; without those that show no picture or are not to be had. */
  async function sheetsFrom(
    address: string,
    budget: { left: number; page: string },
    importedBy: readonly string[] = [],
  ): Promise<StyleSheet[]> {
    if (importedBy.includes(address) || importedBy.length > MAX_IMPORTS) return [];
    if (budget.left <= 0) {
      const reason = `the page leads to more than ${MAX_SHEETS_IN_ALL} style sheets`;
      await store.sheet(address, budget.page, new Skipped(reason, 'limit'));
      return [];
    }
    budget.left--;
    const { sheet, imports } = await sheetAt(address, budget.page);
    const imported = await Promise.all(imports.map((other) => sheetsFrom(other, budget, [...importedBy, address])));
    return [...imported.flat(), ...(sheet ? [sheet] : [])];
  }

  /** A style sheet, fetched once for the whole survey. */
  function sheetAt(address: string, page: string): Promise<FetchedSheet> {
    let sheet = sheets.get(address);
    if (!sheet) {
      sheet = source.picture(address).then(
        async (got) => {
          await store.sheet(address, page, null);
          const css = got === UNCHANGED ? '' : got.bytes.subarray(0, MAX_SHEET).toString('utf8');
          const imports = importsOf(css)
            .slice(0, MAX_SHEETS_PER_PAGE)
            .map((other) => source.resolve(other, address, null));
          return {
            sheet: /background[^;}]*url\(/i.test(css) ? { address, css } : null,
            imports: imports.filter((other) => other !== null),
          };
        },
        async (error: unknown) => {
          if (!signal?.aborted) await store.sheet(address, page, asSkipped(error));
          return { sheet: null, imports: [] };
        },
      );
      sheets.set(address, sheet);
    }
    return sheet;
  }

  async function follow(links: string[], foundOn: string, depth: number): Promise<void> {
    if (depth < maxDepth) return enqueue(links.map((address) => ({ address, depth: depth + 1, foundOn })));
    const skipped = new Skipped(`more than ${maxDepth} links away from the start`, 'depth');
    return store.leave(links.map((address) => ({ address, foundOn, skipped })));
  }

  function gather(fetched: FetchedPage, reading: PageReading, note: string | null): GatheredPage {
    const { address, bytes, status, etag, lastModified } = fetched;
    const pictureOf = picturesByOrder(reading, address);
    for (const {
      markup: { candidates },
    } of reading.appearances)
      for (const c of candidates) c.address = source.resolve(c.src, address, reading.base);
    const directives = [...new Set([...fetched.directives, ...reading.directives])];
    const apart = reading.pagePictures.flatMap((a) => {
      const src = source.resolve(a.src, address, reading.base);
      return src ? [{ ...a, src }] : [];
    });
    const showsKey = sha256(
      JSON.stringify([
        reading.title,
        reading.appearances.map((a) => [a.context.place, pictureOf[a.order], a.markup.alt, a.accessible.name]),
      ]),
    );
    const hash = sha256(bytes);
    return {
      address,
      bytes,
      sha256: hash,
      status,
      validators: { etag, lastModified },
      transport: fetched.transport ?? null,
      reading,
      pictureOf,
      directives,
      note,
      showsKey,
      pagePictures: apart,
      pictures: picturesOf(reading, pictureOf, apart),
      ...linked(reading, address, directives),
      sameKey: source.isSite ? sameKeyOf(address, hash, reading, showsKey) : null,
    };
  }

  /** Two addresses are one page when they give the same bytes, or name one canonical address and show the same. */
  function sameKeyOf(address: string, hash: string, reading: PageReading, showsKey: string): string {
    const canonical = reading.canonical && source.resolve(reading.canonical, address, reading.base);
    if (canonical) return sha256(`${canonical}\n${showsKey}`);
    // One shell may become many pages.
    return reading.rendered ? sha256(address) : hash;
  }

  function picturesOf(reading: PageReading, pictureOf: (string | null)[], pagePictures: PagePicture[]): string[] {
    const wanted = new Set(pictureOf.filter((a) => a !== null));
    for (const a of reading.appearances) for (const c of a.markup.candidates) if (c.address) wanted.add(c.address);
    for (const { src } of pagePictures) wanted.add(src);
    return [...wanted].slice(0, MAX_PICTURES_PER_PAGE);
  }

  /** Gathers a picture once, whatever the number of pages that show it at the same time. */
  function gatherPicture(address: string, page: GatheredPage | null): Promise<boolean> {
    let work = gathering.get(address);
    if (!work) {
      work = pictures.add(async () => ((await store.hasPicture(address)) ? false : readPicture(address, page)));
      gathering.set(address, work);
    }
    return work;
  }

  function picturesByOrder(reading: PageReading, address: string): (string | null)[] {
    const byMap = new Map<string, string | null>();
    const own = reading.appearances.map((a) => {
      const found = pictureAddress(a, address, reading);
      if (a.element === 'img' && a.markup.map) byMap.set(a.markup.map, found);
      return found;
    });
    return reading.appearances.map((a, i) =>
      a.element === 'area' ? (byMap.get(a.markup.map ?? '') ?? null) : own[i]!,
    );
  }

  function pictureAddress(a: Appearance, page: string, reading: PageReading): string | null {
    if (a.markup.svg !== null) return inlineAddress(a.markup.svg);
    const src = a.markup.src?.trim() || a.markup.candidates[0]?.src || null;
    if (!src) return null;
    if (src.startsWith('data:')) return src;
    return a.markup.sheet === null
      ? source.resolve(src, page, reading.base)
      : source.resolve(src, a.markup.sheet, null);
  }

  /** Pages that a page leads to, and what its other links add to the account. */
  function linked(reading: PageReading, address: string, directives: readonly string[]) {
    const links = new Set<string>();
    const left: GatheredPage['left'] = [];
    const marked = directives.some((d) => d === 'nofollow' || d === 'none');
    const obeyed = source.isSite && source.obeysRobots;
    const meet = (link: string, followed: boolean, told: boolean) => {
      const target = source.resolve(link, address, reading.base);
      if (!target) return;
      const outside = outsideOf(target);
      if (outside === null && followed) links.add(target);
      else if (told && outside instanceof Skipped) left.push({ address: target, skipped: outside });
      else if (told && outside === null && !followed)
        left.push({ address: target, skipped: new Skipped('marked nofollow', 'nofollow') });
    };
    for (const link of reading.unfollowed) meet(link, !obeyed, true);
    for (const link of reading.links) meet(link, !(obeyed && marked), true);
    if (reading.canonical) meet(reading.canonical, true, false);
    return { links: [...links], left };
  }

  /** The same addresses are linked from page to page. */
  function outsideOf(address: string): Skipped | 'no page' | null {
    let known = outsides.get(address);
    if (known === undefined) {
      if (outsides.size >= MOST_OUTSIDES) outsides.clear();
      outsides.set(address, (known = source.outside(address)));
    }
    return known;
  }

  /** One that got no answer is asked for once more a little later, unless its host is silent altogether. */
  async function fetchPicture(address: string, known: KnownPicture | null): Promise<FetchedPicture | typeof UNCHANGED> {
    const host = URL.canParse(address) ? new URL(address).host : '';
    try {
      return await source.picture(address, known ?? undefined);
    } catch (error) {
      const again = error instanceof Skipped && error.why === 'no-answer' && (silent.get(host) ?? 0) < MOST_SILENT;
      if (!again || signal?.aborted) throw error;
      silent.set(host, (silent.get(host) ?? 0) + 1);
      await setTimeout(SECOND_TRY, undefined, { ...(signal ? { signal } : {}), ref: false });
      const got = await source.picture(address, known ?? undefined);
      silent.delete(host);
      return got;
    }
  }

  /** Whether it is another picture than the survey before found there. */
  async function readPicture(address: string, page: GatheredPage | null): Promise<boolean> {
    if (signal?.aborted) return false;
    const known = await store.knownPicture(address);
    try {
      const own = /^(?:inline|data):/.test(address);
      // What stands in the page itself is as it was when the page is.
      const fetched = own ? (page ? ownBytes(address, page) : UNCHANGED) : await fetchPicture(address, known);
      const same = fetched === UNCHANGED || (known !== null && sha256(fetched.bytes) === known.sha256);
      if (same) {
        await store.pictureUnchanged(address);
        return false;
      }
      const { bytes, etag, lastModified } = fetched;
      const reading = await readers.picture(bytes);
      // Inline markup is drawn by the page, whatever a drawing library makes of it on its own.
      if (address.startsWith('inline:')) reading.broken = null;
      await store.picture({ found: true, address, reading, bytes, etag, lastModified });
    } catch (error) {
      if (signal?.aborted) return false;
      const skipped = asSkipped(error);
      // Not looking is no fault of the picture's.
      await store.picture({ found: false, address, skipped });
      if (known?.sha256 === null) return false;
    }
    await store.progress();
    return known !== null;
  }
}

const asSkipped = (error: unknown): Skipped => (error instanceof Skipped ? error : new Skipped(messageOf(error)));

function ownBytes(address: string, page: GatheredPage): FetchedPicture {
  const bytes = address.startsWith('inline:') ? inlineBytes(page, address) : dataBytes(address);
  return { bytes, etag: null, lastModified: null };
}

/** Inline markup as a file of its own: with the namespace that HTML lets it leave out. */
function inlineBytes(page: GatheredPage, address: string): Buffer {
  const own = page.reading.appearances.find((a) => a.markup.svg !== null && inlineAddress(a.markup.svg) === address);
  const markup = own?.markup.svg ?? '';
  const named = /^<svg[^>]*\sxmlns\s*=/i.test(markup)
    ? markup
    : markup.replace(/^<svg/i, '<svg xmlns="http://www.w3.org/2000/svg"');
  return Buffer.from(named);
}

function dataBytes(url: string): Buffer {
  const m = /^data:[^,]*?(;base64)?,(.*)$/is.exec(url);
  if (!m) throw new Skipped('a data address that is not well-formed');
  if (m[2]!.length > MAX_DATA_URL) throw new Skipped('a data address over the limit of 2 MB', 'size');
  return m[1]
    ? Buffer.from(m[2]!, 'base64')
    : Buffer.from(decodeURIComponent(m[2]!.replace(/%(?![0-9a-f]{2})/gi, '%25')));
}
