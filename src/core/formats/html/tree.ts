import type { DefaultTreeAdapterTypes as T } from 'parse5';

export type Element = T.Element;
export type Node = T.Node;
export type ParentNode = T.ParentNode;

export const HTML_NS = 'http://www.w3.org/1999/xhtml';
export const SVG_NS = 'http://www.w3.org/2000/svg';

/** Elements whose text is never part of what a reader reads. */
export const UNREAD = new Set(['script', 'style', 'template', 'head', 'title', 'textarea', 'select']);

export function isElement(node: Node): node is Element {
  return 'tagName' in node;
}

export function isText(node: Node): node is T.TextNode {
  return node.nodeName === '#text';
}

export function childrenOf(node: Node): Node[] {
  return 'childNodes' in node ? node.childNodes : [];
}

/** The value of an attribute; `undefined` when the element does not have it. */
export function attr(element: Element, name: string): string | undefined {
  for (const a of element.attrs) if (a.name === name) return a.value;
  return undefined;
}

export function parentOf(node: Node): ParentNode | null {
  return 'parentNode' in node ? (node.parentNode ?? null) : null;
}

/** The element around another; null for the outermost. */
export function elementAbove(element: Element): Element | null {
  const parent = parentOf(element);
  return parent && isElement(parent) ? parent : null;
}

/**
 * Every node below another, in the order of the source. A loop and not a recursion, because hostile pages nest 100,000
 * deep; an array and not a generator, which takes twice the time.
 *
 * @param skip elements that are left out with everything in them
 * @param limit nodes after which nothing more is looked for
 */
export function descendants(
  root: Node,
  { skip, limit = Infinity }: { skip?: (element: Element) => boolean; limit?: number } = {},
): Node[] {
  const out: Node[] = [];
  const todo: Node[] = childrenOf(root).slice(0, limit).reverse();
  while (todo.length > 0 && out.length < limit) {
    const node = todo.pop()!;
    if (skip && isElement(node) && skip(node)) continue;
    out.push(node);
    const children = childrenOf(node);
    for (let i = Math.min(children.length, limit) - 1; i >= 0; i--) todo.push(children[i]!);
  }
  return out;
}

const isUnread = (element: Element) => UNREAD.has(element.tagName);

/** All text below a node, in order. @param leftOut elements that do not count, with everything in them */
export function textOf(node: Node, leftOut: (element: Element) => boolean = () => false): string {
  let text = isText(node) ? node.value : '';
  for (const n of descendants(node, { skip: (e) => isUnread(e) || leftOut(e) })) if (isText(n)) text += n.value;
  return text;
}

/** All elements of a tree, in order. */
export function elementsOf(root: Node): Element[] {
  const below = descendants(root).filter(isElement);
  return isElement(root) ? [root, ...below] : below;
}

/** The value of one property of the `style` attribute, lower-cased, the last one winning. */
export function styleOf(element: Element, property: string): string | undefined {
  const style = attr(element, 'style');
  if (!style) return undefined;
  let value: string | undefined;
  for (const declaration of style.split(';')) {
    const colon = declaration.indexOf(':');
    if (colon > 0 && declaration.slice(0, colon).trim().toLowerCase() === property)
      value = declaration
        .slice(colon + 1)
        .replace(/!\s*important/i, '')
        .trim()
        .toLowerCase();
  }
  return value;
}
