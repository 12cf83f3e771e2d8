import { createHash } from 'node:crypto';
import { formatById } from '@/core/formats';
import { heldAddress } from '@/core/model/held-address';
import { weightOf, type Message } from '@/core/model/message';
import type { Appearance } from '@/core/model/appearance';
import type { DocumentReading, FrontMatterKeys } from '@/core/model/document';
import type { PagePicture, PageReading } from '@/core/model/page';
import { Skipped, type FetchedPage, type FetchedPicture, type Source } from './source';
import type { GatheredDocument, GatheredPage } from './store';

const MAX_DATA_URL = 2_000_000;
/** Pictures of one page; what a hostile page lists beyond it is not fetched. */
const MAX_PICTURES_PER_PAGE = 5_000;
/** Addresses of which it is remembered whether they are pages of the survey. */
const MOST_OUTSIDES = 50_000;

/** The address under which an inline `svg` is known: by its markup, since it has no file. */
export function inlineAddress(markup: string): string {
  return `inline:${sha256(markup).slice(0, 32)}`;
}

export const sha256 = (content: string | Buffer): string => createHash('sha256').update(content).digest('hex');

/** Makes of a page that was fetched and read what a survey stores of it. */
export class PageGatherer {
  private readonly outsides = new Map<string, Skipped | 'no page' | null>();

  constructor(private readonly source: Source) {}

