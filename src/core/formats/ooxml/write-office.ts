import type { Change, Edit, Refusal } from '../../model/document';
import { refusedParts } from '../refused-parts';
import { spliced, type Splice } from '../splice';
import { append, setAttribute } from '../xml/edit-xml';
import { childOf } from '../xml/xml-tree';
import { decorativeMark, type WordHolder } from './drawn-object';
import type { OoxmlPackage } from './package';
import type { WrittenObject } from './place-objects';
import type { OfficePage } from './read-office';

/** MS-ODRAWXML 2.28: the extension that marks an object as decorative. */
const EXTENSION = '{C183D7F6-B498-43B3-948B-1728B52AA6E4}';
const NAMESPACE = 'http://schemas.microsoft.com/office/drawing/2017/decorative';
const DRAWING = 'http://schemas.openxmlformats.org/drawingml/2006/main';
const STRICT_DRAWING = 'http://purl.oclc.org/ooxml/drawingml/main';

/**
 * Puts words into the parts of a package by splicing their sources.
 *
 * @returns the parts that change, by name
 */
export function writeOffice(
  pack: OoxmlPackage,
  pages: readonly OfficePage[],
  edits: readonly Edit[],
): { parts: Map<string, Buffer>; changes: Change[]; refusals: Refusal[] } {
  const splices = new Map<string, Splice[]>();
  const changes: Change[] = [];
  const refusals: Refusal[] = [];
  for (const edit of edits) {
    const { fragment = null, order, text } = edit;
    const page = pages.find((p) => p.fragment === fragment);
    const reading = page?.reading.appearances[order];
    if (!page || !reading) throw new RangeError(`The document has no appearance ${order} on “${fragment}”.`);
    const at = { fragment, order, line: 0 };
    const refuse = (part: Refusal['part'], id: string) => refusals.push({ ...at, part, reason: { id } });
    for (const refused of refusedParts(edit)) refusals.push({ ...at, ...refused });
    const target = page.objects[order];
    if (text === undefined) continue;
    if (!target || reading.element === 'background') refuse('attributes', 'refusal.background');
    else if (text === '' && target.object.holder.form === 'vml') refuse('attributes', 'refusal.vml-decorative');
    else {
      const part = pack.part(target.part);
      const own = splicesFor(part.text, target, text);
      const shown = part.text.slice(...tagRange(target));
      const start = tagRange(target)[0];
      const inTag = own.filter((s) => s.start >= start && s.end <= start + shown.length);
      const after = spliced(
        shown,
        inTag.map((s) => ({ ...s, start: s.start - start, end: s.end - start })),
      );
      if (shown === after) continue;
      splices.set(part.name, [...(splices.get(part.name) ?? []), ...own]);
      const words = { before: reading.accessible.name, after: text };
      changes.push({ ...at, part: 'attributes', before: shown, after, words, file: part.name });
    }
  }
  const parts = new Map<string, Buffer>();
  for (const [name, own] of splices) {
    const part = pack.part(name);
    parts.set(name, part.encode(spliced(part.text, own)));
  }
  return { parts, changes, refusals };
}

/** The whole element that carries the words. */
const tagRange = ({ object: { holder } }: WrittenObject): [number, number] => [
  holder.element.start,
  holder.form === 'vml' ? holder.element.end : holder.element.closeEnd,
];

function splicesFor(source: string, { object }: WrittenObject, text: string): Splice[] {
  return [object.holder, ...object.twins].flatMap((holder, i) => {
    // Inner properties without words stay as they are: those of the frame count.
    const isInner = i > 0 && holder.form === 'drawing' && holder.element.attributes['descr'] === undefined;
    if (isInner && isWithin(holder, object.scope)) return [];
    return wordSplices(source, holder, text);
  });
}

const isWithin = ({ element }: WordHolder, scope: { start: number; closeEnd: number }) =>
  element.start > scope.start && element.closeEnd <= scope.closeEnd;

function wordSplices(source: string, { form, element }: WordHolder, text: string): Splice[] {
  if (form === 'vml') return setAttribute(source, element, 'alt', text);
  const description =
    text === '' && element.attributes['descr'] === undefined
      ? []
      : setAttribute(source, element, 'descr', text, 'name');
  return [...description, ...markSplices(source, element, text === '')];
}

/** Sets or takes away the mark of decoration, in the way of Office. */
function markSplices(source: string, element: WordHolder['element'], isDecorative: boolean): Splice[] {
  const mark = decorativeMark(element);
  if (mark) {
    const isMarked = !/^(?:0|false)$/.test(mark.attributes['val'] ?? '1');
    return isMarked === isDecorative ? [] : setAttribute(source, mark, 'val', isDecorative ? '1' : '0');
  }
  if (!isDecorative) return [];
  const extension = (prefix: string) =>
    `<${prefix}ext uri="${EXTENSION}"><adec:decorative xmlns:adec="${NAMESPACE}" val="1"/></${prefix}ext>`;
  const list = childOf(element, 'extLst');
  if (list) return [append(list, extension(list.prefix ? `${list.prefix}:` : ''), source)];
  const drawing = source.includes(STRICT_DRAWING) ? STRICT_DRAWING : DRAWING;
  return [append(element, `<a:extLst xmlns:a="${drawing}">${extension('a:')}</a:extLst>`, source)];
}
