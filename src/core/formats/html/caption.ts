import { descendants, elementAbove, isBlank, isElement, isText, type Element } from './tree';

/** The element with the caption of a picture, and whether a text can take its place without loss. */
export interface CaptionElement {
  element: Element;
  /** Where its text stands: itself, or the one element that holds all of it. */
  holder: Element;
  isPlain: boolean;
}

const WRAPPERS = new Set(['p', 'span', 'div', 'small', 'em', 'strong', 'b', 'i', 'cite']);

/** The `figcaption` of a figure, or the `caption` of a table that shows the picture and nothing else. */
export function captionElementOf(picture: Element, figure: Element | null): CaptionElement | null {
  const element = figure ? figcaptionOf(figure) : tableCaptionOf(picture);
  if (!element) return null;
  let holder = element;
  for (;;) {
    const parts = holder.childNodes.filter((n) => !isText(n) || !isBlank(n.value));
    const [only] = parts;
    if (parts.length === 1 && only && isElement(only) && WRAPPERS.has(only.tagName)) holder = only;
    else return { element, holder, isPlain: parts.every(isText) };
  }
}

function figcaptionOf(figure: Element): Element | null {
  // Of a figure in the figure, the caption is its own.
  const skip = (n: Element) => n.tagName === 'figure';
  for (const n of descendants(figure, { skip })) if (isElement(n) && n.tagName === 'figcaption') return n;
  return null;
}

/** Elements between a picture and the table that is only around it. */
const MOST_LEVELS = 8;

function tableCaptionOf(picture: Element): Element | null {
  let table = elementAbove(picture);
  for (let up = 0; table && table.tagName !== 'table'; up++) table = up < MOST_LEVELS ? elementAbove(table) : null;
  if (!table) return null;
  const caption = table.childNodes.find((n): n is Element => isElement(n) && n.tagName === 'caption');
  if (!caption) return null;
  for (const n of descendants(table, { skip: (e) => e === caption })) {
    if (isText(n) && !isBlank(n.value)) return null;
    if (isElement(n) && n !== picture && ['img', 'svg', 'object', 'table'].includes(n.tagName)) return null;
  }
  return caption;
}
