import {
  takesNoWords,
  type Appearance,
  type AppearanceElement,
  type Control,
  type Markup,
  type State,
} from '../../model/appearance';
import { explicitRole, exposureOf, isFocusable, nameOf, type Exposure, type NameIndex } from './accname';
import { appearanceElement } from './appearance-element';
import { cardHref } from './card';
import { descriptionsOf } from './descriptions';
import { captionElementOf, captionText } from './caption';
import { creditLineOf } from './credit-line';
import { formulaMarkupOf } from './formula-markup';
import { candidatesOf, sourceOf } from './image-source';
import { passageAround, type Chunk } from './passage';
import {
  SVG_NS,
  UNREAD,
  attr,
  descendants,
  elementAbove,
  isElement,
  isText,
  parentOf,
  textOf,
  type Element,
  type Node,
} from './tree';
import { TAKES_ALT, type Found } from './walk';
import { collapse, isBlank } from '../../white-space';

const MAX_PLACE = 24;
const NONE: readonly never[] = [];

/** Template places of a page: the path of element names and classes from the body. */
export class Places {
  private readonly paths = new Map<Node, readonly string[]>();

  of(element: Element): string {
    const above: Element[] = [];
    let node: Node | null = element;
    for (; node && !this.paths.has(node); node = parentOf(node)) if (isElement(node)) above.push(node);
    let path = (node && this.paths.get(node)) ?? NONE;
    for (const inner of above.reverse()) {
      const counts = path.length < MAX_PLACE && inner.tagName !== 'html' && inner.tagName !== 'body';
      if (counts) path = [...path, [inner.tagName, ...classesOf(inner)].join('.')];
      this.paths.set(inner, path);
    }
    return path.join('>');
  }
}

const classesOf = (element: Element) => (attr(element, 'class') ?? '').split(/\s+/).filter(Boolean).slice(0, 2);

/** Where an appearance stands, in the source or on the painted page. */
export interface Standing {
  /** Of an inline `svg`: its markup. */
  svg: string | null;
  templated: boolean;
  layout: Appearance['layout'];
  location: Appearance['location'];
}

/** What appearances are described from. */
export interface Sources {
  index: NameIndex;
  places: Places;
  chunks: Chunk[];
  stands(node: Element, element: AppearanceElement): Standing;
}

/** The appearances of a page, as rules and people see them, in the order in which they were found. */
export function describeAll(found: Found[], sources: Sources): Appearance[] {
  const once: GivenOnce = { controls: new Set(), strayAlts: new Set(), runs: runsOf(found, sources.chunks) };
  const appearances = found.map((f, order) => describe(f, order, sources, once));
  noteSiblings(appearances);
  return appearances;
}

/** Gives each picture the text of the one before it at the same template place, the first that of the next. */
function noteSiblings(appearances: Appearance[]): void {
  const last = new Map<string, Appearance>();
  for (const a of appearances) {
    const before = last.get(a.context.place);
    if (before) {
      a.context.siblingText = before.markup.alt;
      before.context.siblingText ??= a.markup.alt;
    }
    last.set(a.context.place, a);
  }
}

/** What is given once, with the first picture that it concerns. */
interface GivenOnce {
  controls: Set<Element>;
  strayAlts: Set<Element>;
  runs: ReadonlyMap<Found, number>;
}

/** Pictures that follow one another in one element, with nothing to read between them. */
function runsOf(found: readonly Found[], chunks: readonly Chunk[]): Map<Found, number> {
  const runs = new Map<Found, number>();
  let before: Found | null = null;
  let last = 0;
  for (const f of found) {
    if (f.element !== 'img' && f.element !== 'svg' && f.element !== 'role-img') continue;
    if (before && wrapperOf(before) === wrapperOf(f) && chunks.slice(before.at, f.at).every((c) => isBlank(c.text))) {
      if (!runs.has(before)) runs.set(before, ++last);
      runs.set(f, last);
    }
    before = f;
  }
  return runs;
}

/** What a picture shares with those beside it: its parent, or what holds the link or `span` that is only around it. */
function wrapperOf({ node }: Found): Node | null {
  let parent = parentOf(node);
  while (parent && isElement(parent) && ['span', 'picture', 'b', 'i', 'em'].includes(parent.tagName))
    parent = parentOf(parent);
  return parent;
}

function strayAltOf(found: Found, seen: Set<Element>): Markup['strayAlt'] {
  const element = attr(found.node, 'alt') !== undefined && !TAKES_ALT.has(found.node.tagName) ? found.node : null;
  const stray = element ?? found.surroundings.strayAlt;
  if (!stray || seen.has(stray)) return null;
  seen.add(stray);
  return { element: stray.tagName, text: collapse(attr(stray, 'alt')!) };
}

function fillsFigure({ node, surroundings: { figure } }: Found): boolean {
  if (!figure) return false;
  const skip = (n: Element) => n === node || n.tagName === 'figcaption';
  for (const n of descendants(figure, { skip })) {
    if (isText(n) && !isBlank(n.value)) return false;
    if (isElement(n) && appearanceElement(n) && n.tagName !== 'source') return false;
  }
  return true;
}

