import { appearanceElement } from './appearance-element';
import { attr, descendants, elementAbove, isElement, isText, type Element } from './tree';
import { collapse } from '../../white-space';

/** Levels around a picture up to which something may be its card. */
const MOST_LEVELS = 6;
/** Nodes of a card; more are a section of the page. */
const MOST_NODES = 60;
/** Characters of a card; more are running text. */
const MOST_TEXT = 300;

/** Elements that are never a card. */
const LARGER = new Set(['body', 'main', 'article', 'header', 'footer', 'nav']);

/**
 * The address that the card of a picture leads to: the one link in the smallest block around the picture that has a link,
 * such as its caption. Null where there is none, where there are several, or where another picture or running text
 * stands in that block. Links within the page do not count.
 */
export function cardHref(picture: Element): string | null {
  let above = elementAbove(picture);
  for (let level = 0; above && level < MOST_LEVELS && !LARGER.has(above.tagName); level++) {
    const inside = descendants(above, { limit: MOST_NODES + 1 });
    if (inside.length > MOST_NODES) return null;
    if (inside.some((n) => isElement(n) && n !== picture && appearanceElement(n) !== null)) return null;
    const links = inside.flatMap((n) => (isElement(n) && n.tagName === 'a' ? (attr(n, 'href')?.trim() ?? []) : []));
    const [href, ...others] = new Set(links.filter((l) => l !== '' && !l.startsWith('#')));
    if (href !== undefined) {
      const text = collapse(inside.map((n) => (isText(n) ? n.value : '')).join(' '));
      return others.length === 0 && text.length <= MOST_TEXT ? href : null;
    }
    above = elementAbove(above);
  }
  return null;
}
