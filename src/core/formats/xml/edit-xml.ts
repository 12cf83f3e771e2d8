import type { Splice } from '../splice';
import type { XmlElement } from './xml-tree';

/** What XML 1.0 (2.2) has no way to write. */
const UNWRITABLE = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g;

const escaped = (text: string) =>
  text.replace(UNWRITABLE, '').replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');

/** Text as the value of an attribute in these quotes. */
export const xmlValue = (text: string, quote: '"' | "'" = '"'): string =>
  escaped(text)
    .replace(quote === '"' ? /"/g : /'/g, quote === '"' ? '&quot;' : '&apos;')
    .replace(/[\n\r\t]/g, (c) => `&#${c.charCodeAt(0)};`);

/** Text as the content of an element. */
export const xmlText = (text: string): string => escaped(text).replace(/\r/g, '&#13;');

interface AttributeRange {
  /** From the white space before its name to its closing quote. */
  start: number;
  end: number;
  valueStart: number;
  valueEnd: number;
  quote: '"' | "'";
}

/** Where an attribute of a start tag stands; null where there is none. */
export function attributeRange(source: string, e: XmlElement, name: string): AttributeRange | null {
  const tag = source.slice(e.start, e.end);
  for (const m of tag.matchAll(/\s([^\s=<>"'/]+)\s*=\s*("[^"]*"|'[^']*')/g)) {
    if (m[1] !== name) continue;
    const start = e.start + m.index;
    const end = start + m[0].length;
    const value = m[2]!;
    return { start, end, valueStart: end - value.length + 1, valueEnd: end - 1, quote: value[0] as '"' | "'" };
  }
  return null;
}

/**
 * Gives an attribute a value, or takes it away.
 *
 * @param after name of the attribute that a new one comes after; else it comes first
 */
export function setAttribute(
  source: string,
  e: XmlElement,
  name: string,
  value: string | null,
  after?: string,
): Splice[] {
  const found = attributeRange(source, e, name);
  if (value === null) return found ? [{ start: found.start, end: found.end, text: '' }] : [];
  if (found) {
    const { valueStart: start, valueEnd: end, quote } = found;
    return [{ start, end, text: xmlValue(value, quote) }];
  }
  const at = (after ? attributeRange(source, e, after)?.end : undefined) ?? e.start + 1 + e.name.length;
  return [{ start: at, end: at, text: ` ${name}="${xmlValue(value)}"` }];
}

/** Gives an element other content. */
export function setContent(e: XmlElement, markup: string, source: string): Splice {
  if (!e.isEmpty) return { start: e.end, end: e.closeStart, text: markup };
  const slash = source.lastIndexOf('/', e.end);
  return { start: slash, end: e.end, text: `>${markup}</${e.name}>` };
}

/** Adds markup at the end of the content of an element. */
export function append(e: XmlElement, markup: string, source: string): Splice {
  return e.isEmpty ? setContent(e, markup, source) : { start: e.closeStart, end: e.closeStart, text: markup };
}