const OWN_BLOCKS = new Set(['p', 'div', 'center', 'dd', 'td', 'blockquote']);
/** Nodes of a block that holds one picture only. */
const FEW_NODES = 8;

/** Whether the nearest block around a picture, such as a paragraph, holds the picture and nothing to read. */
function isAloneInBlock(node: Element): boolean {
  let block = elementAbove(node);
  while (block && ['a', 'span', 'picture', 'b', 'i', 'em', 'strong', 'font'].includes(block.tagName))
    block = elementAbove(block);
  if (!block || !OWN_BLOCKS.has(block.tagName)) return false;
  const inside = descendants(block, { limit: FEW_NODES + 1 });
  if (inside.length > FEW_NODES) return false;
  return inside.every((n) => (isText(n) ? isBlank(n.value) : !isElement(n) || n === node || !appearanceElement(n)));
}

function describe(found: Found, order: number, s: Sources, once: GivenOnce): Appearance {
  const { node, element, surroundings, background } = found;
  const exposure = takesNoWords(found) ? UNHEARD : exposureOf(node, s.index);
  const { svg, templated, layout, location } = s.stands(node, element);
  return {
    order,
    element,
    state: stateOf(node, exposure),
    markup: {
      ...sourceOf(node, element),
      ...(background ? { src: background.src, sheet: background.sheet, lazy: false } : {}),
      candidates: candidatesOf(node, surroundings.picture),
      svg,
      alt: attr(node, 'alt') ?? null,
      title: attr(node, 'title') ?? null,
      ariaLabel: attr(node, 'aria-label') ?? null,
      ownRole: explicitRole(node) ?? null,
      ariaHidden: attr(node, 'aria-hidden')?.toLowerCase() === 'true',
      focusable: isFocusable(node),
      strayAlt: strayAltOf(found, once.strayAlts),
      map: element === 'area' ? surroundings.map : (attr(node, 'usemap')?.replace(/^#/, '') ?? null),
      templated,
    },
    accessible: {
      ...exposure,
      descriptions: takesNoWords(found) ? [] : descriptionsOf(node, surroundings.figure, s.index),
    },
    context: {
      lang: surroundings.lang,
      headings: found.headings,
      ...passageAround({ at: found.at, block: found.block, region: surroundings.region }, s.chunks),
      ...captionAt(node, surroundings.figure),
      creditLine: creditLineOf(node),
      formula: formulaMarkupOf(node),
      control: controlOf(found, s.index, once.controls),
      cardHref: element === 'img' && !surroundings.control ? cardHref(node) : null,
      run: once.runs.get(found) ?? null,
      heading: surroundings.heading ? collapse(textOf(surroundings.heading)) : null,
      fillsFigure: fillsFigure(found),
      isAlone: isAloneInBlock(node),
      place: s.places.of(node),
      region: surroundings.region,
    },
    layout,
    location,
  };
}

function captionAt(
  node: Element,
  figure: Element | null,
): Pick<Appearance['context'], 'caption' | 'captionFrom' | 'captionSlot'> {
  const found = captionElementOf(node, figure);
  const caption = found && captionText(found);
  const isCaptionElement = found && (found.from === 'figcaption' || found.from === 'caption' || found.from === 'class');
  return {
    caption,
    captionFrom: caption ? found.from : null,
    captionSlot: isCaptionElement ? (found.isPlain ? 'plain' : 'markup') : figure ? 'new' : null,
  };
}

/** What shows a picture and has no words for it: screen readers skip it. */
const UNHEARD: Exposure = { role: 'none', name: '', nameSource: null, hidden: null, ignored: true };

/** Described: something is heard. Decorative: nothing is, on purpose. Missing: nothing is, and nobody said why. */
export function stateOf(node: Element, exposure: Exposure): State {
  if (exposure.hidden && exposure.hidden !== 'aria-hidden') {
    const alt = attr(node, 'alt');
    if (alt === '' || node.namespaceURI === SVG_NS) return 'decorative';
    return isBlank(alt ?? attr(node, 'aria-label')) ? 'missing' : 'described';
  }
  if (exposure.ignored) return 'decorative';
  return isBlank(exposure.name) || exposure.nameSource === 'default' ? 'missing' : 'described';
}

function controlOf(found: Found, index: NameIndex, seen: Set<Element>): Control | null {
  const { node, element } = found;
  const own = element === 'input' || (element === 'area' && attr(node, 'href') !== undefined);
  const control = own ? node : found.surroundings.control;
  if (!control) return null;
  const [name, source] = nameOf(control, index);
  const first = !seen.has(control);
  seen.add(control);
  const link = control.tagName === 'a' || control.tagName === 'area' || explicitRole(control) === 'link';
  return {
    kind: link ? 'link' : 'button',
    name,
    defaultName: source === 'default',
    href: attr(control, 'href') ?? null,
    text: own ? '' : heardText(control, index),
    first,
    hidden: index.hidden(control) !== null,
  };
}

/** The text of an element without what is hidden in it. */
function heardText(element: Element, index: NameIndex): string {
  let text = '';
  const skip = (n: Element) => UNREAD.has(n.tagName) || index.hidden(n) !== null;
  for (const n of descendants(element, { skip })) if (isText(n)) text += n.value;
  return collapse(text);
}
