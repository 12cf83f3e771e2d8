import { parseFragment } from 'parse5';
import type { Edit, LongDescriptionEdit, Part } from '../../model/document';
import { CREDIT_SEPARATOR, creditLine, licenceName, type Credit } from '../../model/credit';
import { longDescriptionHtml } from '../../words/long-description';
import { longDescriptionLabel } from '../../words/long-description-label';
import { escapeText, escapeValue } from './attributes';
import { blockAround } from './block-around';
import { captionElementOf } from './caption';
import { CREDIT_CLASS, DESCRIPTION_CLASS, creditBelow, hasClass } from './credit-line';
import type { LocatedPage, Range } from './located-page';
import { elementAbove, isElement, textOf, type Element, type Node } from './tree';

/** Something beside a picture: what stands in the source now, and what is to stand there. */
export interface BesideSplice extends Range {
  part: Exclude<Part, 'attributes'>;
  text: string;
}

/** Where a piece of markup goes that is not there yet, and what keeps it in line with what is around it. */
interface Gap {
  at: number;
  before: string;
  after: string;
}

/**
 * What has to be spliced into the source around the start tag of a picture for its caption, its credit line and its long
 * description.
 *
 * @param start of the start tag of the picture
 * @param lang of the place, for what stands in a summary or a link
 * @param newline as the page ends its lines
 */
export function splicesBeside(
  page: LocatedPage,
  start: number,
  edit: Edit,
  { lang, newline }: { lang: string | null; newline: string },
): BesideSplice[] {
  const picture = page.elementAt(start);
  const block = picture && blockAround(picture);
  if (!picture || !block) return [];
  const below = (): Gap => gapAfter(page, block, newline);
  const out: (BesideSplice | null)[] = [];
  if (edit.credit !== undefined) out.push(creditSplice(page, block, edit.credit, below()));
  if (edit.longDescription !== undefined && edit.id !== undefined) {
    const { longDescription: wanted, id } = edit;
    const html = wanted && blockOf(id, wanted, lang, page.headingLevelAt(picture));
    out.push(blockSplice(page, 'long-description', page.byId(id), DESCRIPTION_CLASS, html, below()));
  }
  if (edit.caption !== undefined) out.push(captionSplice(page, picture, edit.caption, newline));
  return out.filter((s) => s !== null);
}

function gapAfter(page: LocatedPage, block: Element, newline: string): Gap {
  const indent = page.indentOf(block);
  return { at: page.rangeOf(block)?.end ?? 0, before: indent === null ? '' : newline + indent, after: '' };
}

/** The markup of a long description, or of the link to it. */
function blockOf(id: string, wanted: LongDescriptionEdit, lang: string | null, level: number): string {
  const label = escapeText(longDescriptionLabel(wanted.name, lang));
  const open = (tag: string) => `<${tag} id="${escapeValue(id, '"')}" class="${DESCRIPTION_CLASS}">`;
  if (wanted.href !== null) return `${open('p')}<a href="${escapeValue(wanted.href, '"')}">${label}</a></p>`;
  const html = longDescriptionHtml(wanted.text, level);
  return wanted.stand === 'below'
    ? `${open('div')}\n${html}\n</div>`
    : `${open('details')}<summary>${label}</summary>\n${html}\n</details>`;
}

/** Replaces an element that was delivered, takes it away, or puts a new one into the gap; null when nothing changes. */
function blockSplice(
  page: LocatedPage,
  part: BesideSplice['part'],
  there: Element | undefined,
  className: string,
  html: string | null,
  gap: Gap,
): BesideSplice | null {
  const isOurs = there && hasClass(there, className);
  const range = isOurs ? page.rangeOf(there) : undefined;
  if (range) return { part, ...range, text: html ?? '' };
  return html === null ? null : { part, start: gap.at, end: gap.at, text: gap.before + html + gap.after };
}

function creditSplice(page: LocatedPage, block: Element, credit: Credit | null, gap: Gap): BesideSplice | null {
  const html =
    credit && creditLine(credit) ? `<p class="${CREDIT_CLASS}"><small>${creditHtml(credit)}</small></p>` : null;
  return blockSplice(page, 'credit', creditBelow(block), CREDIT_CLASS, html, gap);
}

/** The credit line with its source and its licence as links, where they are addresses; its note stands last. */
function creditHtml(credit: Credit): string {
  const parts = creditLine({ ...credit, source: '', licence: '', note: '' });
  const link = (address: string, words: string, rel = '') =>
    /^https?:\/\//i.test(address)
      ? `<a${rel} href="${escapeValue(address, '"')}">${escapeText(words)}</a>`
      : escapeText(words);
  const source = creditLine({ credit: '', licence: '', source: credit.source });
  return [
    parts && escapeText(parts),
    source && link(credit.source, source),
    credit.licence && link(credit.licence, licenceName(credit.licence), ' rel="license"'),
    credit.note && escapeText(credit.note),
  ]
    .filter(Boolean)
    .join(CREDIT_SEPARATOR);
}

function captionSplice(page: LocatedPage, picture: Element, text: string, newline: string): BesideSplice | null {
  const figure = figureAround(picture);
  const caption = captionElementOf(picture, figure);
  const part = 'caption';
  if (!caption) {
    const inside = figure && page.innerRangeOf(figure);
    if (!figure || !inside || text === '') return null;
    // A `figcaption` stands first or last in its figure (HTML Living Standard 4.4.12).
    const last = figure.childNodes.filter(isElement).at(-1);
    const at = last ? (page.rangeOf(last)?.end ?? inside.end) : inside.end;
    const indent = last ? page.indentOf(last) : null;
    const lead = indent === null ? '' : newline + indent;
    return { part, start: at, end: at, text: `${lead}<figcaption>${escapeText(text)}</figcaption>` };
  }
  if (text === '') {
    const range = page.rangeOf(caption.element);
    return range ? { part, ...range, text: '' } : null;
  }
  const range = page.innerRangeOf(caption.holder);
  return range ? { part, ...range, text: escapeText(text) } : null;
}

function figureAround(picture: Element): Element | null {
  let figure = elementAbove(picture);
  while (figure && figure.tagName !== 'figure') figure = elementAbove(figure);
  return figure;
}

/** The text of an element by its id, to prove that it says what was delivered; null where there is none. */
export function textById(page: LocatedPage, id: string): string | null {
  const element = page.byId(id);
  return element ? plainText(element) : null;
}

/** The text of some markup, as {@link textById} gives it. */
export const textOfHtml = (html: string): string => plainText(parseFragment(html));

const plainText = (root: Node): string => textOf(root).replace(/\s+/g, ' ').trim();
