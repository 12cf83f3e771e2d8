import { SaxesParser } from 'saxes';
import { DocumentError } from '../document-error';

/** Elements within one another, and elements in all; a hostile file has more. */
const MAX_DEPTH = 500;
const MAX_ELEMENTS = 3_000_000;

/** An element with the place of its tags in the decoded source, in UTF-16 code units, half open. */
export interface XmlElement {
  /** As written, with its prefix. */
  name: string;
  prefix: string;
  local: string;
  namespace: string;
  /** By their names as written. */
  attributes: Record<string, string>;
  start: number;
  end: number;
  /** Of its end tag; both the end of the start tag of an empty element. */
  closeStart: number;
  closeEnd: number;
  isEmpty: boolean;
  parent: XmlElement | null;
  /** In document order. */
  content: (XmlElement | string)[];
}

/** Named entities beside the five of XML; a document's own are never expanded. */
export interface XmlOptions {
  entities?: Readonly<Record<string, string>>;
}

/**
 * Parses an XML file into a light tree with exact offsets. No DTD is read and nothing is fetched.
 *
 * @param part its name, for errors
 * @returns the document; its root element is its only element
 * @throws DocumentError when it is not well-formed, has an internal DTD subset, or is made to exhaust the reader
 */
export function parseXml(text: string, part: string, { entities }: XmlOptions = {}): XmlElement {
  const parser = new SaxesParser({ xmlns: true, position: true });
  if (entities) Object.assign(parser.ENTITIES, entities);
  const document = element('#document', { start: 0, end: 0, closeStart: text.length, closeEnd: text.length });
  let open = document;
  let [depth, count] = [0, 0];
  const refuse = (id: string): never => {
    throw new DocumentError({ id, values: { part } });
  };
  parser.on('error', () => refuse('document.malformed'));
  parser.on('doctype', (doctype) => {
    if (doctype.includes('[')) refuse('document.dtd');
  });
  parser.on('opentag', (tag) => {
    const end = parser.position;
    const start = text.lastIndexOf('<', end - 1);
    if (++count > MAX_ELEMENTS || ++depth > MAX_DEPTH) refuse('document.too-deep');
    const own = element(tag.name, { start, end, closeStart: end, closeEnd: end });
    own.prefix = tag.prefix;
    own.local = tag.local;
    own.namespace = tag.uri;
    own.isEmpty = tag.isSelfClosing;
    for (const name of Object.keys(tag.attributes)) own.attributes[name] = tag.attributes[name]!.value;
    own.parent = open;
    open.content.push(own);
    open = own;
  });
  const addText = (chunk: string) => void open.content.push(chunk);
  parser.on('text', addText);
  parser.on('cdata', addText);
  parser.on('closetag', () => {
    depth--;
    if (!open.isEmpty) {
      open.closeEnd = parser.position;
      open.closeStart = text.lastIndexOf('</', parser.position - 1);
    }
    open = open.parent!;
  });
  parser.write(text).close();
  if (!rootOf(document)) refuse('document.malformed');
  return document;
}

function element(name: string, at: Pick<XmlElement, 'start' | 'end' | 'closeStart' | 'closeEnd'>): XmlElement {
  // Attributes are asked for by names of a hostile file.
  const attributes = Object.create(null) as Record<string, string>;
  return { name, prefix: '', local: name, namespace: '', attributes, ...at, isEmpty: false, parent: null, content: [] };
}

export const isXmlElement = (node: XmlElement | string): node is XmlElement => typeof node !== 'string';

export const childrenOf = (e: XmlElement): XmlElement[] => e.content.filter(isXmlElement);

export const rootOf = (document: XmlElement): XmlElement => childrenOf(document)[0]!;

/** The first child of a local name, and of a namespace where that is given. */
export const childOf = (e: XmlElement, local: string, namespace?: string): XmlElement | undefined =>
  childrenOf(e).find((c) => c.local === local && (namespace === undefined || c.namespace === namespace));

/** Every element below another, in document order. */
export function* descendantsOf(e: XmlElement): Generator<XmlElement> {
  const stack = childrenOf(e).reverse();
  for (let next = stack.pop(); next; next = stack.pop()) {
    yield next;
    for (let i = next.content.length - 1; i >= 0; i--) {
      const child = next.content[i]!;
      if (isXmlElement(child)) stack.push(child);
    }
  }
}

/** The first element of a local name below another. */
export function findBelow(e: XmlElement, local: string): XmlElement | undefined {
  for (const found of descendantsOf(e)) if (found.local === local) return found;
  return undefined;
}

/** What an element stands in, the nearest first. */
export function ancestorsOf(e: XmlElement): XmlElement[] {
  const out: XmlElement[] = [];
  for (let p = e.parent; p && p.name !== '#document'; p = p.parent) out.push(p);
  return out;
}

/** The text of an element and of all below it. */
export function textBelow(e: XmlElement): string {
  let out = '';
  for (const c of e.content) out += isXmlElement(c) ? textBelow(c) : c;
  return out;
}

/** An attribute by its local name, whatever its prefix; null where there is none. */
export function attributeOf(e: XmlElement, local: string): string | null {
  for (const [name, value] of Object.entries(e.attributes))
    if (name === local || name.endsWith(`:${local}`)) return value;
  return null;
}
