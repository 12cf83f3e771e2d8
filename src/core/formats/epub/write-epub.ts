import type { Appearance } from '../../model/appearance';
import type { BookMetadata, Change, Edit, Refusal } from '../../model/document';
import type { Message } from '../../model/message';
import { withWords } from '../../model/wording';
import { refusalFor } from '../html/refusals';
import { refusedParts } from '../refused-parts';
import { spliced, type Splice } from '../splice';
import { isNamedWithin, labelsWithin, writeLabel } from '../svg/labels';
import { setAttribute, setContent, xmlText } from '../xml/edit-xml';
import { childOf, type XmlElement } from '../xml/xml-tree';
import { accessibilityMetadata, modifiedSplices, NOTHING } from './book-metadata';
import type { Epub, EpubChapter, EpubPart } from './read-epub';
import { isBlank } from '../../white-space';

/**
 * Puts words into the content documents of a book. In the package document only the time of the last change and, once no
 * picture is without words or a decision, the accessibility metadata are touched.
 *
 * @param modified when it is written, in the format of `dcterms:modified`; absent where that stays
 * @param metadata what is added once no picture is without words
 */
export function writeEpub(
  book: Epub,
  edits: readonly Edit[],
  modified: string | undefined,
  metadata: BookMetadata = { adds: 'feature', summary: '' },
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
    const hasAria = book.version.startsWith('3');
    const isOwn = reading.element === 'svg' && isNamedWithin(element);
    const refused =
      (isOwn ? null : refusalFor(reading)) ?? (hasAria ? null : refusalWithoutAria(element, reading, text));
    if (refused) {
      refuse('attributes', refused);
      continue;
    }
    const change = changeOf(chapter, reading, element, text, hasAria);
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
  if (parts.size === 0) return { parts, changes, refusals, warnings: [] };
  const { splices: added, warnings } = isWhole ? accessibilityMetadata(book, metadata) : NOTHING;
  const own = [...added, ...(modified ? modifiedSplices(book, modified) : [])];
  if (own.length > 0) render(book.opf, own);
  return { parts, changes, refusals, warnings };
}

function changeOf({ part }: EpubChapter, a: Appearance, e: XmlElement, text: string, hasAria: boolean) {
  const own = wordSplices(part.text, a, e, text, hasAria);
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

const takesAlt = (e: XmlElement) => e.local === 'img' || e.local === 'area';

/** EPUB 2 has no attributes of ARIA (OPS 2.0.1, 2.2): a drawing can have a title there, and nothing else has words. */
function refusalWithoutAria(e: XmlElement, a: Appearance, text: string): Message | null {
  if (takesAlt(e)) return null;
  return text === '' || a.element !== 'svg' ? { id: 'refusal.epub2' } : null;
}

function wordSplices(source: string, a: Appearance, e: XmlElement, text: string, hasAria: boolean): Splice[] {
  const set = (name: string, value: string | null, after?: string) => setAttribute(source, e, name, value, after);
  if (takesAlt(e)) {
    const label = isBlank(a.markup.ariaLabel) ? [] : set('aria-label', text === '' ? null : text);
    const dropped = text === '' ? set('title', null) : a.accessible.role === 'none' ? set('role', null) : [];
    return [...set('alt', text, 'src'), ...label, ...dropped];
  }
  if (text === '') return [...set('aria-hidden', 'true'), ...set('aria-label', null)];
  const shown = a.markup.ariaHidden ? set('aria-hidden', null) : [];
  const role = hasAria && a.element === 'svg' && a.accessible.role !== 'image' ? set('role', 'img') : [];
  const title = a.element === 'svg' ? childOf(e, 'title') : undefined;
  if (!title && !hasAria) {
    const markup = `<${e.name.replace(/svg$/, 'title')}>${xmlText(text)}</${e.name.replace(/svg$/, 'title')}>`;
    return [e.isEmpty ? setContent(e, markup, source) : { start: e.end, end: e.end, text: markup }];
  }
  if (a.element === 'svg' && isNamedWithin(e))
    return [...shown, ...role, ...writeLabel(source, e, labelsWithin(e, e), xmlText(text))];
  // A title that names the drawing stays its name; what stands in an attribute goes before it.
  if (title && isBlank(a.markup.ariaLabel)) return [...shown, ...role, setContent(title, xmlText(text), source)];
  return [...shown, ...set('aria-label', text), ...role];
}
