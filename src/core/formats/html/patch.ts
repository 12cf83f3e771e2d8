import { tieOf } from '../../model/texts';
import { positionOf, takesAlt, type Appearance } from '../../model/appearance';
import type { Change, Edit, LongDescriptionEdit, Part, Refusal } from '../../model/document';
import type { SourceReading } from '../../model/page';
import { longDescriptionHtml } from '../../words/long-description';
import { spliced, type Splice } from '../splice';
import { escapeValue, findAttribute, scanAttributes } from './attributes';
import { splicesBeside, textById, textOfHtml } from './beside';
import { byteOffsets } from './byte-offsets';
import { charsetOf, decodeText, encodeText, isAsciiTransparent, withReferences } from './charset';
import { LocatedPage } from './located-page';
import { readSource } from './read-page';
import { refusalBeside, refusalFor, titleRefusalFor } from './refusals';
import { attr } from './tree';
import { collapse, isBlank } from '../../white-space';

export interface PatchedPage {
  bytes: Buffer;
  changes: Change[];
  refusals: Refusal[];
  /** The new page as it reads, where it had to be read to prove it. */
  reading?: SourceReading;
}

/** Attributes that an element is to have, and to lose. */
interface WantedAttributes {
  set: [name: string, value: string][];
  drop: string[];
}

