import type { Appearance } from '../../model/appearance';
import type { Change, Edit, Refusal } from '../../model/document';
import type { Message } from '../../model/message';
import { withWords } from '../../model/wording';
import { refusalFor } from '../html/refusals';
import { isBlank } from '../html/tree';
import { refusedParts } from '../refused-parts';
import { spliced, type Splice } from '../splice';
import { setAttribute, setContent, xmlText } from '../xml/edit-xml';
import { attributeOf, childOf, childrenOf, textBelow, type XmlElement } from '../xml/xml-tree';
import type { Epub, EpubChapter, EpubPart } from './read-epub';

const FEATURE = 'schema:accessibilityFeature';
const ALTERNATIVES = 'alternativeText';

/**
 * Puts words into the content documents of a book. In the package document only the time of the last change (EPUB 3.3,
 * 5.4.1) and, once no picture is without words, the feature `alternativeText` (EPUB Accessibility 1.1, 2.3) are touched.
 */
export function writeEpub(
  book: Epub,
  edits: readonly Edit[],
  modified: string | undefined,
): { parts: Map<string, Buffer>; changes: Change[]; refusals: Refusal[]; warnings: Message[] } {
  const splices = new Map<EpubPart, Splice[]>();
  const changes: Change[] = [];
  const refusals: Refusal[] = [];
  const after = new Map<Appearance, Appearance>();
  for (const edit of edits) {
    const { fragment = null, order, text } = edit;
    const chapter = book.chapters.find((c) => c.fragment === fragment);
    const [reading, element] = [chapter?.reading.appearances[order], chapter?.elements[order]];
    if (!chapter || !reading || !element) throw new RangeError(`The book has no appearance ${order} on “${fragment}”.`);
    const at = { fragment, order, line: reading.location.kind === 'html' ? reading.location.line : 0 };
    const refuse = (part: Refusal['part'], reason: Message) => refusals.push({ ...at, part, reason });
    for (const refused of refusedParts(edit)) refusals.push({ ...at, ...refused });
    if (text === undefined) continue;
    const refused = refusalFor(reading);
    if (refused) {
      refuse('attributes', refused);
      continue;
    }
    const change = changeOf(chapter, reading, element, text);
    after.set(reading, withWords(reading, text));
    if (!change) continue;
    splices.set(chapter.part, [...(splices.get(chapter.part) ?? []), ...change.splices]);
    const words = { before: reading.accessible.name, after: text };
    changes.push({ ...at, part: 'attributes', ...change.shown, words, file: chapter.part.name });
  }
  const parts = new Map<string, Buffer>();
  const render = (part: EpubPart, own: Splice[]) => parts.set(part.name, part.encode(spliced(part.text, own)));
  for (const [part, own] of splices) render(part, own);
  const isWhole = book.chapters.every((c) =>
    c.reading.appearances.every((a) => (after.get(a) ?? a).state !== 'missing'),
  );
  const feature = parts.size > 0 && isWhole ? featureSplice(book) : null;
  const own = [...(feature ? [feature] : []), ...(parts.size > 0 && modified ? modifiedSplices(book, modified) : [])];
  if (own.length > 0) render(book.opf, own);
  return { parts, changes, refusals, warnings: feature ? [{ id: 'document.epub-feature' }] : [] };
}

function changeOf({ part }: EpubChapter, a: Appearance, e: XmlElement, text: string) {
  const own = wordSplices(part.text, a, e, text);
  const [start, end] = a.element === 'svg' ? [e.start, e.closeEnd] : [e.start, e.end];
  const before = part.text.slice(start, end);
  const after = spliced(
    before,
    own.map((s) => ({ ...s, start: s.start - start, end: s.end - start })),
  );
  if (before === after) return null;
  // The whole of a drawing is nothing to read: its own words are.
  const shown = (markup: string) => (a.element === 'svg' ? markup.slice(0, 600) : markup);
  return { splices: own, shown: { before: shown(before), after: shown(after) } };
}

function wordSplices(source: string, a: Appearance, e: XmlElement, text: string): Splice[] {
  const set = (name: string, value: string | null, after?: string) => setAttribute(source, e, name, value, after);
  if (e.local === 'img' || e.local === 'area') {
    const label = isBlank(a.markup.ariaLabel) ? [] : set('aria-label', text === '' ? null : text);
    const dropped = text === '' ? set('title', null) : a.accessible.role === 'none' ? set('role', null) : [];
    return [...set('alt', text, 'src'), ...label, ...dropped];
  }
  if (text === '') return [...set('aria-hidden', 'true'), ...set('aria-label', null)];
  const shown = a.markup.ariaHidden ? set('aria-hidden', null) : [];
  const role = a.element === 'svg' && a.accessible.role !== 'image' ? set('role', 'img') : [];
  const title = a.element === 'svg' ? childOf(e, 'title') : undefined;
  // A title that names the drawing stays its name; what stands in an attribute goes before it.
  if (title && isBlank(a.markup.ariaLabel)) return [...shown, ...role, setContent(title, xmlText(text), source)];
  return [...shown, ...set('aria-label', text), ...role];
}

function modifiedSplices({ metadata, opf, version }: Epub, modified: string): Splice[] {
  if (!version.startsWith('3')) return [];
  const own = childrenOf(metadata).find(
    (e) => attributeOf(e, 'property') === 'dcterms:modified' && attributeOf(e, 'refines') === null,
  );
  return own ? [setContent(own, xmlText(modified), opf.text)] : [];
}

function featureSplice({ metadata, opf, version }: Epub): Splice | null {
  const isThere = childrenOf(metadata).some((e) => {
    const name = attributeOf(e, 'property') ?? attributeOf(e, 'name');
    return name === FEATURE && (attributeOf(e, 'content') ?? textBelow(e)).trim() === ALTERNATIVES;
  });
  if (isThere || metadata.isEmpty) return null;
  const sibling = childrenOf(metadata).find((e) => e.local === 'meta');
  const name = sibling?.name ?? (metadata.prefix ? `${metadata.prefix}:meta` : 'meta');
  const markup = version.startsWith('3')
    ? `<${name} property="${FEATURE}">${ALTERNATIVES}</${name}>`
    : `<${name} name="${FEATURE}" content="${ALTERNATIVES}"/>`;
  const newline = opf.text.includes('\r\n') ? '\r\n' : '\n';
  return { start: metadata.closeStart, end: metadata.closeStart, text: `  ${markup}${newline}` };
}
