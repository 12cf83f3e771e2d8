import type { Change, Edit, Refusal } from '../../model/document';
import { DocumentError } from '../document-error';
import { refusedParts } from '../refused-parts';
import { spliced, type Splice } from '../splice';
import { setAttribute, setContent, xmlText } from '../xml/edit-xml';
import { childOf, childrenOf, type XmlElement } from '../xml/xml-tree';
import type { OdfPackage } from './package';
import { SVG, type OdfObject, type OdfPage } from './read-odf';

const LOEXT = 'urn:org:documentfoundation:names:experimental:office:xmlns:loext:1.0';

/** Prefix of a namespace in a part, and what declares it where nothing does. */
function prefixOf(root: XmlElement, namespace: string, usual: string): { prefix: string; declared: string } {
  for (const [name, value] of Object.entries(root.attributes))
    if (value === namespace && name.startsWith('xmlns:')) return { prefix: name.slice(6), declared: '' };
  return { prefix: usual, declared: ` xmlns:${usual}="${namespace}"` };
}

/**
 * Puts words into an OpenDocument by splicing its parts: `svg:desc`, in the order that the schema asks for (ODF 1.3, part
 * 3, 10.3.17 and 10.4.2), and the mark of decoration as LibreOffice writes it.
 */
export function writeOdf(
  pages: readonly OdfPage[],
  edits: readonly Edit[],
): { parts: Map<string, Buffer>; changes: Change[]; refusals: Refusal[] } {
  const splices = new Map<OdfObject['part'], Splice[]>();
  const changes: Change[] = [];
  const refusals: Refusal[] = [];
  for (const edit of edits) {
    const { fragment = null, order, text } = edit;
    const page = pages.find((p) => p.fragment === fragment);
    const [reading, object] = [page?.reading.appearances[order], page?.objects[order]];
    if (!reading || !object) throw new RangeError(`The document has no appearance ${order} on “${fragment}”.`);
    const at = { fragment, order, line: 0 };
    for (const refused of refusedParts(edit)) refusals.push({ ...at, ...refused });
    if (text === undefined) continue;
    const { element: e, part } = object;
    const own = [...markSplices(object, text === ''), ...descriptionSplices(object, text)];
    const moved = own.map((s) => ({ ...s, start: s.start - e.start, end: s.end - e.start }));
    const before = part.text.slice(e.start, e.closeEnd);
    const after = spliced(before, moved);
    if (before === after) continue;
    splices.set(part, [...(splices.get(part) ?? []), ...own]);
    const words = { before: reading.accessible.name, after: text };
    changes.push({ ...at, part: 'attributes', before, after, words, file: part.name });
  }
  const parts = new Map<string, Buffer>();
  for (const [part, own] of splices) parts.set(part.name, part.encode(spliced(part.text, own)));
  return { parts, changes, refusals };
}

function descriptionSplices({ element: e, part }: OdfObject, text: string): Splice[] {
  const current = childOf(e, 'desc', SVG);
  if (current) return [setContent(current, xmlText(text), part.text)];
  if (text === '') return [];
  const { prefix, declared } = prefixOf(part.root, SVG, 'svg');
  const markup = `<${prefix}:desc${declared}>${xmlText(text)}</${prefix}:desc>`;
  if (e.isEmpty) return [setContent(e, markup, part.text)];
  const at = descriptionPlace(e);
  return [{ start: at, end: at, text: markup }];
}

/** After the title; first in a group and in shapes, last in a frame but for its contour. */
function descriptionPlace(e: XmlElement): number {
  const title = childOf(e, 'title', SVG);
  if (title) return title.closeEnd;
  if (e.local !== 'frame') return e.end;
  return childrenOf(e).find((c) => c.local.startsWith('contour-'))?.start ?? e.closeStart;
}

function markSplices({ element: e, part, isDecorative }: OdfObject, wanted: boolean): Splice[] {
  const name = Object.keys(e.attributes).find((n) => n.endsWith(':decorative'));
  if (name) return isDecorative === wanted ? [] : setAttribute(part.text, e, name, String(wanted));
  if (isDecorative === wanted) return [];
  const { prefix, declared } = prefixOf(part.root, LOEXT, 'loext');
  const at = e.start + 1 + e.name.length;
  return [{ start: at, end: at, text: `${declared} ${prefix}:decorative="${wanted}"` }];
}

/** @throws DocumentError when the document is signed */
export function refuseSigned(pack: OdfPackage): void {
  if (pack.isSigned) throw new DocumentError({ id: 'document.signed' });
}
