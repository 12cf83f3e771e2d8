import { blockAround } from './block-around';
import { attr, elementAbove, isElement, isText, textOf, type Element } from './tree';
import { collapse, isBlank } from '../../white-space';

/** What holds a credit line that was delivered, so that it is found again (common practice: small print below the picture). */
export const CREDIT_CLASS = 'picture-credit';
/** What holds a long description that was delivered, or the link to it. */
export const DESCRIPTION_CLASS = 'long-description';

export const hasClass = (element: Element, name: string): boolean =>
  (attr(element, 'class') ?? '').split(/\s+/).includes(name);

/** Among more siblings nothing is looked for: finding each one's place would take too long. */
const MOST_SIBLINGS = 4000;

/** The credit line that was delivered for what stands in a block: right behind it, but for its long description. */
export function creditBelow(block: Element): Element | undefined {
  const siblings = elementAbove(block)?.childNodes ?? [];
  if (siblings.length > MOST_SIBLINGS) return undefined;
  for (let i = siblings.indexOf(block) + 1; i < siblings.length; i++) {
    const next = siblings[i]!;
    if (isText(next) && isBlank(next.value)) continue;
    if (!isElement(next)) return undefined;
    if (hasClass(next, CREDIT_CLASS)) return next;
    if (!hasClass(next, DESCRIPTION_CLASS)) return undefined;
  }
  return undefined;
}

/** What the credit line that was delivered for a picture says; null where there is none. */
export function creditLineOf(picture: Element): string | null {
  const block = blockAround(picture);
  const line = block && creditBelow(block);
  return line ? collapse(textOf(line)) || null : null;
}