/** Which attributes carry the alt text of an appearance, and what each has to hold. */
function altAttributes(a: Appearance, text: string): WantedAttributes {
  if (!takesAlt(a)) {
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

/**
 * What an edit asks of the attributes.
 *
 * @param tied value of an attribute that ties the picture to others of the page, as it is now
 */
function attributesFor(a: Appearance, edit: Edit, tied: (name: string) => string): WantedAttributes {
  const { set, drop } = edit.text === undefined ? { set: [], drop: [] } : altAttributes(a, edit.text);
  if (edit.title !== undefined && !drop.includes('title')) {
    if (edit.title === '') drop.push('title');
    else set.push(['title', edit.title]);
  }
  if (edit.longDescription === undefined || edit.id === undefined) return { set, drop };
  const { longDescription: wanted, id } = edit;
  for (const name of ['aria-details', 'aria-describedby']) {
    const others = tied(name)
      .split(/\s+/)
      .filter((one) => one !== '' && one !== id);
    const isTied = wanted !== null && tieOf(wanted) === name;
    const value = (isTied ? [...others, id] : others).join(' ');
    if (value === tied(name).trim()) continue;
    if (value === '') drop.push(name);
    else set.push([name, value]);
  }
  return { set, drop };
}

/** Where the start tag of an appearance that stands in the source begins and ends. */
function tagOf({ location }: Appearance): { start: number; end: number } {
  if (location.kind !== 'html') throw new RangeError('It does not stand in the source of an HTML page.');
  return location;
}

/** An appearance of a text that something was put before. */
function movedBy(units: number, a: Appearance): Appearance {
  const { location } = a;
  if (location.kind !== 'html') return a;
  return { ...a, location: { ...location, start: location.start + units, end: location.end + units } };
}

interface Decoded {
  text: string;
  bytes: Buffer;
  charset: string;
  reading: readonly Appearance[];
}

/**
 * Finds the start tags of appearances in the bytes of their page, read as latin1, in which one character is one byte.
 *
 * @returns what gives the range of one by its order
 */
function tagsInBytes(raw: string, { text, bytes, charset, reading }: Decoded, edits: readonly Edit[]) {
  const tags = edits.flatMap(({ order }) => (reading[order]?.location.kind === 'html' ? [tagOf(reading[order])] : []));
  const offsets = byteOffsets(
    text,
    bytes,
    charset,
    tags.flatMap((t) => [t.start, t.end]),
  );
  if (offsets) {
    return (order: number) => {
      const { start, end } = tagOf(reading[order]!);
      return { start: offsets.get(start)!, end: offsets.get(end)! };
    };
  }
  // The n-th picture is the n-th in both readings, since markup is the same bytes in every such encoding.
  const located = readSource(raw).appearances;
  return (order: number) => tagOf(located[order]!);
}

/** The splices that set and drop attributes of one start tag, in the source's own manner. */
function spliceTag(source: string, tag: { start: number; end: number }, wanted: WantedAttributes): Splice[] {
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

/** Why parts of an edit cannot be made to an appearance. */
function refusalsOf(a: Appearance, edit: Edit): Map<keyof Edit, Pick<Refusal, 'part' | 'reason'>> {
  const out = new Map<keyof Edit, Pick<Refusal, 'part' | 'reason'>>();
  const check = (field: keyof Edit, part: Part, reason: Refusal['reason'] | null) => {
    if (edit[field] !== undefined && reason) out.set(field, { part, reason });
  };
  check('text', 'attributes', refusalFor(a));
  check('title', 'attributes', titleRefusalFor(a));
  check('caption', 'caption', refusalBeside(a, 'caption'));
  check('credit', 'credit', refusalBeside(a, 'credit'));
  check('longDescription', 'long-description', refusalBeside(a, 'long-description'));
  return out;
}

/** Whether an edit needs more of the page than start tags. */
const standsBeside = (edit: Edit): boolean =>
  edit.caption !== undefined || edit.credit !== undefined || edit.longDescription !== undefined;

/**
 * Puts texts into a page by replacing only the bytes of the attributes and elements concerned; every other byte stays,
 * whatever the encoding and the line ends.
 *
 * @param known the page as it reads without a byte order mark, where it was read already
 * @throws RangeError when an edit names an appearance that the page does not have
 */
export function patchPage(bytes: Buffer, edits: Edit[], transport?: string, known?: SourceReading): PatchedPage {
  const charset = charsetOf(bytes, transport);
  const text = decodeText(bytes, charset, { keepMark: true });
  const mark = known && text.startsWith('\ufeff') ? 1 : 0;
  const reading = (known ?? readSource(text)).appearances.map((a) => (mark ? movedBy(mark, a) : a));
  const inPlace = isAsciiTransparent(charset);
  const raw = inPlace ? bytes.toString('latin1') : text;
  const tagInRaw = inPlace ? tagsInBytes(raw, { text, bytes, charset, reading }, edits) : null;
  if (!inPlace && !encodeText(text, charset).equals(bytes))
    return {
      bytes,
      changes: [],
      refusals: edits.map((e) => ({
        order: e.order,
        part: 'attributes',
        line: reading[e.order] ? positionOf(reading[e.order]!).line : 0,
        reason: { id: 'refusal.charset', values: { charset } },
      })),
    };

  const encode = (s: string) => (inPlace ? encodeText(s, charset).toString('latin1') : withReferences(s, charset));
  const decode = (s: string) => (inPlace ? decodeText(Buffer.from(s, 'latin1'), charset, { keepMark: true }) : s);
  const page = edits.some(standsBeside) ? new LocatedPage(raw) : null;
  const newline = raw.includes('\r\n') ? '\r\n' : '\n';
  const splices: Splice[] = [];
  const changes: Change[] = [];
  const refusals: Refusal[] = [];
  const taken = new Map<string, string>();
  for (const edit of [...edits].sort((a, b) => a.order - b.order)) {
    const appearance = reading[edit.order];
    if (!appearance) throw new RangeError(`The page has no appearance ${edit.order}.`);
    const { line } = positionOf(appearance);
    const refused = refusalsOf(appearance, edit);
    for (const one of refused.values()) refusals.push({ order: edit.order, line, ...one });
    const wanted: Edit = { ...edit };
    for (const field of refused.keys()) delete wanted[field];
    if (Object.keys(wanted).every((field) => field === 'order' || field === 'id')) continue;

    const tag = tagOf(appearance);
    const place = tagInRaw ? tagInRaw(edit.order) : tag;
    const element = page?.elementAt(place.start);
    const attributes = attributesFor(appearance, wanted, (name) => decode((element && attr(element, name)) ?? ''));
    const before = text.slice(tag.start, tag.end);
    const after = spliced(before, spliceTag(before, { start: 0, end: before.length }, attributes));
    // Attributes that only tie the picture to its long description are a part of that change.
    const isTie = wanted.text === undefined && wanted.title === undefined;
    const tie = isTie && before !== after ? { before, after } : null;
    if (before !== after) {
      for (const s of spliceTag(raw, place, attributes)) splices.push({ ...s, text: encode(s.text) });
      if (!isTie) changes.push({ order: edit.order, part: 'attributes', line, before, after });
    }
    if (!page || !standsBeside(wanted)) continue;
    const { lang } = appearance.context;
    const description = { before: tie ? [tie.before] : [], after: tie ? [tie.after] : [] };
    for (const { part, start, end, text: beside } of splicesBeside(page, place.start, wanted, {
      lang,
      newline,
    })) {
      const encoded = encode(beside);
      const old = raw.slice(start, end);
      if (encoded === old) continue;
      // What several pictures share is written once.
      const key = part === 'long-description' ? `${part} ${edit.id}` : start === end ? null : `${start}`;
      const earlier = key === null ? undefined : taken.get(key);
      if (earlier !== undefined) {
        if (earlier !== encoded && part !== 'long-description')
          refusals.push({ order: edit.order, part, line, reason: { id: 'refusal.shared' } });
        continue;
      }
      if (key !== null) taken.set(key, encoded);
      splices.push({ start, end, text: encoded });
      const shown = { before: decode(old).trim(), after: beside.trim() };
      if (part !== 'long-description') changes.push({ order: edit.order, part, line, ...shown });
      else {
        description.before.push(shown.before);
        description.after.push(shown.after);
      }
    }
    const [was, becomes] = [description.before, description.after].map((lines) => lines.filter(Boolean).join('\n'));
    if (was !== becomes)
      changes.push({ order: edit.order, part: 'long-description', line, before: was!, after: becomes! });
  }
  const patched = spliced(raw, splices);
  const after = inPlace ? Buffer.from(patched, 'latin1') : encodeText(patched, charset);
  const others = edits.filter((e) => e.title !== undefined || standsBeside(e));
  if (others.length === 0) return { bytes: after, changes, refusals };
  const newText = decodeText(after, charset, { keepMark: false });
  const newReading = readSource(newText);
  for (const { order, part } of unproven(newText, newReading, others)) {
    if (refusals.some((r) => r.order === order && r.part === part)) continue;
    refusals.push({ order, part, line: positionOf(reading[order]!).line, reason: { id: 'refusal.not-read' } });
  }
  return { bytes: after, changes, refusals, reading: newReading };
}

/** What a page, read again, does not say although it was to say it; alt texts are proved by whoever knows what is heard. */
function unproven(
  source: string,
  { appearances: read }: SourceReading,
  others: readonly Edit[],
): Pick<Refusal, 'order' | 'part'>[] {
  const page = others.some((e) => e.longDescription) ? new LocatedPage(source) : null;
  return others.flatMap(({ order, text, title, caption, longDescription, id }) => {
    const a = read[order];
    const out: Pick<Refusal, 'order' | 'part'>[] = [];
    // What becomes decorative loses its title.
    const wantedTitle = text === '' ? '' : title;
    if (title !== undefined && (a?.markup.title ?? '') !== wantedTitle) out.push({ order, part: 'attributes' });
    if (caption !== undefined && (a?.context.caption ?? '') !== collapse(caption)) out.push({ order, part: 'caption' });
    if (longDescription && !(page && id && a && saysDescription(page, id, longDescription, a)))
      out.push({ order, part: 'long-description' });
    return out;
  });
}

/** Whether a page ties a picture to its long description, and says it where that stands on the page itself. */
function saysDescription(page: LocatedPage, id: string, wanted: LongDescriptionEdit, a: Appearance): boolean {
  const isTied = a.accessible.descriptions.some((d) => d.target === id && d.leads === 'to text');
  if (!isTied || wanted.href !== null) return isTied;
  return (textById(page, id) ?? '').endsWith(textOfHtml(longDescriptionHtml(wanted.text)));
}
