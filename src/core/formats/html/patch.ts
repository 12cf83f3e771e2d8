import type { Message } from '../../model/message';
import { positionOf, takesNoWords, type Appearance } from '../../model/appearance';
import type { Change, Edit, Refusal } from '../../model/document';
import { readSource } from './read-page';
import { findAttribute, scanAttributes } from './attributes';
import { charsetOf, decodeText, encodeText, isAsciiTransparent, withReferences } from './charset';
import { isBlank } from './tree';

export interface PatchedPage {
  bytes: Buffer;
  changes: Change[];
  refusals: Refusal[];
}

interface Splice {
  start: number;
  end: number;
  text: string;
}

/** Words in markup: ampersands, angle brackets and the quote in use become character references. */
function escapeValue(text: string, quote: string): string {
  const safe = text
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/\u00a0/g, '&nbsp;');
  return quote === "'" ? safe.replace(/'/g, '&#39;') : safe.replace(/"/g, '&quot;');
}

/** Which attributes carry the words of an appearance, and what each has to hold. */
function attributesFor(a: Appearance, text: string): { set: [name: string, value: string][]; drop: string[] } {
  const takesAlt = a.element === 'img' || a.element === 'area' || a.element === 'input';
  if (!takesAlt) {
    if (text === '') return { set: [['aria-hidden', 'true']], drop: ['aria-label'] };
    const role: [string, string][] = a.element === 'svg' && a.accessible.role !== 'image' ? [['role', 'img']] : [];
    return { set: [['aria-label', text], ...role], drop: [] };
  }
  // A title or a label would still be heard beside an empty alt.
  if (text === '')
    return { set: [['alt', '']], drop: isBlank(a.markup.ariaLabel) ? ['title'] : ['aria-label', 'title'] };
  // A picture that is marked as presentational would keep its words to itself.
  const drop = a.accessible.role === 'none' ? ['role'] : [];
  const set: [string, string][] = [['alt', text]];
  if (!isBlank(a.markup.ariaLabel)) set.push(['aria-label', text]);
  return { set, drop };
}

/** Why no words can be put into the source for an appearance; null when they can. */
export function refusalFor(a: Appearance): Message | null {
  if (a.location.kind === 'script') return { id: 'refusal.script' };
  if (takesNoWords(a)) return { id: `refusal.${a.element}` };
  if (a.markup.templated) return { id: 'refusal.template' };
  if (a.accessible.nameSource === 'aria-labelledby') return { id: 'refusal.labelledby' };
  return null;
}

/** Where the start tag of an appearance that stands in the source begins and ends. */
function tagOf({ location }: Appearance): { start: number; end: number } {
  if (location.kind !== 'html') throw new RangeError('It does not stand in the source of an HTML page.');
  return location;
}

/** The splices that set and drop attributes of one start tag, in the source's own manner. */
function spliceTag(
  source: string,
  tag: { start: number; end: number },
  wanted: ReturnType<typeof attributesFor>,
): Splice[] {
  const attributes = scanAttributes(source, tag.start, tag.end);
  const splices: Splice[] = [];
  const added: string[] = [];
  const raw = source.slice(tag.start, tag.end);
  const upper = /^<[A-Z]+$/.test(/^<[a-zA-Z]+/.exec(raw)![0]) && !attributes.some((a) => /[a-z]/.test(a.name));
  for (const [name, value] of wanted.set) {
    const found = findAttribute(attributes, name);
    if (!found) {
      added.push(` ${upper ? name.toUpperCase() : name}="${escapeValue(value, '"')}"`);
    } else if (found.quote) {
      splices.push({ start: found.valueStart, end: found.valueEnd, text: escapeValue(value, found.quote) });
    } else {
      const glue = /[\s>/]/.test(source[found.end] ?? '>') ? '' : ' ';
      splices.push({
        start: found.start,
        end: found.end,
        text: `${found.name}="${escapeValue(value, '"')}"${glue}`,
      });
    }
  }
  for (const name of wanted.drop) {
    const found = findAttribute(attributes, name);
    if (!found) continue;
    const start = /\s/.test(source[found.start - 1] ?? '') ? found.start - 1 : found.start;
    splices.push({ start, end: found.end, text: '' });
  }
  if (added.length > 0) {
    const src = findAttribute(attributes, 'src');
    const at = src?.end ?? tag.start + /^<[^\s/>]+/.exec(raw)![0].length;
    const glue = /[\s>/]/.test(source[at] ?? '>') ? '' : ' ';
    splices.push({ start: at, end: at, text: added.join('') + glue });
  }
  return splices;
}

/**
 * Puts words into a page by replacing only the bytes of the attributes concerned; every other byte stays,
 * whatever the encoding and the line ends.
 *
 * @throws RangeError when an edit names an appearance that the page does not have
 */
export function patchPage(bytes: Buffer, edits: Edit[], transport?: string): PatchedPage {
  const charset = charsetOf(bytes, transport);
  const text = decodeText(bytes, charset, { keepMark: true });
  const reading = readSource(text).appearances;
  // Read as latin1, one character is one byte, so the offsets of tags are byte offsets; the n-th picture is
  // the n-th picture in both readings, since markup is the same bytes in every such encoding.
  const inPlace = isAsciiTransparent(charset);
  const raw = inPlace ? bytes.toString('latin1') : text;
  const located = inPlace ? readSource(raw).appearances : reading;
  if (!inPlace && !encodeText(text, charset).equals(bytes))
    return {
      bytes,
      changes: [],
      refusals: edits.map((e) => ({
        order: e.order,
        line: reading[e.order] ? positionOf(reading[e.order]!).line : 0,
        reason: { id: 'refusal.charset', values: { charset } },
      })),
    };

  const encode = (s: string) => (inPlace ? encodeText(s, charset).toString('latin1') : withReferences(s, charset));
  const splices: Splice[] = [];
  const changes: Change[] = [];
  const refusals: Refusal[] = [];
  for (const edit of [...edits].sort((a, b) => a.order - b.order)) {
    const appearance = reading[edit.order];
    const place = located[edit.order];
    if (!appearance || !place) throw new RangeError(`The page has no appearance ${edit.order}.`);
    const { line } = positionOf(appearance);
    const reason = refusalFor(appearance);
    if (reason) {
      refusals.push({ order: edit.order, line, reason });
      continue;
    }
    const wanted = attributesFor(appearance, edit.text);
    const own = spliceTag(raw, tagOf(place), wanted).map((s) => ({ ...s, text: encode(s.text) }));
    const tag = tagOf(appearance);
    const before = text.slice(tag.start, tag.end);
    const after = apply(before, spliceTag(before, { start: 0, end: before.length }, wanted));
    if (before === after) continue;
    for (const splice of own) splices.push(splice);
    changes.push({ order: edit.order, line, before, after });
  }
  const patched = apply(raw, splices);
  return {
    bytes: inPlace ? Buffer.from(patched, 'latin1') : encodeText(patched, charset),
    changes,
    refusals,
  };
}

function apply(source: string, splices: Splice[]): string {
  let out = '';
  let at = 0;
  for (const s of [...splices].sort((a, b) => a.start - b.start || a.end - b.end)) {
    out += source.slice(at, s.start) + s.text;
    at = s.end;
  }
  return out + source.slice(at);
}
