import type { AppearanceElement } from '../../model/appearance';
import {
  ancestorsOf,
  attributeOf,
  childOf,
  childrenOf,
  descendantsOf,
  findBelow,
  textBelow,
  type XmlElement,
} from '../xml/xml-tree';
import { transitional, type OoxmlPackage } from './package';

const DECORATIVE = 'http://schemas.microsoft.com/office/drawing/2017/decorative';
const VML = 'urn:schemas-microsoft-com:vml';
const VML_SHAPES = new Set([
  'shape',
  'rect',
  'roundrect',
  'oval',
  'image',
  'group',
  'line',
  'polyline',
  'arc',
  'curve',
]);
const EMU_PER_PIXEL = 9525;

/** How an element carries words: the properties of DrawingML (`descr`, `title`), or the `alt` of VML. */
export interface WordHolder {
  form: 'drawing' | 'vml';
  element: XmlElement;
}

/** One object that is drawn: a picture, a chart, a group with its parts. */
export interface DrawnObject {
  element: AppearanceElement;
  /** What its words are read from, and written to first. */
  holder: WordHolder;
  /** What is kept in step with it: inner properties, and the other half of an AlternateContent. */
  twins: WordHolder[];
  /** The element that holds all of it. */
  scope: XmlElement;
  name: string | null;
  id: string | null;
  alt: string | null;
  title: string | null;
  isDecorative: boolean;
  /** Name of the picture's part, or its address outside; null for none. */
  media: string | null;
  isHidden: boolean;
  /** The chart's or the diagram's own part. */
  dataPart: string | null;
  /** In EMU, relative to what it stands in; null where nothing says it. */
  frame: { x: number; y: number; width: number; height: number } | null;
  /** Of a group: the frame that its parts are measured in (`a:chOff`, `a:chExt`). */
  inner: DrawnObject['frame'];
  link: string | null;
  hasText: boolean;
  parts: DrawnObject[];
}

/** Finds what is drawn in one part of a package. */
export class ObjectReader {
  constructor(
    private readonly pack: OoxmlPackage,
    private readonly part: string,
  ) {}

  /** The object that an element holds itself; null where it is none. */
  read(e: XmlElement): DrawnObject | null {
    if (e.namespace === VML) return VML_SHAPES.has(e.local) ? this.readVml(e) : null;
    switch (e.local) {
      case 'inline':
      case 'anchor':
        return this.readInline(e);
      case 'pic':
        return this.readNonVisual(e, 'nvPicPr');
      case 'graphicFrame':
        return this.readNonVisual(e, 'nvGraphicFramePr');
      case 'grpSp':
      case 'wgp':
        return this.readNonVisual(e, 'nvGrpSpPr');
      case 'sp':
      case 'wsp':
        return this.readNonVisual(e, 'nvSpPr');
      default:
        return null;
    }
  }

  /** Everything that is drawn below an element, the halves of an AlternateContent brought together. */
  below(e: XmlElement): DrawnObject[] {
    const out: DrawnObject[] = [];
    for (const child of childrenOf(e)) {
      if (child.local === 'AlternateContent') out.push(...this.alternate(child));
      else {
        const own = this.read(child);
        if (own) out.push(own);
        else out.push(...this.below(child));
      }
    }
    return out;
  }

  /** What an AlternateContent draws: its first choice, with the fall-back's objects as their twins. */
  alternate(e: XmlElement): DrawnObject[] {
    const halves = childrenOf(e).filter((c) => c.local === 'Choice' || c.local === 'Fallback');
    const drawn = halves.map((half) => this.below(half));
    const [first = [], ...rest] = drawn.filter((objects) => objects.length > 0);
    for (const other of rest) pair(first, other);
    return first;
  }

  /** `wp:inline` and `wp:anchor`: the words stand in `wp:docPr`. */
  private readInline(e: XmlElement): DrawnObject | null {
    const holder = childOf(e, 'docPr');
    const data = findBelow(e, 'graphicData');
    if (!holder) return null;
    const uri = transitional((data && attributeOf(data, 'uri')) ?? '');
    const element = /picture$/.test(uri)
      ? 'picture'
      : /wordprocessing(?:Group|Canvas)$/.test(uri)
        ? 'group'
        : frameElement(uri);
    const inner = element === 'picture' && data ? findBelow(data, 'cNvPr') : undefined;
    const own = this.describe({ form: 'drawing', element: holder }, e, element, data);
    if (inner) own.twins.push({ form: 'drawing', element: inner });
    own.frame = extentOf(e);
    if (element === 'group') {
      const group = data && childrenOf(data)[0];
      own.parts = group ? this.below(group) : [];
    }
    const shape = data && childrenOf(data)[0];
    const fill = shape && childOf(shape, 'spPr');
    if (element === 'shape' && fill && childOf(fill, 'blipFill')) own.element = 'picture';
    return own;
  }

