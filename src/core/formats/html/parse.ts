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

/** An array that grows by `push` gets room for seventeen at once. */
function withOne<One>(few: One[], one: One): One[] {
  if (few.length === 0) return [one];
  if (few.length === 1) return [few[0]!, one];
  if (few.length === 2) return [few[0]!, few[1]!, one];
  few.push(one);
  return few;
}

/** parse5's own tree in a fifth less memory: most elements have few children. */
const leanTree: typeof defaultTreeAdapter = {
  ...defaultTreeAdapter,
  appendChild(parent, node) {
    parent.childNodes = withOne(parent.childNodes, node);
    node.parentNode = parent;
  },
  insertText(parent, text) {
    const last = parent.childNodes.at(-1);
    if (last && defaultTreeAdapter.isTextNode(last)) last.value += text;
    else leanTree.appendChild(parent, defaultTreeAdapter.createTextNode(text));
  },
};

/** What the tokenizer of parse5 has inside and this file leans on. */
interface Recognition {
  state: number;
  /** Of the text or value being built: where the part of the input that is not appended yet ends. */
  runEnd: number;
  preprocessor: { offset: number; pos: number; html: string };
  currentToken: Token.TagToken | null;
  currentCharacterToken: { type: Token.TokenType } | null;
  _createStartTagToken(): void;
  _createEndTagToken(): void;
  _flushRun(text: string): void;
  _extendRun(cp: number): void;
  _stateTagName(cp: number): void;
  emitCurrentTagToken(): void;
}

/** By code unit: 1 for what stands for itself in text and in every kind of attribute value, 2 for white space but CR. */
const PLAIN = new Uint8Array(0x10000).fill(1, 0x21, 0x7f).fill(1, 0x80, 0xd800).fill(1, 0xe000);
for (const c of '<>&"\'`=') PLAIN[c.charCodeAt(0)] = 0;
for (const c of ' \t\n\f') PLAIN[c.charCodeAt(0)] = 2;

/** By code unit: 1 for what names of tags and attributes are made of as a rule. */
const NAMELY = new Uint8Array(0x10000).fill(1, 0x61, 0x7b).fill(1, 0x30, 0x3a);
for (const c of '-_:') NAMELY[c.charCodeAt(0)] = 1;

/** Where the run of such units ends that begins at a place. */
function endOfName(html: string, at: number): number {
  let end = at;
  while (NAMELY[html.charCodeAt(end)] === 1) end++;
  return end;
}

/** Names met lately, by their length and some of their letters: a page repeats a few dozen thousands of times. */
const met: string[] = new Array<string>(1024).fill('');

/** Units from which V8 makes a slice a view of the whole, which must not be kept beyond the page. */
const VIEW = 13;

function nameBetween(html: string, at: number, end: number): string {
  if (end - at >= VIEW) return html.slice(at, end);
  const slot =
    ((end - at) * 331 + html.charCodeAt(at) * 31 + html.charCodeAt(end - 1) * 7 + html.charCodeAt((at + end) >> 1)) &
    1023;
  const before = met[slot]!;
  if (before.length === end - at && html.startsWith(before, at)) return before;
  return (met[slot] = html.slice(at, end));
}

const isNamed = (attrs: readonly Token.Attribute[], name: string): boolean => {
  for (const a of attrs) if (a.name === name) return true;
  return false;
};

const [QUOTE, EQUALS, CLOSE] = ['"', '=', '>'].map((c) => c.charCodeAt(0)) as [number, number, number];
/** Attributes of a tag; of more, parse5 finds doubles faster than one by one. */
const MOST_PLAIN = 16;
/** What a quoted value does not hold when it stands for itself: references, CR, NUL. */
const UNPLAIN = /[&\r\0]/;

/**
 * Reads the rest of a tag that is written as most are: names in lower case, values in double quotes, each attribute once,
 * and nothing in them that has to be read twice.
 *
 * @returns where its `>` stands; -1, and nothing is read, when it is written in another way
 */
function readPlainTag(token: Token.TagToken, html: string, at: number): number {
  const nameEnd = endOfName(html, at);
  let { attrs } = token;
  for (let pos = nameEnd; ;) {
    const before = pos;
    while (PLAIN[html.charCodeAt(pos)] === 2) pos++;
    if (html.charCodeAt(pos) === CLOSE) {
      token.tagName = nameBetween(html, at, nameEnd);
      token.attrs = attrs;
      return pos;
    }
    const end = endOfName(html, pos);
    if (pos === before || end === pos || attrs.length === MOST_PLAIN) return -1;
    if (html.charCodeAt(end) !== EQUALS || html.charCodeAt(end + 1) !== QUOTE) return -1;
    const close = html.indexOf('"', end + 2);
    const name = nameBetween(html, pos, end);
    if (close < 0 || isNamed(attrs, name)) return -1;
    const value = html.slice(end + 2, close);
    if (UNPLAIN.test(value)) return -1;
    attrs = withOne(attrs, { name, value });
    pos = close + 1;
  }
}

/**
 * parse5 with three things added. Its own location records cost 2.2 times a plain parse; noting the tokenizer's offset
 * at the two ends of a start tag costs nothing. And it takes every character through all of its states; where one
 * that stands for itself follows another, nothing else can happen, so the run is followed to its end at once (in
 * the body white space too, which only tells there once text has come). A tag that is written as most are is read at
 * once as well. All lean on internals of parse5, so the version is pinned and parse.test.ts compares trees and ranges
 * with the official ones.
 */
class LocatingParser extends Parser<DefaultTreeAdapterMap> {
  /** Start and end of each start tag, by the attributes that it gives its elements; flat, for they are many. */
  private readonly places = new Map<Token.Attribute[], number>();
  private readonly ends: number[] = [];
  private tagStart = 0;

  constructor() {
    super({ scriptingEnabled: false, treeAdapter: leanTree });
    const tokenizer = this.tokenizer as unknown as Recognition;
    const DATA = tokenizer.state;
    const create = tokenizer._createStartTagToken.bind(tokenizer);
    tokenizer._createStartTagToken = () => {
      this.tagStart = tokenizer.preprocessor.offset - 1;
      create();
    };
    const createEnd = tokenizer._createEndTagToken.bind(tokenizer);
    let endTag: Token.TagToken | null = null;
    tokenizer._createEndTagToken = () => {
      // Nobody keeps the token of an end tag: one serves for all, as long as it has nothing but a name.
      if (endTag === null || endTag.selfClosing || endTag.attrs.length > 0) {
        createEnd();
        endTag = tokenizer.currentToken;
      } else {
        tokenizer._flushRun('');
        endTag.tagName = '';
        tokenizer.currentToken = endTag;
      }
    };
    const nameTag = tokenizer._stateTagName.bind(tokenizer);
    tokenizer._stateTagName = (cp) => {
      const token = tokenizer.currentToken!;
      const { preprocessor } = tokenizer;
      const end =
        token.tagName === '' && NAMELY[cp] === 1 ? readPlainTag(token, preprocessor.html, preprocessor.pos) : -1;
      if (end < 0) return nameTag(cp);
      preprocessor.pos = end;
      tokenizer.state = DATA;
      tokenizer.emitCurrentTagToken();
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
