import { Parser, type DefaultTreeAdapterMap, type DefaultTreeAdapterTypes as T, type Token } from 'parse5';
import type { Element } from './tree';

/** Half-open range of a start tag in the source, in UTF-16 code units. */
export interface TagRange {
  start: number;
  end: number;
}

export interface ParsedHtml {
  document: T.Document;
  /** Where an element's start tag stands; `undefined` for elements the parser made up. */
  rangeOf(element: Element): TagRange | undefined;
}

/**
 * parse5's own location records cost 2.2 times a plain parse. Noting the tokenizer's offset at the two
 * ends of a start tag costs nothing; it leans on internals of parse5, so the version is pinned and
 * parse.test.ts compares every range with the official records.
 */
class LocatingParser extends Parser<DefaultTreeAdapterMap> {
  readonly ranges = new WeakMap<Token.Attribute[], TagRange>();
  private tagStart = 0;

  constructor() {
    super({ scriptingEnabled: false });
    const tokenizer = this.tokenizer as unknown as {
      _createStartTagToken(): void;
      preprocessor: { offset: number };
    };
    const create = tokenizer._createStartTagToken.bind(tokenizer);
    tokenizer._createStartTagToken = () => {
      this.tagStart = tokenizer.preprocessor.offset - 1;
      create();
    };
  }

  override onStartTag(token: Token.TagToken): void {
    this.ranges.set(token.attrs, { start: this.tagStart, end: this.tokenizer.preprocessor.offset + 1 });
    super.onStartTag(token);
  }
}

/**
 * Parses a whole HTML document as a browser without scripts does (HTML Living Standard 13.2), so that
 * pictures in `noscript` are seen too.
 */
export function parseHtml(source: string): ParsedHtml {
  const parser = new LocatingParser();
  parser.tokenizer.write(source, true);
  return { document: parser.document, rangeOf: (element) => parser.ranges.get(element.attrs) };
}
