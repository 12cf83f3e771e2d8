import { setTimeout } from 'node:timers/promises';
import PQueue from 'p-queue';
import type { Message } from '@/core/model/message';
import type { Scope } from '@/contract/scope';
import type { DomSnapshot } from '@/core/formats/html/snapshot';
import { FRONT_MATTER_KEYS, type DocumentReading, type FormatId, type FrontMatterKeys } from '@/core/model/document';
import type { DocumentContext } from '../workers/tasks';
import type { PageReading } from '@/core/model/page';
import { heldName, isHeld } from '@/core/model/held-address';
import { DocumentError } from '@/core/formats/document-error';
import { reasonOf } from '../log';
import { sharedBytes } from '../workers/shared-bytes';
import type { PictureFacts } from '../workers/tasks';
import type { Renderer } from './browser/browser';
import type { Waiting } from './frontier';
import { PageGatherer, ownBytes, sha256 } from './page-gatherer';
import { Skipped, UNCHANGED, asSkipped, type FetchedPage, type FetchedPicture, type Source } from './source';
import type { GatheredPage, KnownPage, KnownPicture, SurveyStore } from './store';
import { MAX_SHEETS_IN_ALL, MAX_SHEETS_PER_PAGE, StyleSheets } from './style-sheets';
import type { StyleSheet } from '@/core/model/document';

/** Reads pages and pictures apart from the process that serves people. */
export interface Readers {
  page(bytes: Buffer, transport?: string, sheets?: StyleSheet[]): Promise<PageReading>;
  rendered(reading: PageReading, snapshot: DomSnapshot): Promise<PageReading>;
  /** @param bytes on memory that threads share, where they are many */
  document(bytes: Buffer, format: FormatId, name: string, context?: DocumentContext): Promise<DocumentReading>;
  /** The file of a picture that a document holds. */
  held(bytes: Buffer, format: FormatId, picture: string): Promise<Buffer>;
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
  /** Keys of Markdown that name pictures; the usual ones where absent. */
  frontMatter?: readonly FrontMatterKeys[];
}

/** A page read, with what the survey log has to say of it. */
interface Read {
  reading: PageReading;
  note: Message | null;
  /** Where a script leads on to. */
  leadsTo: string | null;
}

/** Milliseconds before a picture that got no answer is asked for once more; a host where many get none is not. */
const SECOND_TRY_MS = 2_000;
const MOST_SILENT = 3;
/** Bytes of an address or a path; what is longer was made to be in the way. */
const LONGEST_ADDRESS = 2_000;
/** Addresses outside of the survey that one page adds to the log. */
const MAX_LEFT_PER_PAGE = 200;

/** A UTF-16 code unit is three bytes at most; most addresses need no counting. */
const isTooLong = (address: string) =>
  3 * address.length > LONGEST_ADDRESS && Buffer.byteLength(address) > LONGEST_ADDRESS;

/** Why a page that was fetched could not be read. */
const unreadable =
  ({ status }: FetchedPage) =>
  (error: Error): never => {
    if (error instanceof DocumentError) throw new Skipped(error.reason, 'unreadable', status);
    throw new Skipped({ id: 'skip.page-unreadable', values: { detail: error.message } }, 'unreadable', status);
  };

/**
 * One run of a survey: gathers pages and their pictures until nothing waits. Whatever goes wrong with one page or picture
 * is logged and left behind; the rest is still read. What has not changed since the survey before is not read again.
 */
export class SurveyRun {
  private readonly seeds: ReturnType<Source['seeds']>;
  private store!: SurveyStore;
  private sheets!: StyleSheets;
  private readonly pages: PageGatherer;
  private readonly pictures: PQueue;
  /** By address, whether its picture is another than the survey before found. */
  private readonly gathering = new Map<string, Promise<boolean>>();
  /** Pictures in a row that got no answer, by host. */
  private readonly silent = new Map<string, number>();
  /** The style sheets that the page before linked. */
  private expected: StyleSheet[] = [];
  private readonly working = new Set<Promise<void>>();

