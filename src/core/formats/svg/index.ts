import { gunzipSync } from 'node:zlib';
import type { Change, DocumentFormat, Edit, Refusal, WrittenDocument } from '../../model/document';
import { MOST_APPEARANCES } from '../../model/page';
import { DocumentError } from '../document-error';
import { bufferOf } from '../heads';
import { lineStarts, position } from '../html/source-position';
import { PageBuilder } from '../page-builder';
import { refusedParts } from '../refused-parts';
import { spliced, type Splice } from '../splice';
import { setAttribute, setContent, xmlText } from '../xml/edit-xml';
import { decodeXml, type XmlSource } from '../xml/xml-part';
import { attributeOf, childOf, descendantsOf, parseXml, rootOf, textBelow, type XmlElement } from '../xml/xml-tree';
import { labelsWithin, writeLabel } from './labels';
import { isBlank } from '../../white-space';

/** Bytes of a compressed drawing once it is unpacked. */
const LARGEST = 32 * 1024 * 1024;

interface Drawing extends XmlSource {
  root: XmlElement;
  /** The root, and the pictures that it shows. */
  elements: XmlElement[];
}

function open(bytes: Buffer): Drawing {
  const source = decodeXml(unpacked(bytes), 'SVG');
  const root = rootOf(parseXml(source.text, 'SVG'));
  if (root.local !== 'svg') throw new DocumentError({ id: 'document.not-svg' });
  const images = [...descendantsOf(root)].filter((e) => e.local === 'image' && attributeOf(e, 'href') !== null);
  return { ...source, root, elements: [root, ...images].slice(0, MOST_APPEARANCES) };
}

const isPacked = (bytes: Buffer) => bytes[0] === 0x1f && bytes[1] === 0x8b;

function unpacked(bytes: Buffer): Buffer {
  if (!isPacked(bytes)) return bytes;
  try {
    return gunzipSync(bytes, { maxOutputLength: LARGEST });
  } catch {
    throw new DocumentError({ id: 'document.damaged' });
  }
}

/** The name of an element: what it is labelled by, its label, its title, then its description (SVG-AAM 1.0, 5.1). */
function namesOf(e: XmlElement, root: XmlElement): { alt: string | null; title: string | null } {
  const labelled = labelsWithin(root, e);
  const text = (local: string) => {
    const found = childOf(e, local);
    return found ? textBelow(found).trim() : null;
  };
  const [label, title, desc] = [e.attributes['aria-label'] ?? null, text('title'), text('desc')];
  const own = labelled.map((other) => textBelow(other).trim()).join(' ');
  const alt = !isBlank(own) ? own : !isBlank(label) ? label : !isBlank(title) ? title : (desc ?? title);
  return { alt, title: null };
}

function read(bytes: Buffer) {
  const { root, elements, text } = open(bytes);
  const page = new PageBuilder();
  const lines = lineStarts(text);
  elements.forEach((e, i) => {
    const [line, column] = position(e.start, lines);
    page.add({
      element: i === 0 ? 'svg' : 'picture',
      ...namesOf(e, root),
      isDecorative: false,
      src: i === 0 ? null : attributeOf(e, 'href'),
      svg: i === 0 ? text.slice(root.start, root.closeEnd) : null,
      place: i === 0 ? 'svg' : `svg > image ${e.attributes['id'] ?? ''}`.trim(),
      location: { kind: 'html', start: e.start, end: e.end, line, column },
    });
  });
  const title = childOf(root, 'title');
  const lang = root.attributes['xml:lang'] ?? root.attributes['lang'] ?? null;
  return page.build({ title: title ? textBelow(title) : '', lang });
}

function write(bytes: Buffer, edits: readonly Edit[]): WrittenDocument {
  const drawing = open(bytes);
  const reading = read(bytes);
  const changes: Change[] = [];
  const refusals: Refusal[] = [];
  const splices: Splice[] = [];
  for (const edit of edits) {
    const { order, text } = edit;
    const element = drawing.elements[order];
    const a = reading.appearances[order];
    if (!element || !a) throw new RangeError(`The drawing has no appearance ${order}.`);
    const line = a.location.kind === 'html' ? a.location.line : 0;
    const refuse = (part: Refusal['part'], id: string) => refusals.push({ order, line, part, reason: { id } });
    for (const refused of refusedParts(edit)) refusals.push({ order, line, ...refused });
    if (text === undefined) continue;
    if (text === '') {
      refuse('attributes', 'refusal.svg-decorative');
      continue;
    }
    const own = wordSplices(drawing, element, text);
    const [before, after] = [drawing.text, spliced(drawing.text, own)];
    if (before === after) continue;
    splices.push(...own);
    const start = element.start;
    const shown = (source: string) => source.slice(start, source.indexOf('>', start) + 300);
    const words = { before: a.accessible.name, after: text };
    changes.push({ order, part: 'attributes', line, before: shown(before), after: shown(after), words });
  }
  if (isPacked(bytes) && splices.length > 0) throw new DocumentError({ id: 'document.svgz' });
  return { bytes: splices.length > 0 ? drawing.encode(spliced(drawing.text, splices)) : bytes, changes, refusals };
}

/** Words of a drawing go where its name comes from, else into a title of its own. */
function wordSplices({ text: source, root }: Drawing, e: XmlElement, text: string): Splice[] {
  const role = e === root && e.attributes['role'] === undefined ? setAttribute(source, e, 'role', 'img') : [];
  const labels = labelsWithin(root, e);
  if (labels.length > 0) return [...role, ...writeLabel(source, e, labels, xmlText(text))];
  if (!isBlank(e.attributes['aria-label'])) return [...role, ...setAttribute(source, e, 'aria-label', text)];
  const title = childOf(e, 'title');
  if (title) return [...role, setContent(title, xmlText(text), source)];
  const name = e.prefix ? `${e.prefix}:title` : 'title';
  const markup = `<${name}>${xmlText(text)}</${name}>`;
  return e.isEmpty ? [...role, setContent(e, markup, source)] : [...role, { start: e.end, end: e.end, text: markup }];
}

/** SVG as a document of its own (SVG 2; names by SVG-AAM 1.0). */
export const svg: DocumentFormat = {
  id: 'svg',
  matches: ({ name, type }) => /\.svgz?$/i.test(name) || (type !== null && /^image\/svg\+xml\b/i.test(type)),
  async read(bytes) {
    return { pages: [{ fragment: null, reading: read(bufferOf(bytes)) }], notes: [] };
  },
  async write(bytes, edits) {
    return write(bufferOf(bytes), edits);
  },
};
