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

/** Collapses HTML's own white space (not nbsp), as a browser does before it says a name. */
export function collapse(text: string): string {
  return text.replace(/[ \t\n\r\f]+/g, ' ').replace(/^ | $/g, '');
}

/** True for a text in which nothing can be heard: white space, nbsp, zero-width characters only. */
export function isBlank(text: string | undefined | null): boolean {
  return !text || !/[^\s\u200b-\u200d\u2060\ufeff\u00ad]/.test(text);
}

/** All text below a node, in order; iterative, because hostile pages nest 100,000 deep. */
export function textOf(node: Node): string {
  const out: string[] = [];
  const todo: Node[] = [node];
  while (todo.length > 0) {
    const n = todo.pop()!;
    if (isText(n)) out.push(n.value);
    else if (!isElement(n) || !UNREAD.has(n.tagName) || n === node) {
      const children = childrenOf(n);
      for (let i = children.length - 1; i >= 0; i--) todo.push(children[i]!);
    }
  }
  return out.join('');
}

/** All elements below a node, in order; iterative for the same reason. */
export function elementsOf(root: Node): Element[] {
  const out: Element[] = [];
  const todo: Node[] = [root];
  while (todo.length > 0) {
    const node = todo.pop()!;
    if (isElement(node)) out.push(node);
    const children = childrenOf(node);
    for (let i = children.length - 1; i >= 0; i--) todo.push(children[i]!);
  }
  return out;
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
