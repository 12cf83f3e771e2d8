import type { CaptionSource } from '../../model/appearance';
import { appearanceElement } from './appearance-element';
import { attr, descendants, elementAbove, isElement, isText, textOf, type Element, type Node } from './tree';
import { collapse, isBlank } from '../../white-space';

/** The element with the caption of a picture, and whether a text can take its place without loss. */
export interface CaptionElement {
  element: Element;
  from: CaptionSource;
  /** Where its text stands: itself, or the one element that holds all of it. */
  holder: Element;
  isPlain: boolean;
}

/** How a caption is recognised: the first that there is counts. */
const FINDERS: readonly [CaptionSource, (around: Surroundings, figure: Element | null) => Element | null][] = [
  ['figcaption', (_, figure) => figure && figcaptionOf(figure)],
  ['caption', ({ picture }) => tableCaptionOf(picture)],
  ['definition', (around) => definitionOf(around)],
  ['class', (around) => namedCaptionOf(around)],
  ['label', (around) => numberedCaptionOf(around)],
  ['block', (around) => shortBlockOf(around)],
];

/** The blocks around a picture, each looked through once, whatever is looked for in it. */
class Surroundings {
  private readonly small = new Map<Element, Element[] | null>();

  constructor(readonly picture: Element) {}

  /** The elements of a block that holds the picture and no other one, and not much else; null where it holds more. */
  within(block: Element): Element[] | null {
    let known = this.small.get(block);
    if (known === undefined) this.small.set(block, (known = smallBlock(block, this.picture)));
    return known;
  }
}

/** The caption of a picture; null where none is found. */
export function captionElementOf(picture: Element, figure: Element | null): CaptionElement | null {
  const around = new Surroundings(picture);
  for (const [from, find] of FINDERS) {
    const element = find(around, figure);
    if (element) return { element, from, ...holderOf(element) };
  }
  return null;
}

/** What a caption says; anchors that lead to it are no part of it. */
export function captionText({ element }: CaptionElement): string | null {
  const isAnchor = (n: Element) => n.tagName === 'a' && !/[\p{L}\p{N}]/u.test(textOf(n));
  const text = descendants(element, { skip: isAnchor })
    .map((n) => (isText(n) ? n.value : ''))
    .join('');
  const caption = collapse(text);
  // “[D]” leads to a long description.
  return /[\p{L}\p{N}]{2}/u.test(caption) ? caption : null;
}

const WRAPPERS = new Set(['p', 'span', 'div', 'small', 'em', 'strong', 'b', 'i', 'cite']);

function holderOf(element: Element): Pick<CaptionElement, 'holder' | 'isPlain'> {
  let holder = element;
  for (;;) {
    const parts = holder.childNodes.filter((n) => !isText(n) || !isBlank(n.value));
    const [only] = parts;
    if (parts.length === 1 && only && isElement(only) && WRAPPERS.has(only.tagName)) holder = only;
    else return { holder, isPlain: parts.every(isText) };
  }
}

function figcaptionOf(figure: Element): Element | null {
  // Of a figure in the figure, the caption is its own.
  const skip = (n: Element) => n.tagName === 'figure';
  for (const n of descendants(figure, { skip })) if (isElement(n) && n.tagName === 'figcaption') return n;
  return null;
}

/** Elements between a picture and what holds it with its caption. */
const MOST_LEVELS = 9;

/** Pictures of two in one block share what is said there: it is no caption of one of them. */
const isPicture = (n: Element): boolean => {
  const kind = appearanceElement(n);
  return kind !== null && kind !== 'source' && kind !== 'area';
};

/** The `caption` of a table that shows the picture and nothing else. */
function tableCaptionOf(picture: Element): Element | null {
  let table = elementAbove(picture);
  for (let up = 0; table && table.tagName !== 'table'; up++) table = up < MOST_LEVELS ? elementAbove(table) : null;
  if (!table || table.childNodes.length > MOST_NODES) return null;
  const caption = table.childNodes.find((n): n is Element => isElement(n) && n.tagName === 'caption');
  if (!caption) return null;
  const nodes = nodesOf(table, (e) => e === caption);
  if (nodes === null) return null;
  for (const n of nodes) {
    if (isText(n) && !isBlank(n.value)) return null;
    if (isElement(n) && n !== picture && (n.tagName === 'table' || isPicture(n))) return null;
  }
  return caption;
}

