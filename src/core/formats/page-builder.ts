import type { Appearance, AppearanceElement, Box, Control, Location, Region } from '../model/appearance';
import type { Message } from '../model/message';
import { MOST_APPEARANCES, type PageReading } from '../model/page';
import { countWords } from '../words/vocabulary';
import { passageAround, type Chunk } from './html/passage';
import { collapse, isBlank } from '../white-space';
import type { HiddenReason } from '../model/appearance';

/** An object of a document, as its format describes it. */
export interface PlacedObject {
  element: AppearanceElement;
  /** Its words as the file holds them; null where it has none. An empty alt text counts only with the decorative mark. */
  alt: string | null;
  title: string | null;
  isDecorative: boolean;
  /** Name of its picture in the package, or its address; null where it shows no file. */
  src: string | null;
  /** What it is drawn as, where it shows no file. */
  svg?: string | null;
  /** Its durable key on the page, readable; one that stands there already gets a number. */
  place: string;
  location: Location;
  /** In CSS pixels. */
  width?: number | null;
  height?: number | null;
  box?: Box | null;
  spot?: Message | null;
  partOf?: string | null;
  data?: string | null;
  caption?: string | null;
  region?: Region | null;
  lang?: string | null;
  hidden?: HiddenReason | null;
  /** Address that it links to. */
  link?: string | null;
}

/** What a page says of itself. */
export interface PageFacts {
  title: string;
  lang: string | null;
  description?: string | null;
  /** Objects beyond those that are read. */
  leftOut?: number;
}

/** Styles of captions by the names that programs give them: LibreOffice's by what is captioned, pandoc's with its name before. */
export const isCaptionStyle = (name: string): boolean =>
  /caption$|^(?:illustration|figure|drawing)$/i.test(name.replace(/_20_/g, ' '));

/** “Figure 4.2:”, “Abb. 3 –”; without the sign it may begin a sentence (common practice). */
const isNumbered = (text: string): boolean =>
  /^\s*(?:fig(?:ure|ura|uur)?|abb(?:ildung)?|afb(?:eelding)?|ill(?:ustration)?)\.?\s*[A-Z]?[\d.]*\d[a-z]?\s?[.:)–—-]\s/iu.test(
    text,
  );

/** Puts a page together from what a document holds, in its reading order. */
export class PageBuilder {
  private readonly chunks: Chunk[] = [];
  private readonly placed: { object: PlacedObject; at: number; block: number; headings: string[] }[] = [];
  private readonly open: { level: number; text: string }[] = [];
  private readonly headings: string[] = [];
  private readonly places = new Map<string, number>();
  private readonly captions = new Map<number, string>();
  private block = 0;
  private leftOut = 0;
  /** Objects before the block that is open. */
  private placedBefore = 0;
  /** The block with objects that a caption may come for, and a caption that waits for what it is of. */
  private uncaptioned: number | null = null;
  private waiting: string | null = null;

  /** Begins a paragraph, or whatever else is read apart from what stands before it. */
  startBlock(): void {
    this.block++;
    this.placedBefore = this.placed.length;
  }

  /**
   * Ends the paragraph that is open. Below an object, one that begins with the number of a figure is its caption, whatever
   * its style. A caption belongs to the objects beside it, else to those just before it, else to those
   * that come next.
   */
  endParagraph(hasCaptionStyle: boolean): void {
    const text = this.blockText;
    const hasObjects = this.placed.length > this.placedBefore;
    const isCaption = hasCaptionStyle || (this.uncaptioned !== null && !hasObjects && isNumbered(text));
    if (isCaption && !isBlank(text)) {
      if (hasObjects) this.setCaption(this.block, text);
      else if (this.uncaptioned !== null) this.setCaption(this.uncaptioned, text);
      else this.waiting = text;
      this.uncaptioned = null;
    } else if (hasObjects) {
      if (this.waiting !== null) this.setCaption(this.block, this.waiting);
      this.uncaptioned = this.waiting === null ? this.block : null;
      this.waiting = null;
    } else if (!isBlank(text)) {
      this.uncaptioned = null;
      this.waiting = null;
    }
  }

  /** Text within the block that is open. */
  addText(text: string, region: Region | null = null): void {
    if (text !== '') this.chunks.push({ text, block: this.block, heading: false, region });
  }

  /** Makes a heading of the block that is open. @param level from 1 */
  endHeading(level: number): void {
    const text = this.blockText;
    if (isBlank(text)) return;
    for (const chunk of this.ownChunks()) chunk.heading = true;
    while (this.open.length > 0 && this.open.at(-1)!.level >= level) this.open.pop();
    this.open.push({ level, text });
    if (level <= 3) this.headings.push(text);
  }

  /** A whole heading of its own. */
  addHeading(text: string, level: number): void {
    this.startBlock();
    this.addText(text);
    this.endHeading(level);
  }

  /** A whole paragraph of its own. */
  addParagraph(text: string): void {
    this.startBlock();
    this.addText(text);
  }

