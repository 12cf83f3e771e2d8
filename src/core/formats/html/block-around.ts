import { HTML_NS, elementAbove, type Element } from './tree';

/** Elements that take blocks of text (HTML Living Standard 3.2.5.2.2, flow content). */
const FLOW = new Set(
  (
    'body main article section div li td th dd figure blockquote aside header footer nav details dialog form fieldset ' +
    'center address noscript'
  ).split(' '),
);

/** Elements in which nothing else may be pressed or opened. */
const PRESSED = new Set(['a', 'button', 'label', 'summary']);

/** Levels up to which a picture's surroundings are looked at: hostile pages nest 100,000 deep. */
const MOST_LEVELS = 256;

/**
 * The element behind which a block can stand that belongs to a picture: the picture itself, or what is around it as far
 * as that takes no blocks, or may be pressed. Null where there is none.
 */
export function blockAround(picture: Element): Element | null {
  let child = picture;
  let levels = 0;
  for (let up: Element | null = picture; up && levels < MOST_LEVELS; up = elementAbove(up), levels++)
    if (PRESSED.has(up.tagName)) child = up;
  if (levels === MOST_LEVELS) return null;
  for (let above = elementAbove(child); above; above = elementAbove(child)) {
    if (above.namespaceURI === HTML_NS && (FLOW.has(above.tagName) || above.tagName.includes('-'))) return child;
    child = above;
  }
  return null;
}