/** UTF-16 code units of a `dd` that says what a picture is; behind a longer one, the picture is a bullet. */
const MOST_TERM = 160;

/** The `dd` of a `dt` that the picture is all of. */
function definitionOf(around: Surroundings): Element | null {
  let term = elementAbove(around.picture);
  for (let up = 0; term && term.tagName !== 'dt'; up++) term = up < MOST_LEVELS ? elementAbove(term) : null;
  if (!term || around.within(term) === null || !isBlank(textOf(term))) return null;
  const next = siblingOf(term, 1);
  return next?.tagName === 'dd' && isShort(next) && textOf(next).length <= MOST_TERM ? next : null;
}

/** Words for a caption in the names of classes and ids, in the languages of the word lists. */
const NAMES = new Set(
  (
    'caption captions figcaption imgcaption imagecaption thumbcaption gallerytext legend legende légende leyenda ' +
    'bildunterschrift bildlegende bildtext beschriftung didascalia bijschrift onderschrift legenda'
  ).split(' '),
);

/** Names whose parts are remembered; a page has few different ones. */
const MOST_NAMES = 2_000;
const partsOf = new Map<string, readonly string[]>();

/** The words in the class and the id of an element, in lower case. */
function namesOf(element: Element): readonly string[] {
  const names = `${attr(element, 'class') ?? ''} ${attr(element, 'id') ?? ''}`;
  if (names === ' ') return [];
  let parts = partsOf.get(names);
  if (!parts) {
    parts = names
      .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
      .toLowerCase()
      .split(/[\s_-]+/);
    if (partsOf.size >= MOST_NAMES) partsOf.clear();
    partsOf.set(names, parts);
  }
  return parts;
}

/** Whether an element calls itself a caption. */
const isNamedCaption = (element: Element): boolean => namesOf(element).some((name) => NAMES.has(name));

/** The element that calls itself a caption, in what holds the picture and no other one. */
function namedCaptionOf(around: Surroundings): Element | null {
  const { picture } = around;
  let inner = picture;
  for (let above = elementAbove(picture), up = 0; above && up < MOST_LEVELS; above = elementAbove(above), up++) {
    if (above.tagName === 'body' || above.tagName === 'html') return null;
    for (const beside of [siblingOf(inner, 1), siblingOf(inner, -1)])
      if (beside && isNamedCaption(beside) && isShort(beside) && !isBlank(textOf(beside))) return beside;
    const within = around.within(above);
    if (within === null) return null;
    // The picture’s own wrapper may be called so as well.
    const named = within.find((e) => isNamedCaption(e) && !holds(e, picture) && isShort(e) && !isBlank(textOf(e)));
    if (named) return named;
    inner = above;
  }
  return null;
}

/** What calls itself a figure, in the languages of the word lists; a photo's colon leads to its credit. */
const FIGURE = 'fig(?:ure|ura|uur)?|abb(?:ildung)?|afb(?:eelding)?|ill(?:ustration)?';
const NUMBERED = new RegExp(
  `^\\W{0,2}(?:(?:${FIGURE}|bild|imagen|immagine|imagem|foto|photo)[.:]?\\s*(?:[A-Z]?[.–-]?\\d|[IVX]+[.:\\s])|(?:${FIGURE})\\s*:)`,
  'iu',
);

/** A block beside the picture's own that opens with the number of a figure. */
function numberedCaptionOf(around: Surroundings): Element | null {
  const { picture } = around;
  let block = picture;
  for (let up = 0; up < MOST_LEVELS; up++) {
    for (const step of [1, -1] as const) {
      const beside = siblingOf(block, step);
      if (beside && isShort(beside) && NUMBERED.test(collapse(textOf(beside)))) return beside;
    }
    const above = elementAbove(block);
    if (!above || above.tagName === 'body' || around.within(above) === null) return null;
    const text = collapse(textOf(above));
    // What stands in the same block without an element of its own.
    if (text !== '') return text.length <= MOST_TEXT && NUMBERED.test(text) ? above : null;
    block = above;
  }
  return null;
}

