import path from 'node:path/posix';
import type { AppearanceElement, Box } from '../../model/appearance';
import type { Message } from '../../model/message';
import type { PageReading } from '../../model/page';
import { chartTable } from '../chart/chart-data';
import { drawChart } from '../chart/draw-chart';
import { spotOn } from '../ooxml/read-slides';
import { columnName } from '../ooxml/workbook';
import { PageBuilder } from '../page-builder';
import {
  ancestorsOf,
  attributeOf,
  childOf,
  childrenOf,
  descendantsOf,
  findBelow,
  isXmlElement,
  textBelow,
  type XmlElement,
} from '../xml/xml-tree';
import { readChart } from './chart';
import type { OdfPackage, OdfPart } from './package';
import { languageOf, pixels, sizeOf, stylesOf, type OdfStyles } from './styles';
import { isBlank } from '../../white-space';

export const SVG = 'urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0';
export const DRAW = 'urn:oasis:names:tc:opendocument:xmlns:drawing:1.0';
const SHAPES = new Set([
  'custom-shape',
  'rect',
  'ellipse',
  'circle',
  'polygon',
  'path',
  'line',
  'polyline',
  'connector',
  'caption',
  'measure',
  'regular-polygon',
]);
const MOST_PAGES = 5_000;

/** What an object's words stand in. */
export interface OdfObject {
  element: XmlElement;
  part: OdfPart;
  isDecorative: boolean;
}

export interface OdfPage {
  fragment: string | null;
  reading: PageReading;
  objects: OdfObject[];
}

const ofSvg = (e: XmlElement, local: string) => childOf(e, local, SVG);

/** Reads the objects and the text of one part of a document, or of one page in it. */
class OdfReader {
  readonly page = new PageBuilder();
  readonly objects: OdfObject[] = [];
  private link: string | null = null;
  private group: string | null = null;
  private cell: string | null = null;

  constructor(
    private readonly pack: OdfPackage,
    private readonly part: OdfPart,
    private readonly styles: OdfStyles,
    private readonly root: string,
    private readonly size: { width: number; height: number } | null,
  ) {}

  read(e: XmlElement): void {
    for (const child of e.content) {
      if (isXmlElement(child)) this.visit(child);
      else if (isText(e)) this.page.addText(child);
    }
  }

  private visit(e: XmlElement): void {
    switch (e.local) {
      case 'tracked-changes':
      case 'title':
      case 'desc':
      case 'forms':
        return;
      case 'notes':
        // The notes of a slide are a page of their own.
        return this.root === 'slide' ? undefined : this.read(e);
      case 'h':
        this.page.startBlock();
        this.read(e);
        return this.page.endHeading(Number(attributeOf(e, 'outline-level') ?? 1) || 1);
      case 'p':
        this.page.startBlock();
        this.read(e);
        return this.page.endParagraph(this.styles.captions.has(attributeOf(e, 'style-name') ?? ''));
      case 's':
      case 'tab':
      case 'line-break':
        return this.page.addText(' ');
      case 'a': {
        const before = this.link;
        this.link = attributeOf(e, 'href');
        this.read(e);
        this.link = before;
        return;
      }
      case 'table':
        return /:table:/.test(e.namespace) ? this.table(e) : this.read(e);
      default:
        return e.namespace === DRAW ? this.drawn(e) : this.read(e);
    }
  }

  /** Cells by their names, for what is anchored in them. */
  private table(e: XmlElement): void {
    if (this.pack.kind !== 'spreadsheet') return this.read(e);
    let row = 0;
    const rows = [...descendantsOf(e)].filter((r) => r.local === 'table-row');
    for (const shapes of childrenOf(e)) if (shapes.local === 'shapes') this.read(shapes);
    for (const r of rows) {
      let column = 0;
      this.page.startBlock();
      for (const c of childrenOf(r)) {
        this.cell = `${columnName(column)}${row + 1}`;
        if (/cell$/.test(c.local)) for (const inner of childrenOf(c)) this.cellContent(inner);
        column += Number(attributeOf(c, 'number-columns-repeated') ?? 1) || 1;
      }
      this.cell = null;
      row += Number(attributeOf(r, 'number-rows-repeated') ?? 1) || 1;
    }
  }

  private cellContent(e: XmlElement): void {
    if (e.local === 'p') this.page.addText(`${textBelow(e)} `);
    else this.visit(e);
  }

