import {
  InsertionMode,
  Parser,
  Token,
  defaultTreeAdapter,
  type DefaultTreeAdapterMap,
  type DefaultTreeAdapterTypes as T,
} from 'parse5';
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
 * parse5's own tree in a fifth less memory: an array that grows by `push` gets room for seventeen at once, and most
 * elements have one child.
 */
const leanTree: typeof defaultTreeAdapter = {
  ...defaultTreeAdapter,
  appendChild(parent, node) {
    if (parent.childNodes.length === 0) parent.childNodes = [node];
    else parent.childNodes.push(node);
    node.parentNode = parent;
  },
  insertText(parent, text) {
    const last = parent.childNodes.at(-1);
    if (last && defaultTreeAdapter.isTextNode(last)) last.value += text;
    else leanTree.appendChild(parent, defaultTreeAdapter.createTextNode(text));
  },
};

/** What the tokenizer of parse5 has inside and this file leans on. */
interface Inside {
  state: number;
  /** Of the text or value being built: where the part of the input that is not appended yet ends. */
  runEnd: number;
  preprocessor: { offset: number; pos: number; html: string };
  currentToken: { type: Token.TokenType } | null;
  currentCharacterToken: { type: Token.TokenType } | null;
  _createStartTagToken(): void;
  _extendRun(cp: number): void;
}

/** By code unit: 1 for what stands for itself in text and in every kind of attribute value, 2 for white space but CR. */
const PLAIN = new Uint8Array(0x10000).fill(1, 0x21, 0x7f).fill(1, 0x80, 0xd800).fill(1, 0xe000);
for (const c of '<>&"\'`=') PLAIN[c.charCodeAt(0)] = 0;
for (const c of ' \t\n\f') PLAIN[c.charCodeAt(0)] = 2;

/**
 * parse5 with two things added. Its own location records cost 2.2 times a plain parse; noting the tokenizer's offset
 * at the two ends of a start tag costs nothing. And it takes every character through all of its states; where one
 * that stands for itself follows another, nothing else can happen, so the run is followed to its end at once (in
 * the body white space too, which only tells there once text has come). Both lean on internals of parse5, so the
 * version is pinned and parse.test.ts compares trees and ranges with the official ones.
 */
class LocatingParser extends Parser<DefaultTreeAdapterMap> {
  /** Start and end of each start tag, by the attributes that it gives its elements; flat, for they are many. */
  private readonly places = new Map<Token.Attribute[], number>();
  private readonly ends: number[] = [];
  private tagStart = 0;

  constructor() {
    super({ scriptingEnabled: false, treeAdapter: leanTree });
    const tokenizer = this.tokenizer as unknown as Inside;
    const DATA = tokenizer.state;
    const create = tokenizer._createStartTagToken.bind(tokenizer);
    tokenizer._createStartTagToken = () => {
      this.tagStart = tokenizer.preprocessor.offset - 1;
      create();
    };
    const extend = tokenizer._extendRun.bind(tokenizer);
    tokenizer._extendRun = (cp) => {
      extend(cp);
      if (PLAIN[cp] !== 1) return;
      let most = 0;
      if (tokenizer.currentToken?.type === Token.TokenType.START_TAG) most = 1;
      else if (tokenizer.state === DATA && tokenizer.currentCharacterToken)
        most = this.insertionMode === InsertionMode.IN_BODY ? 2 : 1;
      const { preprocessor } = tokenizer;
      const { html } = preprocessor;
      let { pos } = preprocessor;
      for (let kind = PLAIN[html.charCodeAt(pos + 1)]; kind && kind <= most; kind = PLAIN[html.charCodeAt(pos + 1)])
        pos++;
      preprocessor.pos = pos;
      tokenizer.runEnd = pos + 1;
    };
  }

  override onStartTag(token: Token.TagToken): void {
    this.places.set(token.attrs, this.ends.length);
    this.ends.push(this.tagStart, this.tokenizer.preprocessor.offset + 1);
    super.onStartTag(token);
  }

  rangeOf({ attrs }: Element): TagRange | undefined {
    const at = this.places.get(attrs);
    return at === undefined ? undefined : { start: this.ends[at]!, end: this.ends[at + 1]! };
  }
}

/**
 * Parses a whole HTML document as a browser without scripts does (HTML Living Standard 13.2), so that
 * pictures in `noscript` are seen too.
 */
export function parseHtml(source: string): ParsedHtml {
  const parser = new LocatingParser();
  parser.tokenizer.write(source, true);
  return { document: parser.document, rangeOf: (element) => parser.rangeOf(element) };
}
