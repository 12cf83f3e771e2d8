/** One attribute as it stands in a start tag; offsets count from the start of the source. */
export interface SourceAttribute {
  /** As written, case kept. */
  name: string;
  start: number;
  end: number;
  /** The raw value (character references not decoded) without its quotes; null for `alt` alone. */
  raw: string | null;
  quote: '"' | "'" | '';
  valueStart: number;
  valueEnd: number;
}

const SPACE = /[ \t\n\r\f]/;

/**
 * Attributes of the start tag that begins at `start`, by the tokenizer states of the HTML Living
 * Standard (13.2.5.32 to 13.2.5.40). Duplicates are kept: the first of a name is the one that counts.
 */
export function scanAttributes(source: string, start: number, end: number): SourceAttribute[] {
  const out: SourceAttribute[] = [];
  let i = start + 1;
  while (i < end && !SPACE.test(source[i]!) && source[i] !== '/' && source[i] !== '>') i++;
  while (i < end) {
    while (i < end && (SPACE.test(source[i]!) || source[i] === '/')) i++;
    if (i >= end || source[i] === '>') break;
    const nameStart = i++;
    while (i < end && !SPACE.test(source[i]!) && !'/>='.includes(source[i]!)) i++;
    const nameEnd = i;
    let j = i;
    while (j < end && SPACE.test(source[j]!)) j++;
    const attribute: SourceAttribute = {
      name: source.slice(nameStart, nameEnd),
      start: nameStart,
      end: nameEnd,
      raw: null,
      quote: '',
      valueStart: nameEnd,
      valueEnd: nameEnd,
    };
    if (source[j] === '=') {
      j++;
      while (j < end && SPACE.test(source[j]!)) j++;
      const quote = source[j];
      if (quote === '"' || quote === "'") {
        const close = source.indexOf(quote, j + 1);
        attribute.quote = quote;
        attribute.valueStart = j + 1;
        attribute.valueEnd = close < 0 || close >= end ? end : close;
        attribute.end = Math.min(attribute.valueEnd + 1, end);
      } else {
        attribute.valueStart = j;
        while (j < end && !SPACE.test(source[j]!) && source[j] !== '>') j++;
        attribute.valueEnd = j;
        attribute.end = j;
      }
      attribute.raw = source.slice(attribute.valueStart, attribute.valueEnd);
      i = attribute.end;
    }
    out.push(attribute);
  }
  return out;
}

/** The first attribute of that name, compared as HTML does, without regard to ASCII case. */
export function findAttribute(attributes: SourceAttribute[], name: string): SourceAttribute | undefined {
  return attributes.find((a) => a.name.toLowerCase() === name);
}

/** Text in markup: ampersands and angle brackets become character references. */
export const escapeText = (text: string): string =>
  text
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/\u00a0/g, '&nbsp;');

/** A value in an attribute: the quote in use becomes a character reference as well. */
export function escapeValue(text: string, quote: string): string {
  const safe = escapeText(text);
  return quote === "'" ? safe.replace(/'/g, '&#39;') : safe.replace(/"/g, '&quot;');
}
