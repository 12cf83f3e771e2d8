/**
 * Accessible names, roles and exposure, computed over the parsed source.
 *
 * Accessible Name and Description Computation 1.2, HTML-AAM 1.0, SVG-AAM and WAI-ARIA 1.2 (conflict
 * resolution for the presentational role); where those leave room, as Chromium answers
 * (accname-cases.json). A source tells only of inline styles: what a style sheet hides, is known where a browser
 * has painted the page (`Painting`).
 */
import {
  HTML_NS,
  SVG_NS,
  attr,
  isElement,
  isText,
  parentOf,
  styleOf,
  textOf,
  type Element,
  type Node,
  descendants,
} from './tree';
import { collapse, isBlank } from '../../white-space';
import type { HiddenReason, NameSource } from '../../model/appearance';

export interface Exposure {
  /** Role as the accessibility tree gives it (`image`, `button`, `link`, `none` …). */
  role: string;
  /** White space collapsed; empty when there is none. */
  name: string;
  nameSource: NameSource | null;
  /** Not in the accessibility tree at all: hidden, or presentational. */
  ignored: boolean;
  /** Set when an ancestor or the element itself hides it; a presentational image is not hidden. */
  hidden: HiddenReason | null;
}

const ROLES = new Set(
  (
    'alert alertdialog application article banner blockquote button caption cell checkbox code columnheader combobox ' +
    'complementary contentinfo definition deletion dialog directory document emphasis feed figure form generic ' +
    'graphics-document graphics-object graphics-symbol grid gridcell group heading image img insertion link list ' +
    'listbox listitem log main mark marquee math menu menubar menuitem menuitemcheckbox menuitemradio meter ' +
    'navigation none note option paragraph presentation progressbar radio radiogroup region row rowgroup rowheader ' +
    'scrollbar search searchbox separator slider spinbutton status strong subscript superscript switch tab table ' +
    'tablist tabpanel term textbox time timer toolbar tooltip tree treegrid treeitem'
  ).split(' '),
);
const GLOBAL_ARIA = new Set(
  (
    'atomic busy controls current describedby description details dropeffect flowto grabbed keyshortcuts label ' +
    'labelledby live owns relevant roledescription'
  )
    .split(' ')
    .map((n) => `aria-${n}`),
);
const BLOCK = new Set(
  (
    'address article aside blockquote br button canvas img dd div dl dt fieldset figcaption figure footer form h1 h2 ' +
    'h3 h4 h5 h6 header hr li main nav ol p pre section table td th tr ul input select textarea'
  ).split(' '),
);
const NAMED_FROM_CONTENT = new Set(['link', 'button', 'heading', 'option', 'summary', 'listitem', 'cell']);
const NAMED_FROM_CONTENT_TAGS = new Set(['button', 'summary', 'option', 'h1', 'h2', 'h3', 'h4', 'h5', 'h6']);
const NATIVE_ROLES: Record<string, string> = {
  button: 'button',
  figure: 'figure',
  li: 'listitem',
  option: 'option',
  input: 'textbox',
  video: 'Video',
  iframe: 'Iframe',
  summary: 'DisclosureTriangle',
  object: 'PluginObject',
  embed: 'EmbeddedObject',
  canvas: 'Canvas',
};
/** Deeper content than this adds nothing to a name; the limit keeps hostile nesting from the stack. */
const MAX_DEPTH = 200;

interface Visibility {
  reason: HiddenReason | null;
  /** Computed `visibility`, inherited. */
  visibility: 'visible' | 'hidden';
  /** What the children are, whatever they say themselves (closed details, media fall-backs). */
  children: HiddenReason | null;
}

const SHOWN: Visibility = { reason: null, visibility: 'visible', children: null };

const isTrue = (value: string | undefined) => value?.toLowerCase() === 'true';

/** What style sheets make of a document, where a browser has computed it. */
export interface Painting {
  isPainted(node: Node): boolean;
  isVisible(node: Node): boolean;
}

/** One document, by its elements in order, with the look-ups that names need: ids, labels, used maps and what is hidden. */
export class NameIndex {
  private readonly ids = new Map<string, Element>();
  private readonly usedMaps = new Set<string>();
  private readonly labels = new Map<string, Element[]>();
  private readonly visibility = new Map<Node, Visibility>();