  /** What a page holds, with the addresses of its pictures and of the pages that it leads to. */
  gather(fetched: FetchedPage, reading: PageReading, note: Message | null): GatheredPage {
    const { address, bytes, status, etag, lastModified } = fetched;
    if (fetched.course?.title) reading.title = fetched.course.title;
    const pictureOf = this.picturesByOrder(reading, address);
    for (const {
      markup: { candidates },
    } of reading.appearances)
      for (const c of candidates) c.address = this.source.resolve(c.src, address, reading.base);
    const directives = [...new Set([...fetched.directives, ...reading.directives])];
    const pagePictures = reading.pagePictures.flatMap((a) => {
      const src = this.source.resolve(a.src, address, reading.base);
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
      ...{ format: fetched.format, document: null, rank: fetched.course?.rank ?? null },
      bytes,
      sha256: hash,
      status,
      validators: { etag, lastModified },
      transport: fetched.transport ?? null,
      frontMatter: null,
      reading,
      pictureOf,
      directives,
      note,
      showsKey,
      pagePictures,
      pictures: this.picturesOf(reading, pictureOf, pagePictures),
      ...this.linked(reading, address, directives),
      sameKey: this.source.isSite ? this.sameKeyOf(address, hash, reading, showsKey) : null,
    };
  }

  /**
   * What a document holds, page by page. Where it leads is not followed.
   *
   * @param frontMatter keys that Markdown was read with
   */
  gatherDocument(
    fetched: FetchedPage,
    { pages, notes }: DocumentReading,
    frontMatter: readonly FrontMatterKeys[],
  ): GatheredDocument {
    const { address, status, bytes, format, etag, lastModified } = fetched;
    const hash = sha256(bytes);
    const isOne = pages.length === 1 && pages[0]!.fragment === null;
    const gathered = pages.map(({ fragment, reading }, rank): GatheredPage => {
      const pictureOf = reading.appearances.map((a) => this.documentPicture(a, fetched));
      return {
        address: fragment === null ? address : `${address}#${fragment}`,
        ...{
          format,
          document: isOne ? null : address,
          rank: isOne ? (fetched.course?.rank ?? null) : rank,
          bytes,
          sha256: hash,
          status,
          reading,
          pictureOf,
        },
        validators: { etag, lastModified },
        transport: null,
        frontMatter: format === 'markdown' ? frontMatter : null,
        directives: fetched.directives,
        note: null,
        showsKey: hash,
        pagePictures: [],
        pictures: [...new Set(pictureOf.filter((a) => a !== null))].slice(0, MAX_PICTURES_PER_PAGE),
        ...{ links: [], left: [], sameKey: null },
      };
    });
    const note =
      notes.length === 0 ? null : notes.reduce((first, second) => ({ id: 'note.both', values: { first, second } }));
    return { address, status, pages: gathered, note };
  }

  private documentPicture({ markup: { svg, src } }: Appearance, { address, format }: FetchedPage): string | null {
    if (svg !== null) return inlineAddress(svg);
    if (!src || src.startsWith('data:')) return src || null;
    // ODF counts the document's own name as a folder: what leads out of the package stands beside it.
    if (src.startsWith('../')) return this.source.resolve(src.slice(3), address, null);
    // What stands elsewhere is linked by its address; all else is a part of the file, where the format holds files.
    if (/^(?:https?|file|ftp):/i.test(src)) return this.source.resolve(src, address, null);
    return formatById(format).picture ? heldAddress(address, src) : this.source.resolve(src, address, null);
  }

  /** Two addresses are one page when they give the same bytes, or name one canonical address and show the same. */
  private sameKeyOf(address: string, hash: string, reading: PageReading, showsKey: string): string {
    const canonical = reading.canonical && this.source.resolve(reading.canonical, address, reading.base);
    if (canonical) return sha256(`${canonical}\n${showsKey}`);
    // One shell may become many pages.
    return reading.rendered ? sha256(address) : hash;
  }

  private picturesOf(reading: PageReading, pictureOf: (string | null)[], pagePictures: PagePicture[]): string[] {
    const wanted = new Set(pictureOf.filter((a) => a !== null));
    for (const a of reading.appearances) for (const c of a.markup.candidates) if (c.address) wanted.add(c.address);
    for (const { src } of pagePictures) wanted.add(src);
    return [...wanted].slice(0, MAX_PICTURES_PER_PAGE);
  }

  private picturesByOrder(reading: PageReading, address: string): (string | null)[] {
    const byMap = new Map<string, string | null>();
    const own = reading.appearances.map((a) => {
      const found = this.pictureAddress(a, address, reading);
      if (a.element === 'img' && a.markup.map) byMap.set(a.markup.map, found);
      return found;
    });
    return reading.appearances.map((a, i) =>
      a.element === 'area' ? (byMap.get(a.markup.map ?? '') ?? null) : own[i]!,
    );
  }

  private pictureAddress(a: Appearance, page: string, reading: PageReading): string | null {
    if (a.markup.svg !== null) return inlineAddress(a.markup.svg);
    const src = a.markup.src?.trim() || a.markup.candidates[0]?.src || null;
    if (!src) return null;
    if (src.startsWith('data:')) return src;
    return a.markup.sheet === null
      ? this.source.resolve(src, page, reading.base)
      : this.source.resolve(src, a.markup.sheet, null);
  }

  /** Pages that a page leads to, and what its other links add to the account. */
  private linked(reading: PageReading, address: string, directives: readonly string[]) {
    const links = new Set<string>();
    const left: GatheredPage['left'] = [];
    const marked = directives.some((d) => d === 'nofollow' || d === 'none');
    const obeyed = this.source.isSite && this.source.obeysRobots;
    const meet = (link: string, followed: boolean, isReported: boolean) => {
      const target = this.source.resolve(link, address, reading.base);
      if (!target) return;
      const outside = this.outsideOf(target);
      if (outside === null && followed) links.add(target);
      else if (isReported && outside instanceof Skipped) left.push({ address: target, skipped: outside });
      else if (isReported && outside === null && !followed)
        left.push({ address: target, skipped: new Skipped({ id: 'skip.nofollow' }, 'nofollow') });
    };
    for (const link of reading.unfollowed) meet(link, !obeyed, true);
    for (const link of reading.links) meet(link, !(obeyed && marked), true);
    if (reading.canonical) meet(reading.canonical, true, false);
    return { links: [...links], left };
  }

  /** The same addresses are linked from page to page. */
  private outsideOf(address: string): Skipped | 'no page' | null {
    let known = this.outsides.get(address);
    if (known === undefined) {
      if (this.outsides.size >= MOST_OUTSIDES) this.outsides.clear();
      this.outsides.set(address, (known = this.source.outside(address)));
    }
    return known;
  }
}

/** The bytes of a picture that stands in the page itself: inline markup, or a `data:` address. */
export function ownBytes(address: string, page: GatheredPage): FetchedPicture {
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
  if (!m) throw new Skipped({ id: 'skip.malformed-data-address' });
  if (m[2]!.length > MAX_DATA_URL)
    throw new Skipped({ id: 'skip.long-data-address', values: { limit: weightOf(MAX_DATA_URL) } }, 'size');
  return m[1]
    ? Buffer.from(m[2]!, 'base64')
    : Buffer.from(decodeURIComponent(m[2]!.replace(/%(?![0-9a-f]{2})/gi, '%25')));
}