  /** @param opening where it is kept */
  constructor(
    private readonly source: Source,
    private readonly opening: SurveyStore | Promise<SurveyStore>,
    private readonly readers: Readers,
    private readonly options: SurveyOptions,
  ) {
    this.seeds = source.seeds();
    // Whoever awaits it gets the error.
    this.seeds.catch(() => undefined);
    this.pages = new PageGatherer(source);
    this.pictures = new PQueue({ concurrency: options.concurrency * 2 });
  }

  /** @throws Error when what was gathered cannot be kept, or the source cannot list where to begin */
  async gather(): Promise<void> {
    const { concurrency, signal } = this.options;
    this.store = await this.opening;
    this.sheets = new StyleSheets(this.source, this.store, signal);
    this.take(this.enqueueStart());
    while (!signal?.aborted) {
      const waiting = await this.store.next();
      if (waiting) {
        this.take(this.readOne(waiting));
        if (this.working.size >= concurrency) await Promise.race(this.working);
      } else if (this.working.size > 0) await Promise.race(this.working);
      else break;
    }
    await Promise.all(this.working);
    await this.store.progress();
  }

  private take(work: Promise<void>): void {
    const taken: Promise<void> = work.finally(() => this.working.delete(taken));
    this.working.add(taken);
    // When the store fails, the first to notice throws; the others must not end the process.
    taken.catch(() => undefined);
  }

  private async enqueueStart(): Promise<void> {
    const { addresses, skipped } = await this.seeds;
    await this.store.loaded;
    for (const one of skipped) await this.store.skip(one.address, one.skipped);
    await this.enqueue(addresses.map((address) => ({ address, depth: 0, foundOn: null })));
  }

  /** Addresses that are too long are logged, and not followed. */
  private async enqueue(waiting: Waiting[]): Promise<void> {
    const long = waiting.filter(({ address }) => isTooLong(address));
    for (const { address } of long)
      await this.store.skip(
        address,
        new Skipped({ id: 'skip.long-address', values: { length: address.length } }, 'size'),
      );
    await this.store.enqueue(long.length === 0 ? waiting : waiting.filter((one) => !long.includes(one)));
  }

  /** A page is kept after its pictures, so that a survey taken up again has all of a page or nothing. */
  private async readOne({ address, depth }: Waiting): Promise<void> {
    try {
      const kept = await this.store.knownPage(address);
      const isReadOtherwise = kept?.rendered || this.options.reading === 'browser' || this.hasOtherKeys(kept);
      const known = isReadOtherwise ? null : kept;
      const fetched = await this.source.page(address, known ?? undefined).finally(() => this.store.loaded);
      const same =
        fetched === UNCHANGED || (known && fetched.address === address && sha256(fetched.bytes) === known.sha256);
      if (known && same && (await this.takeUnchanged(address, depth, known))) return;
      // Nobody asks a server "has it changed?" without knowing the page; one that says so all the same is asked plainly.
      const plain = fetched === UNCHANGED ? await this.source.page(address) : fetched;
      if (plain === UNCHANGED) throw new Skipped({ id: 'skip.not-given' }, 'server', 304);
      await this.readFetched(address, depth, plain);
    } catch (error) {
      if (this.options.signal?.aborted) return;
      await this.store.skip(
        address,
        error instanceof Skipped ? error : new Skipped({ id: 'skip.unreadable', values: { detail: reasonOf(error) } }),
      );
    }
    await this.store.progress();
  }

  private get frontMatter(): readonly FrontMatterKeys[] {
    return this.options.frontMatter ?? FRONT_MATTER_KEYS;
  }

  /** Markdown shows other pictures when other keys of its front matter name them. */
  private hasOtherKeys(kept: KnownPage | null): boolean {
    return kept?.frontMatter ? JSON.stringify(kept.frontMatter) !== JSON.stringify(this.frontMatter) : false;
  }

  /** False when one of its pictures is another by now, so that the page has to be read again. */
  private async takeUnchanged(address: string, depth: number, known: KnownPage): Promise<boolean> {
    const changed = await Promise.all(known.pictures.map((picture) => this.gatherPicture(picture, null)));
    if (changed.some(Boolean)) return false;
    await this.follow(known.links, address, depth);
    if (!this.options.signal?.aborted) await this.store.unchanged(address);
    await this.store.progress();
    return true;
  }