  constructor(
    elements: readonly Element[],
    private readonly painting: Painting | null = null,
  ) {
    for (const element of elements) this.register(element);
  }

  private register(element: Element): void {
    const id = attr(element, 'id');
    if (id && !this.ids.has(id)) this.ids.set(id, element);
    const usemap = attr(element, 'usemap');
    if (usemap?.startsWith('#') && (element.tagName === 'img' || element.tagName === 'object'))
      this.usedMaps.add(usemap.slice(1));
    const target = element.tagName === 'label' ? attr(element, 'for') : undefined;
    if (target) this.labels.set(target, [...(this.labels.get(target) ?? []), element]);
  }

  /** Of the element and all around it; each is looked at once, however many are asked about. */
  private visibilityOf(element: Element): Visibility {
    const above: Element[] = [];
    let node: Node | null = element;
    for (; node && !this.visibility.has(node); node = parentOf(node)) if (isElement(node)) above.push(node);
    let state = (node && this.visibility.get(node)) ?? SHOWN;
    for (const inner of above.reverse()) {
      state = this.seen(inner, state);
      this.visibility.set(inner, state);
    }
    return state;
  }

  private seen(element: Element, inherited: Visibility): Visibility {
    const tag = element.tagName;
    const reason =
      inherited.reason ??
      (inherited.children && tag !== 'summary' ? inherited.children : null) ??
      ownHiddenReason(element, this.painting);
    const style = this.painting?.isPainted(element)
      ? this.painting.isVisible(element)
        ? 'visible'
        : 'hidden'
      : styleOf(element, 'visibility');
    const visibility =
      style === undefined || style === 'inherit' ? inherited.visibility : style === 'visible' ? 'visible' : 'hidden';
    const closed = tag === 'details' && attr(element, 'open') === undefined;
    const children: HiddenReason | null =
      (closed && !this.painting) ||
      tag === 'video' ||
      tag === 'audio' ||
      styleOf(element, 'content-visibility') === 'hidden'
        ? 'not rendered'
        : null;
    if (reason === inherited.reason && visibility === inherited.visibility && children === inherited.children)
      return inherited;
    return { reason, visibility, children };
  }

  byId(id: string): Element | undefined {
    return this.ids.get(id);
  }

  labelsOf(element: Element): Element[] {
    const labels = [...(this.labels.get(attr(element, 'id') ?? '') ?? [])];
    for (let p = parentOf(element); p && isElement(p); p = parentOf(p))
      if (p.tagName === 'label') {
        if (!labels.includes(p) && attr(p, 'for') === undefined) labels.push(p);
        break;
      }
    return labels;
  }

  /** Why assistive technology does not meet the element at all; null when it does. */
  hidden(element: Element): HiddenReason | null {
    const state = this.visibilityOf(element);
    if (state.reason) return state.reason;
    if (state.visibility === 'hidden') return 'not visible';
    if (element.tagName === 'area') {
      let map = parentOf(element);
      while (map && isElement(map) && map.tagName !== 'map') map = parentOf(map);
      const name = map && isElement(map) ? attr(map, 'name') : undefined;
      if (!name || !this.usedMaps.has(name)) return 'not rendered';
    }
    return null;
  }
}

function ownHiddenReason(element: Element, painting: Painting | null): HiddenReason | null {
  const tag = element.tagName;
  if (isTrue(attr(element, 'aria-hidden'))) return 'aria-hidden';
  if (tag === 'area' || tag === 'map') return null;
  if (painting)
    return !painting.isPainted(element) ? 'not rendered' : attr(element, 'inert') !== undefined ? 'inert' : null;
  const display = styleOf(element, 'display');
  if (display === 'none' || tag === 'head') return 'not rendered';
  if (attr(element, 'hidden') !== undefined && display === undefined && element.namespaceURI === HTML_NS)
    return 'not rendered';
  if (attr(element, 'inert') !== undefined) return 'inert';
  if (tag === 'dialog' && attr(element, 'open') === undefined && display === undefined) return 'not rendered';
  if (tag === 'noscript') return 'no script';
  return null;
}