  private drawn(e: XmlElement): void {
    const element = this.elementOf(e);
    const isPlaceholder = attributeOf(e, 'placeholder') === 'true';
    if (element === null || isPlaceholder || !this.isListed(e, element)) return this.read(e);
    const name = attributeOf(e, 'name');
    const shown = childOf(e, 'image', DRAW) ?? childOf(e, 'object', DRAW) ?? childOf(e, 'object-ole', DRAW);
    const href = (shown && attributeOf(shown, 'href')) ?? null;
    const replacement = shown?.local !== 'image' ? childOf(e, 'image', DRAW) : undefined;
    const chart = element === 'chart' ? this.chartOf(href) : null;
    const stand = shown?.local === 'image' ? href : ((replacement && attributeOf(replacement, 'href')) ?? null);
    const media = stand === null || chart?.svg || this.isMetafile(stand) ? null : stand;
    const box = this.boxOf(e);
    const isDecorative = this.isDecorative(e);
    const place = this.page.add({
      element,
      ...{ alt: textOf(ofSvg(e, 'desc')), title: textOf(ofSvg(e, 'title')), isDecorative },
      src: media === null ? null : partName(media, this.pack),
      ...chart,
      place: [this.group ?? this.root, name ? `${element} ${name}` : element].join(' > '),
      location: { kind: 'object', part: this.part.name, object: name ?? '' },
      ...{ width: rounded(pixels(attributeOf(e, 'width'))), height: rounded(pixels(attributeOf(e, 'height'))) },
      ...{ box, spot: this.spotOf(box), partOf: this.group, link: this.link, caption: this.captionOf(e) },
    });
    if (place === null) return;
    this.objects.push({ element: e, part: this.part, isDecorative });
    const around = this.group;
    if (element === 'group') this.group = place;
    this.read(e);
    this.group = around;
  }

  private spotOf(box: Box | null): Message | null {
    if (this.cell !== null) return { id: 'spot.cells', values: { range: this.cell } };
    return spotOn(box);
  }

  private elementOf(e: XmlElement): AppearanceElement | null {
    if (e.local === 'g') return 'group';
    if (SHAPES.has(e.local)) return 'shape';
    if (e.local !== 'frame') return null;
    const object = childOf(e, 'object', DRAW) ?? childOf(e, 'object-ole', DRAW);
    if (object)
      return this.isChart(attributeOf(object, 'href'))
        ? 'chart'
        : this.isFormula(attributeOf(object, 'href'))
          ? 'formula'
          : 'embedded';
    if (childOf(e, 'plugin', DRAW)) return 'media';
    if (childrenOf(e).some((c) => c.local === 'table')) return 'table';
    return childOf(e, 'image', DRAW) ? 'picture' : null;
  }

  private isListed(e: XmlElement, element: AppearanceElement): boolean {
    const isWorded = !isBlank(textOf(ofSvg(e, 'desc'))) || !isBlank(textOf(ofSvg(e, 'title'))) || this.isDecorative(e);
    if (element === 'shape') return isWorded;
    if (element !== 'group') return true;
    const inner = [...descendantsOf(e)];
    return (
      isWorded ||
      inner.some((c) => c.local === 'image' && c.namespace === DRAW) ||
      !inner.some((c) => c.local === 'p' && textBelow(c).trim() !== '')
    );
  }

  /** Marked on the object itself, or on the style of its graphic (`loext:decorative`, as LibreOffice writes it). */
  private isDecorative(e: XmlElement): boolean {
    if (attributeOf(e, 'decorative') !== null) return attributeOf(e, 'decorative') === 'true';
    return this.styles.decorative.has(attributeOf(e, 'style-name') ?? '');
  }

