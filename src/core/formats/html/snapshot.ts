import type { Background } from './backgrounds';
import { HTML_NS, SVG_NS, attr, childrenOf, isElement, type Element, type Node, type ParentNode } from './tree';

/** Values for the few nodes that have one. */
interface Rare {
  index: number[];
  value: number[];
}

/** One document of a snapshot, with what is read of it; numbers that stand for texts are places in `strings`. */
export interface SnapshotDocument {
  documentURL: number;
  baseURL?: number;
  nodes: {
    parentIndex?: number[];
    nodeType?: number[];
    shadowRootType?: Rare;
    nodeName?: number[];
    nodeValue?: number[];
    attributes?: number[][];
    pseudoType?: Rare;
    currentSourceURL?: Rare;
  };
  layout: { nodeIndex: number[]; styles: number[][]; bounds: number[][] };
}

/** What `DOMSnapshot.captureSnapshot` of the Chrome DevTools Protocol gives, with `COMPUTED_STYLES` asked for. */
export interface DomSnapshot {
  documents: SnapshotDocument[];
  strings: string[];
}

export const COMPUTED_STYLES = [
  'display',
  'visibility',
  'background-image',
  'content',
  'list-style-image',
  'mask-image',
] as const;
const PICTURED = COMPUTED_STYLES.slice(2);

/** Where an element stands on its page at rest, in CSS pixels. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** What a browser made of a document. */
export interface RenderedTree {
  document: Node;
  /** Address of the document in the end, and what its references are resolved against. */
  address: string;
  base: string;
  boxes: ReadonlyMap<Element, Box>;
  /** The candidate that the browser chose, for each `img` that shows one. */
  chosen: ReadonlyMap<Element, string>;
  backgrounds: ReadonlyMap<Element, Background[]>;
  isPainted(node: Node): boolean;
  /** Computed `visibility`. */
  isVisible(node: Node): boolean;
}

const ELEMENT = 1;
const TEXT = 3;
const DOCUMENT = 9;
const FRAGMENT = 11;

/**
 * The tree that readers of pages work on, as a browser painted it: shadow trees in the place of their hosts' own
 * content, slots filled (DOM Standard 4.2.2, flat tree of CSS Scoping 3.1). Frames are pages of their own.
 *
 * @throws Error when it holds no document
 */