  private async readFetched(address: string, depth: number, fetched: FetchedPage): Promise<void> {
    if (isTooLong(fetched.address))
      throw new Skipped({ id: 'skip.redirect-long', values: { length: fetched.address.length } }, 'size');
    if (fetched.format !== 'html') return this.readDocument(address, fetched);
    const { reading, note, leadsTo } = await this.read(fetched);
    const page = this.pages.gather(fetched, reading, note);
    if (leadsTo && this.source.outside(leadsTo) === null) page.links.push(leadsTo);
    if (fetched.address !== address)
      await this.store.skip(
        address,
        new Skipped({ id: 'skip.redirect', values: { address: fetched.address } }, 'redirect', fetched.status),
      );
    await this.store.leave(page.left.slice(0, MAX_LEFT_PER_PAGE).map((l) => ({ ...l, foundOn: page.address })));
    await this.follow(page.links, page.address, depth);
    await Promise.all(page.pictures.map((picture) => this.gatherPicture(picture, page)));
    if (!this.options.signal?.aborted) await this.store.page(page);
  }

  /** An office file, a book, a message: read as a whole, with all of its pages. */
  private async readDocument(address: string, fetched: FetchedPage): Promise<void> {
    // Readers need not copy it again for each picture, and the original can go.
    fetched.bytes = sharedBytes(fetched.bytes);
    const reading = await this.readers
      .document(
        fetched.bytes,
        fetched.format,
        fetched.address,
        this.frontMatter ? { frontMatter: this.frontMatter } : {},
      )
      .catch(unreadable(fetched));
    const document = this.pages.gatherDocument(fetched, reading, this.frontMatter);
    if (fetched.address !== address)
      await this.store.skip(
        address,
        new Skipped({ id: 'skip.redirect', values: { address: fetched.address } }, 'redirect', fetched.status),
      );
    for (const page of document.pages)
      await Promise.all(page.pictures.map((picture) => this.gatherPicture(picture, page)));
    if (!this.options.signal?.aborted) await this.store.document(document);
  }

  private async read(fetched: FetchedPage): Promise<Read> {
    const { renderer = null, reading: how = 'source' } = this.options;
    const reading = await this.readSource(fetched);
    if (!renderer || how === 'source' || (how === 'auto' && !reading.shell))
      return { reading, note: noteOn(reading), leadsTo: null };
    try {
      const { snapshot, leadsTo } = await renderer.render(fetched, reading.isDynamic);
      const rendered = await this.readers.rendered(reading, snapshot).catch(unreadable(fetched));
      const note = leadsTo ? { id: 'note.script-leads', values: { address: leadsTo.slice(0, 300) } } : noteOn(rendered);
      return { reading: rendered, note, leadsTo: leadsTo && this.source.resolve(leadsTo, fetched.address, null) };
    } catch (error) {
      if (!(error instanceof Skipped) || this.options.signal?.aborted) throw error;
      return { reading, note: { id: 'note.source-only', values: { reason: error.reason } }, leadsTo: null };
    }
  }

  private readWith(fetched: FetchedPage, own: StyleSheet[]): Promise<PageReading> {
    return this.readers.page(fetched.bytes, fetched.transport, own).catch(unreadable(fetched));
  }

  /** Pages of a site link the same style sheets; one that links others is read a second time. */
  private async readSource(fetched: FetchedPage): Promise<PageReading> {
    const tried = this.expected;
    const reading = await this.readWith(fetched, tried);
    const wanted = reading.sheets
      .slice(0, MAX_SHEETS_PER_PAGE)
      .map((sheet) => this.source.resolve(sheet, fetched.address, reading.base));
    const budget = { left: MAX_SHEETS_IN_ALL, page: fetched.address };
    const linked = await Promise.all(
      wanted.filter((sheet) => sheet !== null).map((sheet) => this.sheets.from(sheet, budget)),
    );
    const sheets = linked.flat();
    this.expected = sheets;
    const asTried = sheets.length === tried.length && sheets.every((sheet, i) => sheet === tried[i]);
    return asTried ? reading : this.readWith(fetched, sheets);
  }