  private readNonVisual(e: XmlElement, wrapper: string): DrawnObject | null {
    const properties = childOf(e, wrapper);
    // Parts of a drawing in Word have their properties at once below.
    const holder = properties ? childOf(properties, 'cNvPr') : childOf(e, 'cNvPr');
    if (!holder) return null;
    const own = this.describe({ form: 'drawing', element: holder }, e, this.elementOf(e), e);
    own.frame = transformOf(e, 'off', 'ext');
    if (own.element === 'group') {
      own.inner = transformOf(e, 'chOff', 'chExt');
      own.parts = this.below(e);
    }
    return own;
  }

  private elementOf(e: XmlElement): AppearanceElement {
    if (e.local === 'grpSp' || e.local === 'wgp') return 'group';
    if (e.local === 'pic') {
      const isMedia = ['videoFile', 'audioFile', 'media', 'wavAudioFile'].some((name) =>
        findBelow(childOf(e, 'nvPicPr') ?? e, name),
      );
      return isMedia ? 'media' : 'picture';
    }
    if (e.local === 'graphicFrame') {
      const data = findBelow(e, 'graphicData');
      return frameElement(transitional((data && attributeOf(data, 'uri')) ?? ''));
    }
    const properties = childOf(e, 'spPr');
    return properties && childOf(properties, 'blipFill') ? 'picture' : 'shape';
  }

  private describe(
    holder: WordHolder,
    scope: XmlElement,
    element: AppearanceElement,
    media: XmlElement | undefined,
  ): DrawnObject {
    const { attributes } = holder.element;
    const click = findBelow(holder.element, 'hlinkClick');
    const hasText = [...descendantsOf(scope)].some((t) => t.local === 't' && textBelow(t).trim() !== '');
    return {
      ...{ element, holder, twins: [], scope },
      name: attributes['name'] ?? null,
      id: attributes['id'] ?? null,
      alt: attributes['descr'] ?? null,
      title: attributes['title'] ?? null,
      isDecorative: isMarkedDecorative(holder.element),
      media: media && element !== 'group' ? this.mediaOf(media) : null,
      isHidden: /^(?:1|true)$/.test(attributes['hidden'] ?? ''),
      dataPart: this.dataPartOf(scope, element),
      frame: null,
      inner: null,
      link: this.linkOf(click),
      hasText,
      parts: [],
    };
  }

  private linkOf(click: XmlElement | undefined): string | null {
    const found = click && this.pack.target(this.part, attributeOf(click, 'id'));
    return found?.isExternal ? found.target : null;
  }

  /** The picture that is shown: the vector version where there is one beside it is a copy. */
  private mediaOf(e: XmlElement): string | null {
    for (const blip of descendantsOf(e)) {
      // What stands in a text box is an object of its own.
      const above = ancestorsOf(blip);
      if (blip.local !== 'blip' || above.slice(0, above.indexOf(e)).some((a) => a.local === 'txbxContent')) continue;
      const id = attributeOf(blip, 'embed') ?? attributeOf(blip, 'link');
      const found = this.pack.target(this.part, id);
      if (found) return found.target;
    }
    return null;
  }

  private dataPartOf(scope: XmlElement, element: AppearanceElement): string | null {
    if (element !== 'chart' && element !== 'diagram') return null;
    for (const e of descendantsOf(scope)) {
      if (element === 'chart' && e.local !== 'chart') continue;
      if (element === 'diagram' && e.local !== 'relIds') continue;
      const found = this.pack.target(this.part, attributeOf(e, element === 'chart' ? 'id' : 'dm'));
      if (found && !found.isExternal) return found.target;
    }
    return null;
  }

  private readVml(e: XmlElement): DrawnObject | null {
    // A bullet of a list is no picture of its own.
    if (ancestorsOf(e).some((a) => a.local === 'numPicBullet')) return null;
    const image = childOf(e, 'imagedata', VML);
    const isEmbedded = ancestorsOf(e).some((a) => a.local === 'object');
    const element =
      e.local === 'group'
        ? 'group'
        : image
          ? isEmbedded
            ? 'embedded'
            : 'picture'
          : e.local === 'image'
            ? 'picture'
            : 'shape';
    const found = image && this.pack.target(this.part, attributeOf(image, 'id') ?? attributeOf(image, 'relid'));
    const style = e.attributes['style'] ?? '';
    const length = (name: string) =>
      pixelsOf(new RegExp(`(?:^|;)\\s*${name}:\\s*([\\d.]+)(pt|in|px|cm|mm)?`).exec(style));
    const [width, height] = [length('width'), length('height')];
    return {
      ...{ element, holder: { form: 'vml', element: e }, twins: [], scope: e },
      name: e.attributes['id'] ?? null,
      id: e.attributes['id'] ?? null,
      alt: e.attributes['alt'] ?? null,
      title: (image && attributeOf(image, 'title')) ?? null,
      isDecorative: false,
      media: found?.target ?? null,
      isHidden: /visibility:\s*hidden/.test(style),
      dataPart: null,
      frame:
        width !== null && height !== null
          ? { x: 0, y: 0, width: width * EMU_PER_PIXEL, height: height * EMU_PER_PIXEL }
          : null,
      inner: null,
      link: /^https?:/.test(e.attributes['href'] ?? '') ? e.attributes['href']! : null,
      hasText: findBelow(e, 'textbox') !== undefined,
      parts: element === 'group' ? this.below(e) : [],
    };
  }
}

