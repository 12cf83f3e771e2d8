import { serializeOuter } from 'parse5';
import type { AppearanceElement, Layout } from '../../model/appearance';
import { MOST_APPEARANCES, type PageReading, type SourceReading } from '../../model/page';
import { NameIndex } from './accname';
import { backgroundsOf, type Background } from './backgrounds';
import { decodeHtml } from './charset';
import { Places, describeAll, type Standing } from './describe';
import { pixels } from './image-source';
import { countWords } from '../../words/vocabulary';
import { mergeReadings } from './merge-readings';
import { parseHtml, type ParsedHtml } from './parse';
import { renderedTree, type DomSnapshot, type RenderedTree } from './snapshot';
import { endOfSvg, lineStarts, position } from './source-position';
import { elementsOf, type Element } from './tree';
import { walkDocument, type Found } from './walk';
import type { StyleSheet } from '../../model/document';

const TEMPLATE_SYNTAX = /\{\{|\{%|<%|<\?|\$\{|\[\[/;

/**
 * Reads a page: every appearance of a picture with its place in the source, its accessible name and what
 * stands around it.
 *
 * @param transport the charset of the `Content-Type` header, where the page came with one
 */
export function readPage(bytes: Buffer, transport?: string, sheets: readonly StyleSheet[] = []): PageReading {
  const { text, charset } = decodeHtml(bytes, transport);
  return { charset, ...readSource(text, sheets) };
}

/**
 * A page that was read, with what only scripts and style sheets know of it.
 *
 * @param snapshot the page as a browser rendered it
 * @throws Error when the snapshot holds no document
 */
export function addRendered(page: PageReading, snapshot: DomSnapshot): PageReading {
  return { charset: page.charset, ...mergeReadings(page, ...readRendered(snapshot)) };
}

/** The same for a source that is decoded already. */
export const readSource = (source: string, sheets: readonly StyleSheet[] = []): SourceReading =>
  readParsed(source, parseHtml(source), sheets);

/** The same for a source that is parsed already, as HTML or as XML. */
export function readParsed(source: string, parsed: ParsedHtml, sheets: readonly StyleSheet[] = []): SourceReading {
  const hasBackgrounds = sheets.length > 0 || /background/i.test(source);
  const lines = lineStarts(source);
  const stands = (node: Element, element: AppearanceElement): Standing => {
    const { start, end } = parsed.rangeOf(node)!;
    const [line, column] = position(start, lines);
    return {
      svg: element === 'svg' ? source.slice(start, endOfSvg(source, end)) : null,
      templated: TEMPLATE_SYNTAX.test(source.slice(start, end)),
      layout: { width: pixels(node, 'width'), height: pixels(node, 'height'), fold: null },
      location: { kind: 'html', start, end, line, column },
    };
  };
  const elements = elementsOf(parsed.document);
  const backgrounds = hasBackgrounds ? backgroundsOf(elements, sheets) : new Map<Element, Background[]>();
  const walk = walkDocument(parsed.document, backgrounds);
  // Backgrounds come last: which there are depends on style sheets, and the place of the others must not.
  const isBackground = (f: Found) => Number(f.element === 'css-background');
  const found = walk.found
    .filter((f) => parsed.rangeOf(f.node))
    .sort((a, b) => isBackground(a) - isBackground(b) || parsed.rangeOf(a.node)!.start - parsed.rangeOf(b.node)!.start);
  const index = new NameIndex(elements);
  return {
    ...walk.page,
    words: countWords(walk.chunks.map((c) => c.text)),
    leftOut: Math.max(0, found.length - MOST_APPEARANCES),
    appearances: describeAll(found.slice(0, MOST_APPEARANCES), {
      index,
      places: new Places(),
      chunks: walk.chunks,
      stands,
    }),
    rendered: false,
  };
}

/** The appearances of a page as a browser painted it, and the address that their references are resolved against. */
function readRendered(snapshot: DomSnapshot): [SourceReading, base: string] {
  const tree = renderedTree(snapshot);
  const walk = walkDocument(tree.document, tree.backgrounds);
  const stands = (node: Element, element: AppearanceElement): Standing => ({
    svg: element === 'svg' ? serialized(node) : null,
    templated: false,
    layout: laidOut(node, tree),
    location: { kind: 'script' },
  });
  const index = new NameIndex(elementsOf(tree.document), tree);
  const found = walk.found.slice(0, MOST_APPEARANCES);
  const appearances = describeAll(found, { index, places: new Places(), chunks: walk.chunks, stands });
  found.forEach(({ node, element }, i) => {
    const shown = appearances[i]!;
    if (element === 'img' && !shown.markup.src?.trim()) shown.markup.src = tree.chosen.get(node) ?? shown.markup.src;
  });
  const leftOut = walk.found.length - found.length;
  const words = countWords(walk.chunks.map((c) => c.text));
  return [{ ...walk.page, words, appearances, leftOut, rendered: true }, tree.base];
}

const WINDOW_HEIGHT = 800;

function laidOut(node: Element, { boxes }: RenderedTree): Layout {
  const box = boxes.get(node);
  if (!box || box.width === 0 || box.height === 0) return { width: null, height: null, fold: null };
  const fold = box.y < WINDOW_HEIGHT ? 'above' : 'below';
  return { width: Math.round(box.width), height: Math.round(box.height), fold };
}

function serialized(node: Element): string {
  try {
    return serializeOuter(node);
  } catch {
    // Nested deeper than the library goes.
    return '<svg></svg>';
  }
}
