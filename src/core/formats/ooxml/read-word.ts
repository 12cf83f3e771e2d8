import type { Region } from '../../model/appearance';
import { PageBuilder, isCaptionStyle } from '../page-builder';
import { attributeOf, childOf, childrenOf, isXmlElement, type XmlElement } from '../xml/xml-tree';
import { ObjectReader, pairCopies, type DrawnObject } from './drawn-object';
import type { OoxmlPackage, Part } from './package';
import { placeObject, type Surroundings, type WrittenObject } from './place-objects';
import type { OfficePage } from './read-office';

/** Parts beside the body that may hold pictures, by the type that the main part relates them with. */
const OTHER_PARTS: [type: string, root: string, region: Region | null][] = [
  ['header', 'header', 'header'],
  ['footer', 'footer', 'footer'],
  ['footnotes', 'footnotes', null],
  ['endnotes', 'endnotes', null],
  ['comments', 'comments', null],
];
/** Text that is not read: deleted, moved away, instructions of fields, the other half of an AlternateContent. */
const UNREAD = new Set(['del', 'moveFrom', 'instrText', 'delText', 'pPr', 'rPr', 'Fallback', 'rt']);
/** Levels of headings that Word has. */
const LEVELS = 9;

interface Styles {
  /** Level of headings by style id, from 1. */
  levels: Map<string, number>;
  captions: Set<string>;
  language: string | null;
}

function stylesOf(pack: OoxmlPackage, main: string): Styles {
  const levels = new Map<string, number>();
  const captions = new Set<string>();
  let language: string | null = null;
  const part = pack.optional(pack.related(main, 'styles')[0]);
  for (const style of part ? childrenOf(part.root) : []) {
    if (style.local === 'docDefaults') {
      const run = childOf(childOf(style, 'rPrDefault') ?? style, 'rPr');
      const lang = run && childOf(run, 'lang');
      language = (lang && attributeOf(lang, 'val')) ?? null;
    }
    if (style.local !== 'style') continue;
    const id = attributeOf(style, 'styleId') ?? '';
    const name = (childOf(style, 'name') && attributeOf(childOf(style, 'name')!, 'val')?.toLowerCase()) ?? '';
    const outline = childOf(childOf(style, 'pPr') ?? style, 'outlineLvl');
    const level = outline ? Number(attributeOf(outline, 'val')) + 1 : Number(/^heading (\d)$/.exec(name)?.[1] ?? NaN);
    if (level >= 1 && level <= LEVELS) levels.set(id, level);
    else if (name === 'title') levels.set(id, 1);
    if (isCaptionStyle(name)) captions.add(id);
  }
  return { levels, captions, language };
}

/** Reads one part of a text document: its paragraphs with the objects that stand in them. */
class PartReader {
  private readonly objects: ObjectReader;
  private link: string | null = null;

  constructor(
    private readonly page: PageBuilder,
    private readonly styles: Styles,
    private readonly s: Surroundings,
    private readonly written: WrittenObject[],
  ) {
    this.objects = new ObjectReader(s.pack, s.part);
  }

  read(e: XmlElement): void {
    for (const child of e.content) {
      if (!isXmlElement(child)) continue;
      if (child.local === 'p' && isWord(child)) this.paragraph(child);
      else this.inline(child);
    }
  }

  private paragraph(p: XmlElement): void {
    const { page } = this;
    page.startBlock();
    const block = page.openBlock;
    const properties = childOf(p, 'pPr');
    const style = properties && childOf(properties, 'pStyle');
    const id = (style && attributeOf(style, 'val')) ?? '';
    for (const child of p.content) if (isXmlElement(child)) this.inline(child);
    if (page.openBlock !== block) return;
    const outline = properties && childOf(properties, 'outlineLvl');
    const level = outline ? Number(attributeOf(outline, 'val')) + 1 : this.styles.levels.get(id);
    if (level !== undefined && level <= LEVELS) page.endHeading(level);
    page.endParagraph(this.styles.captions.has(id));
  }

  private inline(e: XmlElement): void {
    if (UNREAD.has(e.local)) return;
    if (e.local === 't' || e.local === 'delText') return this.page.addText(e.content.join(''), this.s.region ?? null);
    if (e.local === 'tab' || e.local === 'br' || e.local === 'cr') return this.page.addText(' ', this.s.region ?? null);
    if (e.local === 'AlternateContent') {
      const drawn = this.objects.alternate(e);
      return drawn.length > 0 ? drawn.forEach((o) => this.place(o)) : this.read(childOf(e, 'Choice') ?? e);
    }
    if (e.local === 'drawing' || e.local === 'pict' || e.local === 'object')
      return this.objects.below(e).forEach((o) => this.place(o));
    if (e.local !== 'hyperlink') return this.read(e);
    const target = this.s.pack.target(this.s.part, attributeOf(e, 'id'));
    this.link = target?.isExternal ? target.target : null;
    this.read(e);
    this.link = null;
  }

  private place(o: DrawnObject): void {
    placeObject(this.page, this.link === null ? o : { ...o, link: o.link ?? this.link }, this.s, this.written);
    // What is written in a text box is read where it is anchored; the other half of an AlternateContent holds it once more.
    const copies = o.twins.flatMap((twin) => textBoxes(twin.element));
    textBoxes(o.scope).forEach((box, i) => {
      const before = this.written.length;
      this.page.startBlock();
      this.read(box);
      const inBox = this.written.slice(before).map((w) => w.object);
      if (copies[i]) pairCopies(inBox, this.objects.below(copies[i]));
    });
  }
}

const isWord = (e: XmlElement) => /wordprocessingml/.test(e.namespace);

function textBoxes(e: XmlElement): XmlElement[] {
  return childrenOf(e).flatMap((c) => (c.local === 'txbxContent' ? [c] : c.local === 'Fallback' ? [] : textBoxes(c)));
}

/** A text document: one page, its body first, then its headers, footers and notes (ECMA-376, part 1, 11). */
export function readWord(pack: OoxmlPackage): OfficePage[] {
  const { main } = pack;
  const styles = stylesOf(pack, main);
  const page = new PageBuilder();
  const written: WrittenObject[] = [];
  const readPart = (part: Part, root: string, region: Region | null) =>
    new PartReader(page, styles, { pack, part: part.name, root, region }, written).read(part.root);
  readPart(pack.part(main), 'body', null);
  for (const [type, root, region] of OTHER_PARTS)
    pack.related(main, type).forEach((name, i, all) => {
      const part = pack.optional(name);
      if (part) readPart(part, all.length > 1 ? `${root} ${i + 1}` : root, region);
    });
  const { title, language, description } = pack.properties;
  const reading = page.build({ title, lang: styles.language ?? language, description });
  reading.title ||= reading.headings[0] ?? '';
  return [{ fragment: null, reading, objects: written }];
}