/** `a16:decorative` and its like: the mark stands in an extension of the properties. */
export function decorativeMark(holder: XmlElement): XmlElement | undefined {
  for (const e of descendantsOf(holder)) if (e.local === 'decorative' && e.namespace === DECORATIVE) return e;
  return undefined;
}

const isMarkedDecorative = (holder: XmlElement): boolean => {
  const mark = decorativeMark(holder);
  return mark !== undefined && !/^(?:0|false)$/.test(mark.attributes['val'] ?? '1');
};

function frameElement(uri: string): AppearanceElement {
  if (/chart(?:ex)?$/.test(uri)) return 'chart';
  if (/diagram$/.test(uri)) return 'diagram';
  if (/table$/.test(uri)) return 'table';
  if (/ole$/.test(uri)) return 'embedded';
  return 'shape';
}

/** Brings two readings of the same drawing together: their objects one by one, and their parts where they are as many. */
function pair(first: DrawnObject[], other: DrawnObject[]): void {
  if (first.length !== other.length && first.length !== 1) return;
  first.forEach((own, i) => {
    const twin = other[i]!;
    own.twins.push(twin.holder, ...twin.twins);
    own.media ??= twin.media;
    pair(own.parts, twin.parts.length === own.parts.length ? twin.parts : []);
  });
}

function pixelsOf(match: RegExpExecArray | null): number | null {
  if (!match) return null;
  const perUnit: Record<string, number> = { pt: 96 / 72, in: 96, px: 1, cm: 96 / 2.54, mm: 96 / 25.4 };
  return Number(match[1]) * (perUnit[match[2] ?? 'px'] ?? 1);
}

const numberOf = (e: XmlElement | undefined, name: string) => Number(e ? (e.attributes[name] ?? NaN) : NaN);

function extentOf(e: XmlElement): DrawnObject['frame'] {
  const extent = childOf(e, 'extent');
  const [width, height] = [numberOf(extent, 'cx'), numberOf(extent, 'cy')];
  return width > 0 && height > 0 ? { x: 0, y: 0, width, height } : null;
}

/** Of its own transform, in the coordinates of what it stands in. */
function transformOf(e: XmlElement, at: 'off' | 'chOff', size: 'ext' | 'chExt'): DrawnObject['frame'] {
  const properties = childOf(e, 'spPr') ?? childOf(e, 'grpSpPr') ?? e;
  const transform = childOf(properties, 'xfrm');
  const [off, ext] = [transform && childOf(transform, at), transform && childOf(transform, size)];
  const [x, y, width, height] = [numberOf(off, 'x'), numberOf(off, 'y'), numberOf(ext, 'cx'), numberOf(ext, 'cy')];
  return [x, y, width, height].every(Number.isFinite) ? { x, y, width, height } : null;
}

/** Objects as they are listed: groups before their parts, and of what is not listed only the parts. */
function listed(objects: readonly DrawnObject[]): DrawnObject[] {
  return objects.flatMap((o) => [...(isListed(o) ? [o] : []), ...listed(o.parts)]);
}

/**
 * Brings objects together with those of a copy of what they stand in, where the copy has as many.
 *
 * @param own as they are listed
 */
export function pairCopies(own: readonly DrawnObject[], copy: readonly DrawnObject[]): void {
  const twins = listed(copy);
  if (twins.length === own.length) own.forEach((o, i) => o.twins.push(twins[i]!.holder, ...twins[i]!.twins));
}

/** In CSS pixels. */
export const pixelsOfEmu = (emu: number): number => Math.round(emu / EMU_PER_PIXEL);

/** Whether it is shown to people as something to word: not a line, a text box or a group of nothing but text. */
export function isListed(o: DrawnObject): boolean {
  const isWorded = o.isDecorative || Boolean(o.alt?.trim()) || Boolean(o.title?.trim());
  if (o.element === 'shape') return isWorded;
  if (o.element !== 'group') return true;
  return isWorded || o.parts.some((p) => p.element !== 'shape' && isListed(p)) || !o.hasText;
}