/** The first role in the `role` attribute that ARIA knows, `img` as `image`, `presentation` as `none`. */
export function explicitRole(element: Element): string | undefined {
  for (const token of attr(element, 'role')?.toLowerCase().split(/\s+/) ?? [])
    if (ROLES.has(token)) return token === 'img' ? 'image' : token === 'presentation' ? 'none' : token;
  return undefined;
}

export function isFocusable(element: Element): boolean {
  if (/^\s*-?\d+/.test(attr(element, 'tabindex') ?? '')) return true;
  const tag = element.tagName;
  return (
    ((tag === 'a' || tag === 'area') && attr(element, 'href') !== undefined) ||
    ['button', 'input', 'select', 'textarea', 'iframe'].includes(tag)
  );
}

const hasGlobalAria = (element: Element) => element.attrs.some((a) => GLOBAL_ARIA.has(a.name) && !isBlank(a.value));

/** The element's role; the presentational role yields to focus and to global ARIA (WAI-ARIA 1.2, 9.3). */
export function roleOf(element: Element): string {
  const explicit = explicitRole(element);
  const conflict = isFocusable(element) || hasGlobalAria(element);
  if (explicit && (explicit !== 'none' || !conflict)) return explicit;
  const tag = element.tagName;
  if (element.namespaceURI === SVG_NS) {
    if (tag === 'svg') return hasSvgContent(element) ? 'SvgRoot' : 'image';
    if (tag === 'image') return hasGlobalAria(element) || svgTitle(element) !== undefined ? 'image' : 'none';
    if (tag === 'a') return attr(element, 'href') !== undefined ? 'link' : 'generic';
    return explicit ?? 'generic';
  }
  if (tag === 'img') {
    const silent = attr(element, 'alt') === '' && !conflict;
    return silent && !(explicit === undefined && !isBlank(attr(element, 'title'))) ? 'none' : 'image';
  }
  if (tag === 'input' && attr(element, 'type')?.toLowerCase() === 'image') return 'button';
  if (tag === 'area') return attr(element, 'href') !== undefined ? 'link' : 'StaticText';
  if (tag === 'a') return attr(element, 'href') !== undefined ? 'link' : 'generic';
  if (/^h[1-6]$/.test(tag)) return 'heading';
  if (/^url\(/.test(styleOf(element, 'content') ?? '')) return 'image';
  return NATIVE_ROLES[tag] ?? explicit ?? 'generic';
}

function hasSvgContent(svg: Element): boolean {
  const skip = (e: Element) => ['title', 'desc', 'metadata', 'defs', 'style'].includes(e.tagName);
  return descendants(svg, { skip }).some(
    (n) =>
      isElement(n) &&
      (['text', 'a', 'use', 'foreignObject'].includes(n.tagName) ||
        n.childNodes.some((c) => isElement(c) && c.tagName === 'title')),
  );
}

function svgTitle(element: Element): string | undefined {
  for (const child of element.childNodes)
    if (isElement(child) && child.tagName === 'title') return collapse(textOf(child)) || undefined;
  return undefined;
}

interface Walk {
  /** Followed through `aria-labelledby`: references are not followed twice, content always counts. */
  referenced?: boolean;
  /** The referenced element is itself hidden: its hidden content counts too. */
  throughHidden?: boolean;
  /** Reached while another element's name is being gathered from its content. */
  traversing?: boolean;
  visited: Set<Element>;
  depth: number;
}

type Named = [name: string, source: NameSource | null];

/** The accessible name and where it comes from; `['', null]` when there is none. */
export function nameOf(element: Element, index: NameIndex): Named {
  return computeName(element, index, { visited: new Set(), depth: 0 });
}

/** One pass of the computation; the labels are those of Accessible Name and Description Computation 1.2, 4.3.2, step 2. */
function computeName(element: Element, index: NameIndex, walk: Walk): Named {
  if (walk.visited.has(element) || walk.depth > MAX_DEPTH) return ['', null];
  walk.visited.add(element);
  // 2A, hidden not referenced: left out before it comes to this (`exposureOf`, `contentOf`).
  // 2B, aria-labelledby: not followed from within a reference.
  if (!walk.referenced) {
    const labelled = nameByReference(element, index, walk);
    if (labelled) return [labelled, 'aria-labelledby'];
  }
  // 2C, embedded controls: none of those that the specification lists shows a picture.
  // 2D, aria-label.
  const label = attr(element, 'aria-label');
  if (label !== undefined && collapse(label) !== '') return [collapse(label), 'aria-label'];
  // 2E, host language label.
  const native = nativeName(element, index, walk);
  if (native) return native;

  // 2F, name from content; 2G, text nodes, and 2H, recursion, in `contentOf`.
  const role = roleOf(element);
  const tag = element.tagName;
  const fromContent =
    walk.referenced ||
    walk.traversing ||
    NAMED_FROM_CONTENT.has(role) ||
    (tag === 'a' && attr(element, 'href') !== undefined) ||
    NAMED_FROM_CONTENT_TAGS.has(tag);
  if ((fromContent && role !== 'image') || (walk.referenced && tag === 'title')) {
    const text = contentOf(element, index, { ...walk, traversing: true });
    if (walk.traversing ? text : collapse(text)) return [walk.traversing ? text : collapse(text), 'contents'];
  }
  // 2I, tooltip.
  const title = attr(element, 'title');
  if (!isBlank(title) && role !== 'generic') return [collapse(title!), 'title'];
  return ['', null];
}

function nameByReference(element: Element, index: NameIndex, walk: Walk): string {
  const parts: string[] = [];
  for (const id of attr(element, 'aria-labelledby')?.split(/\s+/) ?? []) {
    const target = index.byId(id);
    if (!target) continue;
    const visited = target === element ? new Set<Element>() : new Set(walk.visited);
    const throughHidden = index.hidden(target) !== null;
    const [name] = computeName(target, index, { referenced: true, throughHidden, visited, depth: walk.depth + 1 });
    if (name) parts.push(name);
  }
  return collapse(parts.join(' '));
}

/** What the host language itself offers as a name (HTML-AAM 4.1), before content and title. */
function nativeName(element: Element, index: NameIndex, walk: Walk): Named | undefined {
  const tag = element.tagName;
  if (element.namespaceURI === SVG_NS) {
    const title = svgTitle(element);
    return title !== undefined && !(walk.referenced && tag === 'title') ? [title, 'svg-title'] : undefined;
  }
  if (tag === 'img' || tag === 'area') {
    const alt = attr(element, 'alt');
    return alt === undefined ? undefined : [collapse(alt), 'alt'];
  }
  if (tag !== 'input') return undefined;
  const type = attr(element, 'type')?.toLowerCase() ?? 'text';
  if (type !== 'hidden') {
    const labels = index.labelsOf(element).map((label) => contentOf(label, index, walk));
    const text = collapse(labels.join(' '));
    if (text) return [text, 'label'];
  }
  const value = attr(element, 'value');
  if (type === 'image') {
    const alt = attr(element, 'alt');
    if (alt) return [collapse(alt), 'alt'];
    if (!isBlank(value)) return [collapse(value!), 'value'];
    const title = attr(element, 'title');
    return isBlank(title) ? ['Submit', 'default'] : [collapse(title!), 'title'];
  }
  return value && ['submit', 'button', 'reset'].includes(type) ? [collapse(value), 'value'] : undefined;
}

function contentOf(element: Element, index: NameIndex, walk: Walk): string {
  let text = '';
  for (const child of element.childNodes) {
    if (isText(child)) text += child.value;
    if (!isElement(child) || ['script', 'style', 'template', 'noscript'].includes(child.tagName)) continue;
    const skip = walk.throughHidden ? isTrue(attr(child, 'aria-hidden')) : index.hidden(child) !== null;
    if (skip) continue;
    if (child.tagName === 'br') text += ' ';
    else {
      const [name] = computeName(child, index, {
        ...walk,
        referenced: false,
        traversing: true,
        depth: walk.depth + 1,
      });
      text += BLOCK.has(child.tagName) ? ` ${name} ` : name;
    }
  }
  return text;
}

/** Everything assistive technology learns of one element. */
export function exposureOf(element: Element, index: NameIndex): Exposure {
  const hidden = index.hidden(element);
  const role = roleOf(element);
  if (hidden || role === 'none') return { role: 'none', name: '', nameSource: null, ignored: true, hidden };
  const [name, nameSource] = nameOf(element, index);
  return { role, name, nameSource, ignored: false, hidden: null };
}