/** Words for pictures in the names of what holds one with its caption, in the languages of the word lists. */
const HOLDERS = new Set(
  (
    'image images img figure figures fig photo photos picture pictures pic thumb thumbs thumbnail thumbnails gallery ' +
    'illustration illustrations screenshot screenshots imageblock mediaobject bild bilder abbildung foto fotos figur ' +
    'photographie galerie imagen imágenes figura immagine immagini galleria afbeelding afbeeldingen imagem imagens'
  ).split(' '),
);
/** UTF-16 code units of a text without a name that may be a caption. */
const MOST_SHORT = 160;

const isNamedHolder = (element: Element): boolean => namesOf(element).some((name) => HOLDERS.has(name));

/** What centres a picture with the text below it, as pages without style sheets do. */
const isCentred = (element: Element): boolean =>
  element.tagName === 'center' ||
  (element.tagName === 'div' &&
    ((attr(element, 'align') ?? '').toLowerCase() === 'center' ||
      /text-align\s*:\s*center/i.test(attr(element, 'style') ?? '')));

/** The short text beside a picture in a block that is named for pictures, or centred, and holds nothing else. */
function shortBlockOf(around: Surroundings): Element | null {
  const { picture } = around;
  let inner = picture;
  for (let above = elementAbove(picture), up = 0; above && up < MOST_LEVELS; above = elementAbove(above), up++) {
    if (above.tagName === 'body' || above.tagName === 'a' || around.within(above) === null) {
      if (above.tagName !== 'a') return null;
      inner = above;
      continue;
    }
    if (isNamedHolder(above) || isCentred(above)) {
      const all = collapse(textOf(above));
      if (all === '' || all.length > MOST_SHORT) return null;
      const next = siblingOf(inner, 1) ?? siblingOf(inner, -1);
      // Text with no element of its own is all that the block says.
      if (!next) return above;
      const isAll = collapse(textOf(next)) === all;
      return isAll && !/^h[1-6]$|^(?:ul|ol|table|pre|form|button)$/.test(next.tagName) ? next : null;
    }
    inner = above;
  }
  return null;
}

/** The element right beside another, with nothing to read between them. */
function siblingOf(element: Element, step: 1 | -1): Element | null {
  const siblings = elementAbove(element)?.childNodes ?? [];
  if (siblings.length > MOST_NODES) return null;
  for (let i = siblings.indexOf(element) + step; i >= 0 && i < siblings.length; i += step) {
    const next = siblings[i]!;
    if (isElement(next) && next.tagName !== 'br' && !isAnchorOnly(next)) return next;
    if (isText(next) && !isBlank(next.value)) return null;
  }
  return null;
}

/** A place to link to, with nothing in it. */
const isAnchorOnly = (element: Element): boolean =>
  (element.tagName === 'a' || element.tagName === 'span') && element.childNodes.length === 0;

/** UTF-16 code units of a text that may be a caption. */
const MOST_TEXT = 500;
/** Nodes of a block that may hold a picture and its caption only. */
const MOST_NODES = 120;

/** All nodes of a block; null of one that is too large to be about one picture, of which the rest is not looked at. */
function nodesOf(block: Element, skip?: (element: Element) => boolean): Node[] | null {
  const nodes = descendants(block, { limit: MOST_NODES + 1, ...(skip ? { skip } : {}) });
  return nodes.length > MOST_NODES ? null : nodes;
}

function isShort(element: Element): boolean {
  const nodes = nodesOf(element);
  return nodes !== null && !nodes.some((n) => isElement(n) && isPicture(n)) && textOf(element).length <= MOST_TEXT;
}

/** See {@link Surroundings.within}. */
function smallBlock(block: Element, picture: Element): Element[] | null {
  const elements: Element[] = [];
  let text = 0;
  const nodes = nodesOf(block);
  if (nodes === null) return null;
  for (const n of nodes) {
    if (isText(n)) text += n.value.length;
    if (!isElement(n)) continue;
    if (n !== picture && isPicture(n)) return null;
    elements.push(n);
  }
  return text > 2 * MOST_TEXT ? null : elements;
}

function holds(element: Element, inner: Element): boolean {
  for (let at: Element | null = inner; at; at = elementAbove(at)) if (at === element) return true;
  return false;
}