export function renderedTree({ documents, strings }: DomSnapshot): RenderedTree {
  const main = documents[0];
  if (!main?.nodes.parentIndex || !main.nodes.nodeType || !main.nodes.nodeName)
    throw new Error('the browser gave no document');
  const { parentIndex, nodeType, nodeName, nodeValue = [], attributes = [] } = main.nodes;
  const text = (at: number | undefined) => (at === undefined || at < 0 ? '' : (strings[at] ?? ''));
  const rare = (values?: Rare) => new Map(values?.index.map((node, i) => [node, text(values.value[i])]));
  const pseudo = rare(main.nodes.pseudoType);
  const shadow = rare(main.nodes.shadowRootType);

  const document = { nodeName: '#document', mode: 'no-quirks', childNodes: [] } as unknown as ParentNode;
  const nodes: (Node | null)[] = [];
  const roots = new Map<Element, ParentNode>();
  for (let i = 0; i < nodeType.length; i++) {
    const parent = parentIndex[i]! >= 0 ? nodes[parentIndex[i]!] : undefined;
    const node = nodeOf(i);
    nodes.push(node);
    if (!node || node === document) continue;
    if (nodeType[i] === FRAGMENT) {
      if (parent && isElement(parent) && shadow.has(i)) roots.set(parent, node as ParentNode);
      continue;
    }
    if (!parent || !('childNodes' in parent)) continue;
    (node as { parentNode: Node }).parentNode = parent;
    parent.childNodes.push(node as Element);
  }

  function nodeOf(i: number): Node | null {
    const parent = nodes[parentIndex[i]!];
    switch (nodeType![i]) {
      case DOCUMENT:
        return i === 0 ? document : null;
      case TEXT:
        return { nodeName: '#text', value: text(nodeValue[i]) } as Node;
      case FRAGMENT:
        return { nodeName: '#document-fragment', childNodes: [] } as unknown as Node;
      case ELEMENT: {
        // What a pseudo-element shows belongs to its element.
        if (pseudo.has(i)) return null;
        const name = text(nodeName![i]);
        const inSvg = name.toLowerCase() === 'svg' || (parent && isElement(parent) && holdsSvg(parent));
        const own = attributes[i] ?? [];
        const attrs: { name: string; value: string }[] = [];
        for (let a = 0; a + 1 < own.length; a += 2)
          attrs.push({ name: text(own[a]).replace(/^xlink:/, ''), value: text(own[a + 1]) });
        const tagName = inSvg ? name : name.toLowerCase();
        const namespaceURI = inSvg ? SVG_NS : HTML_NS;
        return { nodeName: tagName, tagName, attrs, namespaceURI, childNodes: [] } as unknown as Element;
      }
    }
    return null;
  }

  const painted = new Set<Node>();
  const unseen = new Set<Node>();
  const boxes = new Map<Element, Box>();
  const backgrounds = new Map<Element, Background[]>();
  main.layout.nodeIndex.forEach((at, i) => {
    const styles = main.layout.styles[i] ?? [];
    const shown = pseudo.has(at) ? nodes[parentIndex[at]!] : nodes[at];
    if (!shown) return;
    if (!pseudo.has(at)) {
      painted.add(shown);
      const visibility = text(styles[1]);
      if (visibility === 'hidden' || visibility === 'collapse') unseen.add(shown);
    }
    if (!isElement(shown)) return;
    const [x = 0, y = 0, width = 0, height = 0] = main.layout.bounds[i] ?? [];
    if (!pseudo.has(at) && !boxes.has(shown)) boxes.set(shown, { x, y, width, height });
    const own = PICTURED.flatMap((property, p) =>
      property === 'list-style-image' && text(styles[0]) !== 'list-item' ? [] : urlsIn(text(styles[p + 2])),
    );
    const side = pseudo.get(at);
    const which: Background['pseudo'] = side === 'before' || side === 'after' ? side : null;
    if (pseudo.has(at) && which === null) return;
    // What a pseudo-element holds has a box of its own with the same styles.
    const known = backgrounds.get(shown) ?? [];
    const fresh = own.filter((src) => !known.some((b) => b.src === src && b.pseudo === which));
    if (fresh.length > 0)
      backgrounds.set(shown, [...known, ...fresh.map((src) => ({ src, sheet: null, pseudo: which }))]);
  });
  // An element without a box of its own is there when something in it is (`display: contents`, fallbacks).
  for (let i = nodes.length - 1; i > 0; i--) {
    const parent = nodes[parentIndex[i]!];
    if (parent && nodes[i] && painted.has(nodes[i]!)) painted.add(parent);
  }
  for (const [host, root] of roots) flatten(host, root);

  const chosen = new Map<Element, string>();
  for (const [at, address] of rare(main.nodes.currentSourceURL)) {
    const node = nodes[at];
    if (node && isElement(node) && node.tagName === 'img' && address !== '') chosen.set(node, address);
  }
  const address = text(main.documentURL);
  return {
    document,
    address,
    base: text(main.baseURL) || address,
    boxes,
    chosen,
    backgrounds,
    isPainted: (node) => painted.has(node),
    isVisible: (node) => !unseen.has(node),
  };
}

const holdsSvg = (parent: Element) => parent.namespaceURI === SVG_NS && parent.tagName !== 'foreignObject';

/** The pictures of a computed value, whose addresses are absolute. */
function urlsIn(value: string): string[] {
  if (!value.includes('url(')) return [];
  return [...value.matchAll(/url\("((?:[^"\\]|\\.)*)"\)/g)]
    .map((m) => m[1]!.replace(/\\(.)/g, '$1'))
    .filter((url) => url !== '' && !url.startsWith('#'));
}

/** Puts a shadow tree in the place of its host's content, which goes into the slots. */
function flatten(host: Element, root: ParentNode): void {
  const light = childrenOf(host);
  const slotOf = (node: Node) => (isElement(node) ? (attr(node, 'slot') ?? '') : '');
  const adopt = (parent: ParentNode, children: Node[]) => {
    parent.childNodes = children as ParentNode['childNodes'];
    for (const child of children) (child as { parentNode: Node }).parentNode = parent;
  };
  const todo: Node[] = [root];
  while (todo.length > 0) {
    const node = todo.pop()!;
    if (isElement(node) && node.tagName === 'slot') {
      const assigned = light.filter((child) => slotOf(child) === (attr(node, 'name') ?? ''));
      if (assigned.length > 0) {
        adopt(node, assigned);
        continue;
      }
    }
    for (const child of childrenOf(node)) todo.push(child);
  }
  adopt(host, [...root.childNodes]);
}
