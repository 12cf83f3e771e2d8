import { parse } from 'parse5';
import { attr, elementsOf, type Element } from './tree';
import { isBlank } from '../../white-space';

/** A stretch of the source, half open, in UTF-16 code units. */
export interface Range {
  start: number;
  end: number;
}

/**
 * A page whose elements are found again in its source, with both ends of each: what is put beside a picture needs more
 * than its start tag. Takes more than twice the time of {@link parseHtml}, so it is for pages that are changed.
 */
export class LocatedPage {
  private readonly elements: Element[];
  private readonly byStart = new Map<number, Element>();
  private readonly ids = new Map<string, Element>();

  constructor(private readonly source: string) {
    this.elements = elementsOf(parse(source, { sourceCodeLocationInfo: true, scriptingEnabled: false }));
    for (const element of this.elements) {
      const at = element.sourceCodeLocation?.startOffset;
      if (at !== undefined && !this.byStart.has(at)) this.byStart.set(at, element);
      const id = attr(element, 'id');
      if (id && !this.ids.has(id)) this.ids.set(id, element);
    }
  }

  /** The element whose start tag begins there. */
  elementAt(start: number): Element | undefined {
    return this.byStart.get(start);
  }

  byId(id: string): Element | undefined {
    return this.ids.get(id);
  }

  /** All of an element, its tags included; undefined for one that the parser made up. */
  rangeOf({ sourceCodeLocation: at }: Element): Range | undefined {
    return at ? { start: at.startOffset, end: at.endOffset } : undefined;
  }

  /** What stands between the tags of an element. */
  innerRangeOf({ sourceCodeLocation: at }: Element): Range | undefined {
    if (!at?.startTag) return undefined;
    return { start: at.startTag.endOffset, end: at.endTag?.startOffset ?? at.endOffset };
  }

  /** White space before an element on its line; null where something else stands there. */
  indentOf(element: Element): string | null {
    const at = this.rangeOf(element)?.start ?? 0;
    const before = this.source.slice(this.source.lastIndexOf('\n', at - 1) + 1, at);
    return isBlank(before) ? before : null;
  }

  /** From 1 to 6: the level of a heading that comes under those before a picture. */
  headingLevelAt(picture: Element): number {
    for (let i = this.elements.indexOf(picture); i >= 0; i--) {
      const level = /^h([1-6])$/.exec(this.elements[i]!.tagName)?.[1];
      if (level) return Math.min(6, Number(level) + 1);
    }
    return 2;
  }
}