  private async follow(links: string[], foundOn: string, depth: number): Promise<void> {
    if (depth < this.options.maxDepth)
      return this.enqueue(links.map((address) => ({ address, depth: depth + 1, foundOn })));
    const skipped = new Skipped({ id: 'skip.depth', values: { depth: this.options.maxDepth } }, 'depth');
    return this.store.leave(links.map((address) => ({ address, foundOn, skipped })));
  }

  /** Gathers a picture once, whatever the number of pages that show it at the same time. */
  private gatherPicture(address: string, page: GatheredPage | null): Promise<boolean> {
    let work = this.gathering.get(address);
    if (!work) {
      work = this.pictures.add(async () =>
        (await this.store.hasPicture(address)) ? false : this.readPicture(address, page),
      );
      this.gathering.set(address, work);
    }
    return work;
  }

  /** One that got no answer is asked for once more a little later, unless its host is silent altogether. */
  private async fetchPicture(address: string, known: KnownPicture | null): Promise<FetchedPicture | typeof UNCHANGED> {
    const { signal } = this.options;
    const host = URL.canParse(address) ? new URL(address).host : '';
    try {
      return await this.source.picture(address, known ?? undefined);
    } catch (error) {
      const again = error instanceof Skipped && error.why === 'no-answer' && (this.silent.get(host) ?? 0) < MOST_SILENT;
      if (!again || this.options.signal?.aborted) throw error;
      this.silent.set(host, (this.silent.get(host) ?? 0) + 1);
      await setTimeout(SECOND_TRY_MS, undefined, { ...(signal ? { signal } : {}), ref: false });
      const got = await this.source.picture(address, known ?? undefined);
      this.silent.delete(host);
      return got;
    }
  }

  /** Its bytes: out of the page or the document itself, else from where it stands. */
  private async pictureAt(
    address: string,
    page: GatheredPage | null,
    known: KnownPicture | null,
  ): Promise<FetchedPicture | typeof UNCHANGED> {
    const isOwn = /^(?:inline|data):/.test(address);
    // What stands in the page itself is as it was when the page is.
    if (page === null && (isOwn || isHeld(address))) return UNCHANGED;
    if (page !== null && isOwn) return ownBytes(address, page);
    const held = page && heldName(address, page.document ?? page.address);
    if (page === null || held === null) return this.fetchPicture(address, known);
    return { bytes: await this.readers.held(page.bytes, page.format, held), etag: null, lastModified: null };
  }

  /** Whether it is another picture than the survey before found there. */
  private async readPicture(address: string, page: GatheredPage | null): Promise<boolean> {
    if (this.options.signal?.aborted) return false;
    const known = await this.store.knownPicture(address);
    try {
      const fetched = await this.pictureAt(address, page, known);
      const same = fetched === UNCHANGED || (known !== null && sha256(fetched.bytes) === known.sha256);
      if (same) {
        await this.store.pictureUnchanged(address);
        return false;
      }
      const { bytes, etag, lastModified } = fetched;
      const reading = await this.readers.picture(bytes);
      // Inline markup is drawn by the page, whatever a drawing library makes of it on its own.
      if (address.startsWith('inline:')) reading.broken = null;
      await this.store.picture({ found: true, address, reading, bytes, etag, lastModified });
    } catch (error) {
      if (this.options.signal?.aborted) return false;
      const skipped = asSkipped(error);
      // Not looking is no fault of the picture's.
      await this.store.picture({ found: false, address, skipped });
      if (known?.sha256 === null) return false;
    }
    await this.store.progress();
    return known !== null;
  }
}

/** The owner of a page may not want it found, which matters to search editors. */
function noteOn(reading: PageReading): Message | null {
  const kept = reading.directives.filter((d) => d === 'noindex' || d === 'none' || d === 'noimageindex');
  const { leftOut, appearances } = reading;
  const marked: Message | null = kept.length > 0 ? { id: 'note.marked', values: { directives: kept } } : null;
  const limited: Message | null =
    leftOut > 0
      ? { id: 'note.pictures-limited', values: { read: appearances.length, of: appearances.length + leftOut } }
      : null;
  return marked && limited ? { id: 'note.both', values: { first: marked, second: limited } } : (marked ?? limited);
}