  /** Text of the block that is open. */
  get blockText(): string {
    return collapse(
      this.ownChunks()
        .map((c) => c.text)
        .join(''),
    );
  }

  /** Those of the block that is open: the last ones. */
  private ownChunks(): Chunk[] {
    let from = this.chunks.length;
    while (from > 0 && this.chunks[from - 1]!.block === this.block) from--;
    return this.chunks.slice(from);
  }

  get openBlock(): number {
    return this.block;
  }

  /** @returns its place, with a number where that was taken; null when there are too many objects to read it */
  add(object: PlacedObject): string | null {
    if (this.placed.length >= MOST_APPEARANCES) {
      this.leftOut++;
      return null;
    }
    const n = (this.places.get(object.place) ?? 0) + 1;
    this.places.set(object.place, n);
    const place = n === 1 ? object.place : `${object.place} (${n})`;
    const headings = this.open.map((h) => h.text);
    this.placed.push({ object: { ...object, place }, at: this.chunks.length, block: this.block, headings });
    return place;
  }

  /** The caption of the objects of a block. */
  setCaption(block: number, caption: string): void {
    this.captions.set(block, caption);
  }

  build({ title, lang, description = null, leftOut = 0 }: PageFacts): PageReading {
    const full = new Set(this.chunks.filter((c) => !isBlank(c.text)).map((c) => c.block));
    const objects = new Map<number, number>();
    for (const { block } of this.placed) objects.set(block, (objects.get(block) ?? 0) + 1);
    const isAlone = (block: number) => !full.has(block) && objects.get(block) === 1;
    return {
      ...EMPTY,
      title: collapse(title),
      description,
      headings: this.headings,
      lang,
      appearances: this.placed.map((p, order) => this.describe(p, order, lang, isAlone(p.block))),
      leftOut: this.leftOut + leftOut,
      links: this.placed.flatMap(({ object: { link } }) => (link ? [link] : [])),
      words: countWords(this.chunks.map((c) => c.text)),
    };
  }

  private describe(
    { object: o, at, block, headings }: (typeof this.placed)[number],
    order: number,
    lang: string | null,
    isAlone: boolean,
  ): Appearance {
    const caption = o.caption ?? this.captions.get(block) ?? null;
    const region = o.region ?? null;
    const control = o.link ? controlOf(o) : null;
    return {
      order,
      element: o.element,
      ...heardOf(o),
      markup: {
        src: o.src,
        sheet: null,
        lazy: false,
        candidates: [],
        svg: o.svg ?? null,
        alt: o.isDecorative ? (o.alt ?? '') : o.alt === '' ? null : o.alt,
        title: o.title,
        ariaLabel: null,
        ownRole: null,
        ariaHidden: false,
        focusable: false,
        strayAlt: null,
        map: null,
        templated: false,
      },
      context: {
        lang: o.lang ?? lang,
        headings,
        ...passageAround({ at, block, region }, this.chunks),
        caption,
        captionFrom: caption === null ? null : 'caption',
        captionSlot: null,
        creditLine: null,
        control,
        run: null,
        heading: null,
        fillsFigure: false,
        isAlone,
        place: o.place,
        region,
        spot: o.spot ?? null,
        partOf: o.partOf ?? null,
        data: o.data ?? null,
        wordsOnly: true,
      },
      layout: { width: o.width ?? null, height: o.height ?? null, fold: null, box: o.box ?? null },
      location: o.location,
    };
  }
}

/** A page with nothing on it. */
const EMPTY: PageReading = {
  title: '',
  description: null,
  headings: [],
  lang: null,
  charset: 'utf-8',
  appearances: [],
  leftOut: 0,
  links: [],
  unfollowed: [],
  sheets: [],
  canonical: null,
  directives: [],
  base: null,
  pagePictures: [],
  words: {},
  shell: false,
  isDynamic: false,
  rendered: false,
};

/** What is heard of an object: its alt text, else its title. */
function heardOf({
  alt,
  title,
  isDecorative,
  hidden = null,
  element,
}: PlacedObject): Pick<Appearance, 'state' | 'accessible'> {
  const role = element === 'group' || element === 'table' ? element : 'image';
  const own = isBlank(alt) ? (isBlank(title) ? null : ('title' as const)) : ('alt' as const);
  const name = collapse((own === 'title' ? title : own === 'alt' ? alt : '') ?? '');
  const state = isDecorative ? 'decorative' : own === null ? 'missing' : 'described';
  return {
    state,
    accessible: {
      role: isDecorative ? 'none' : role,
      name: isDecorative ? '' : name,
      nameSource: isDecorative ? null : own,
      hidden,
      ignored: isDecorative || hidden !== null,
      descriptions: [],
    },
  };
}

function controlOf({ link, alt, title }: PlacedObject): Control {
  const name = collapse(alt || title || '');
  return { kind: 'link', name, defaultName: false, href: link!, text: '', first: true, hidden: false };
}