  private objectRoot(href: string | null): XmlElement | null {
    const name = href === null ? null : path.join(href.replace(/^\.\//, ''), 'content.xml');
    return (name && this.pack.optional(name)?.root) || null;
  }

  private isChart(href: string | null): boolean {
    const root = this.objectRoot(href);
    return root !== null && findBelow(root, 'chart') !== undefined;
  }

  private isFormula(href: string | null): boolean {
    return this.objectRoot(href)?.local === 'math';
  }

  /** What LibreOffice draws an object as for itself, which nobody else can show. */
  private isMetafile(href: string): boolean {
    const name = href.replace(/^\.\//, '');
    return this.pack.zip.has(name) && this.pack.zip.read(name).subarray(0, 6).toString('latin1') === 'VCLMTF';
  }

  private chartOf(href: string | null): { svg: string | null; data: string | null } {
    const root = this.objectRoot(href);
    const chart = root && readChart(root);
    return { svg: chart && drawChart(chart), data: chart && chartTable(chart) };
  }

  /** The text of a frame that holds a picture and what is said of it, as LibreOffice makes captions. */
  private captionOf(e: XmlElement): string | null {
    const box = ancestorsOf(e).find((a) => a.local === 'text-box');
    const paragraph = ancestorsOf(e).find((a) => a.local === 'p');
    if (!box || !paragraph) return null;
    const text = readText(paragraph, e).replace(/\s+/g, ' ').trim();
    return text === '' ? null : text;
  }

  private boxOf(e: XmlElement): Box | null {
    const sides = ['x', 'y', 'width', 'height'].map((name) => pixels(attributeOf(e, name)));
    if (!this.size || !sides.every((n) => n !== null)) return null;
    const [x, y, w, h] = sides as [number, number, number, number];
    const { width, height } = this.size;
    return { left: x / width, top: y / height, width: w / width, height: h / height };
  }
}

const isText = (e: XmlElement) => /:text:/.test(e.namespace);
const textOf = (e: XmlElement | undefined): string | null => (e ? textBelow(e) : null);
const rounded = (n: number | null) => (n === null ? null : Math.round(n));

/** The name of a part; an address outside stays as it is. */
const partName = (href: string, pack: OdfPackage): string => {
  const name = href.replace(/^\.\//, '');
  return pack.zip.has(name) ? name : href;
};

function readText(e: XmlElement, except: XmlElement): string {
  let out = '';
  for (const c of e.content) {
    if (!isXmlElement(c)) out += c;
    else if (c === except) continue;
    else out += c.local === 's' || c.local === 'tab' ? ' ' : readText(c, except);
  }
  return out;
}

/** Reads an OpenDocument text, presentation or spreadsheet. */
export function readOdf(pack: OdfPackage): OdfPage[] {
  const content = pack.part('content.xml');
  const styles = pack.optional('styles.xml');
  const named = stylesOf([content, styles]);
  const body = findBelow(content.root, 'body');
  const meta = pack.optional('meta.xml');
  const title = textOf((meta && findBelow(meta.root, 'title')) ?? undefined)?.trim() ?? '';
  const lang = languageOf(styles) ?? textOf((meta && findBelow(meta.root, 'language')) ?? undefined);
  const pageOf = (e: XmlElement, part: OdfPart, fragment: string | null, root: string, name: string): OdfPage => {
    const size =
      pack.kind === 'presentation'
        ? sizeOf(styles, attributeOf(e, 'master-page-name') ?? attributeOf(e, 'name'))
        : null;
    const reader = new OdfReader(pack, part, named, root, size);
    reader.read(e);
    return {
      fragment,
      objects: reader.objects,
      reading: reader.page.build({ title: [title, name].filter(Boolean).join(': '), lang }),
    };
  };
  const masters = [...(styles ? descendantsOf(styles.root) : [])].filter((e) => e.local === 'master-page');
  if (pack.kind === 'text') {
    const reader = new OdfReader(pack, content, named, 'body', null);
    if (body) reader.read(body);
    const own: OdfPage = { fragment: null, objects: reader.objects, reading: reader.page.build({ title, lang }) };
    own.reading.title ||= own.reading.headings[0] ?? '';
    return styles
      ? [
          withMasters(
            own,
            masters.map((m) => pageOf(m, styles, null, 'header or footer', '')),
          ),
        ]
      : [own];
  }
  const pages = (body ? childrenOf(childrenOf(body)[0] ?? body) : [])
    .filter((e) => (pack.kind === 'presentation' ? e.local === 'page' : e.local === 'table'))
    .slice(0, MOST_PAGES);
  const [unit, root] = pack.kind === 'presentation' ? ['slide', 'slide'] : ['sheet', 'sheet'];
  const out = pages.map((e, i) => {
    const found = pageOf(wrapped(e), content, `${unit}=${i + 1}`, root, pageName(e, pack.kind));
    if (pack.kind === 'spreadsheet') found.reading.headings.unshift(attributeOf(e, 'name') ?? '');
    return found;
  });
  pages.forEach((e, i) => {
    const notes = childrenOf(e).find((c) => c.local === 'notes');
    const own = notes && pageOf(notes, content, `notes=${i + 1}`, 'notes', pageName(e, pack.kind));
    if (own && own.objects.length > 0) out.push(own);
  });
  if (pack.kind !== 'presentation' || !styles) return out;
  const behind = masters.map((m, i) => pageOf(m, styles, `master=${i + 1}`, 'master', attributeOf(m, 'name') ?? ''));
  for (const { reading } of behind)
    for (const a of reading.appearances) a.accessible = { ...a.accessible, hidden: 'behind the slides', ignored: true };
  return [...out, ...behind.filter((p) => p.objects.length > 0)];
}

/** A sheet is read as the table that it is, not as what is in it. */
const wrapped = (e: XmlElement): XmlElement => (e.local === 'table' ? { ...e, content: [e] } : e);

/** The title on a slide, else its name; the name of a sheet. */
function pageName(e: XmlElement, kind: string): string {
  const title =
    kind === 'presentation' ? [...descendantsOf(e)].find((f) => attributeOf(f, 'class') === 'title') : undefined;
  const own = title ? textBelow(title).trim() : '';
  return own || (attributeOf(e, 'name') ?? '');
}

/** Pictures in headers and footers come after those of the text. */
function withMasters(own: OdfPage, masters: OdfPage[]): OdfPage {
  for (const { reading, objects } of masters) {
    for (const a of reading.appearances) own.reading.appearances.push({ ...a, order: own.reading.appearances.length });
    own.objects.push(...objects);
  }
  return own;
}
