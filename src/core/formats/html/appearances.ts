import { serializeOuter } from 'parse5';
import {
  MOST_APPEARANCES,
  takesNoWords,
  type ApartPicture,
  type Appearance,
  type AppearanceElement,
  type Control,
  type PageReading,
  type State,
} from '../../model/appearance';
import { backgroundsOf, cssOf, importsOf, type Background, type StyleSheet } from './backgrounds';
import { NameIndex, explicitRole, exposureOf, isFocusable, nameOf, type Exposure } from './accname';
import { decodeHtml } from './charset';
import { descriptionsOf } from './descriptions';
import { parseHtml } from './parse';
import { mergeReadings } from './rendered';
import { renderedTree, type DomSnapshot, type RenderedTree } from './snapshot';
import { parseSrcset, type Candidate } from './srcset';
import {
  SVG_NS,
  UNREAD,
  attr,
  childrenOf,
  collapse,
  elementsOf,
  isBlank,
  isElement,
  isText,
  parentOf,
  styleOf,
  textOf,
  type Element,
  type Node,
} from './tree';

/** How much of the passage is kept on each side, in UTF-16 code units. */
const PASSAGE = 320;
const MAX_PLACE = 24;
const NONE: readonly never[] = [];
const IMAGE_FILE = /\.(?:png|jpe?g|gif|webp|avif|svg|bmp|ico|tiff?)(?:[?#]|$)/i;
const TEMPLATE_SYNTAX = /\{\{|\{%|<%|<\?|\$\{|\[\[/;
const HEADING = /^h([1-6])$/;
const FLOW = new Set(
  (
    'address article aside blockquote body caption dd details div dl dt fieldset figcaption figure footer form ' +
    'h1 h2 h3 h4 h5 h6 header hr li main nav ol p pre section summary table td th tr ul'
  ).split(' '),
);
const REGIONS: Record<string, Appearance['region']> = {
  header: 'header',
  banner: 'header',
  nav: 'nav',
  navigation: 'nav',
  main: 'main',
  aside: 'aside',
  complementary: 'aside',
  footer: 'footer',
  contentinfo: 'footer',
};

/** What an element inherits from those around it; shared between siblings, copied only when it changes. */
interface Context {
  lang: string | null;
  region: Appearance['region'];
  figure: Element | null;
  control: Element | null;
  map: string | null;
  picture: Element | null;
  heading: Element | null;
  /** Within `h1` to `h6`. */
  inHeading: boolean;
  /** The nearest element with an `alt` that it does not take. */
  strayAlt: Element | null;
  noscript: boolean;
}

interface Chunk {
  text: string;
  /** Number of the block of text it stands in. */
  block: number;
  heading: boolean;
  region: Appearance['region'];
}

interface Found {
  node: Element;
  element: AppearanceElement;
  context: Context;
  headings: string[];
  /** How many chunks of text stood before it, and in which block it stands. */
  at: number;
  block: number;
  background: Background | null;
}

/** Which kind of appearance an element is; null for everything that shows no picture. */
export function appearanceElement(node: Element): AppearanceElement | null {
  const tag = node.tagName;
  if (node.namespaceURI === SVG_NS) {
    const parent = parentOf(node);
    const nested = parent && isElement(parent) && parent.namespaceURI === SVG_NS && parent.tagName !== 'foreignObject';
    return tag === 'svg' && !nested ? 'svg' : null;
  }
  switch (tag) {
    case 'img':
    case 'area':
      return tag;
    case 'input':
      return attr(node, 'type')?.toLowerCase() === 'image' ? 'input' : null;
    case 'source': {
      const parent = parentOf(node);
      const inPicture = parent && isElement(parent) && parent.tagName === 'picture';
      return inPicture && (attr(node, 'srcset') ?? attr(node, 'data-srcset')) ? 'source' : null;
    }
    case 'canvas':
      // What stands inside is what assistive technology is given instead.
      return textOf(node).trim() === '' ? 'canvas' : null;
    case 'video':
      return attr(node, 'poster') || attr(node, 'data-poster') ? 'poster' : null;
    case 'object':
    case 'embed': {
      const type = attr(node, 'type')?.toLowerCase();
      const file = attr(node, tag === 'object' ? 'data' : 'src') ?? '';
      if (type ? type.startsWith('image/') : IMAGE_FILE.test(file)) return tag;
    }
  }
  return attr(node, 'role') !== undefined && explicitRole(node) === 'image' ? 'role-img' : null;
}

/** A reading of a document that is text already. */
export type SourceReading = Omit<PageReading, 'charset'>;

/**
 * Reads a page: every appearance of a picture with its place in the source, its accessible name and what
 * stands around it.
 *
 * @param transport the charset of the `Content-Type` header, where the page came with one
 */
export function readPage(bytes: Buffer, transport?: string, sheets: readonly StyleSheet[] = []): PageReading {
  const { text, charset } = decodeHtml(bytes, transport);
  return { charset, ...readSource(text, sheets) };
}

/**
 * A page that was read, with what only scripts and style sheets know of it.
 *
 * @param snapshot the page as a browser rendered it
 * @throws Error when the snapshot holds no document
 */
export function addRendered(page: PageReading, snapshot: DomSnapshot): PageReading {
  return { charset: page.charset, ...mergeReadings(page, ...readRendered(snapshot)) };
}

/** The same for a source that is decoded already. */
export function readSource(source: string, sheets: readonly StyleSheet[] = []): SourceReading {
  const parsed = parseHtml(source);
  const hasBackgrounds = sheets.length > 0 || /background/i.test(source);
  const lines = lineStarts(source);
  const stands = (node: Element, element: AppearanceElement): Standing => {
    const { start, end } = parsed.rangeOf(node)!;
    const [line, column] = position(start, lines);
    const markup = element === 'svg' ? source.slice(start, endOfSvg(source, end)) : null;
    const templated = TEMPLATE_SYNTAX.test(source.slice(start, end));
    const [shownWidth, shownHeight] = [pixels(node, 'width'), pixels(node, 'height')];
    return { start, end, line, column, markup, templated, shownWidth, shownHeight, fold: null, origin: 'source' };
  };
  const elements = elementsOf(parsed.document);
  const backgrounds = hasBackgrounds ? backgroundsOf(elements, sheets) : new Map<Element, Background[]>();
  const walk = walkDocument(parsed.document, backgrounds);
  // Backgrounds come last: which there are depends on style sheets, and the place of the others must not.
  const isBackground = (f: Found) => Number(f.element === 'css-background');
  const found = walk.found
    .filter((f) => parsed.rangeOf(f.node))
    .sort((a, b) => isBackground(a) - isBackground(b) || parsed.rangeOf(a.node)!.start - parsed.rangeOf(b.node)!.start);
  const index = new NameIndex(elements);
  return {
    ...walk.page,
    leftOut: Math.max(0, found.length - MOST_APPEARANCES),
    appearances: describeAll(found.slice(0, MOST_APPEARANCES), {
      index,
      places: new Places(),
      chunks: walk.chunks,
      stands,
    }),
    rendered: false,
  };
}

/** The appearances of a page as a browser painted it, and the address that their references are resolved against. */
function readRendered(snapshot: DomSnapshot): [SourceReading, base: string] {
  const tree = renderedTree(snapshot);
  const walk = walkDocument(tree.document, tree.backgrounds);
  const stands = (node: Element, element: AppearanceElement): Standing => ({
    start: 0,
    end: 0,
    line: 0,
    column: 0,
    markup: element === 'svg' ? serialized(node) : null,
    templated: false,
    ...laidOut(node, tree),
    origin: 'script',
  });
  const index = new NameIndex(elementsOf(tree.document), tree);
  const found = walk.found.slice(0, MOST_APPEARANCES);
  const appearances = describeAll(found, { index, places: new Places(), chunks: walk.chunks, stands });
  found.forEach(({ node, element }, i) => {
    const shown = appearances[i]!;
    if (element === 'img' && !shown.src?.trim()) shown.src = tree.chosen.get(node) ?? shown.src;
  });
  const leftOut = walk.found.length - found.length;
  return [{ ...walk.page, appearances, leftOut, rendered: true }, tree.base];
}

const WINDOW_HEIGHT = 800;

function laidOut(node: Element, { boxes }: RenderedTree): Pick<Standing, 'shownWidth' | 'shownHeight' | 'fold'> {
  const box = boxes.get(node);
  if (!box || box.width === 0 || box.height === 0) return { shownWidth: null, shownHeight: null, fold: null };
  const fold = box.y < WINDOW_HEIGHT ? 'above' : 'below';
  return { shownWidth: Math.round(box.width), shownHeight: Math.round(box.height), fold };
}

function serialized(node: Element): string {
  try {
    return serializeOuter(node);
  } catch {
    // Nested deeper than the library goes.
    return '<svg></svg>';
  }
}

/** Of a page that consists of headings, the first ones say what it is about. */
const MOST_HEADINGS = 12;
/** Words in the source below which a page with scripts says nearly nothing without them. */
const SHELL_WORDS = 30;

/** An index links the same few pages thousands of times. */
const withoutFragment = (href: string) => href.trim().split('#', 1)[0]!;

/** What the elements of a page say about the page itself. */
class PageFacts {
  title = '';
  description: string | null = null;
  lang: string | null = null;
  readonly followed = new Set<string>();
  /** Marked nofollow. */
  readonly marked = new Set<string>();
  readonly sheets: string[] = [];
  canonical: string | null = null;
  readonly directives: string[] = [];
  base: string | null = null;
  readonly apart: ApartPicture[] = [];
  /** How many scripts it runs. */
  scripts = 0;

  note(node: Element): void {
    const standing = apartPicture(node);
    if (standing) addApart(this.apart, standing);
    switch (node.tagName) {
      case 'html':
        this.lang = attr(node, 'lang') || null;
        break;
      case 'base':
        this.base ??= attr(node, 'href') ?? null;
        break;
      case 'title':
        if (node.namespaceURI !== SVG_NS) this.title ||= collapse(textOf(node));
        break;
      case 'a':
      case 'area': {
        const href = attr(node, 'href');
        if (href === undefined) break;
        const links = /\bnofollow\b/i.test(attr(node, 'rel') ?? '') ? this.marked : this.followed;
        links.add(withoutFragment(href));
        break;
      }
      case 'iframe':
      case 'frame': {
        const framed = attr(node, 'src');
        if (framed) this.followed.add(withoutFragment(framed));
        break;
      }
      case 'script':
        if (/^(?:$|module$|(?:text|application)\/(?:java|ecma)script)/i.test(attr(node, 'type') ?? '')) this.scripts++;
        break;
      case 'style':
        for (const sheet of importsOf(cssOf(node))) this.sheets.push(sheet);
        break;
      case 'link': {
        const href = attr(node, 'href');
        const rels = new Set((attr(node, 'rel') ?? '').toLowerCase().split(/\s+/));
        const forPrint = /^\s*print\s*$/i.test(attr(node, 'media') ?? '');
        if (href && (rels.has('next') || rels.has('prev'))) this.followed.add(withoutFragment(href));
        if (href !== undefined && rels.has('canonical')) this.canonical ??= href;
        if (href && rels.has('stylesheet') && !rels.has('alternate') && !forPrint) this.sheets.push(href);
        break;
      }
      case 'meta': {
        const [name, content] = [attr(node, 'name')?.toLowerCase(), attr(node, 'content') ?? ''];
        if (name === 'robots') for (const word of wordsBetweenCommas(content)) this.directives.push(word);
        if (name === 'description') this.description ??= collapse(content) || null;
      }
    }
  }
}

function walkDocument(document: Node, backgrounds: ReadonlyMap<Element, Background[]>) {
  const facts = new PageFacts();
  const chunks: Chunk[] = [];
  const found: Found[] = [];
  let words = 0;
  const outline: { level: number; text: string }[] = [];
  const headings: string[] = [];
  let block = 0;
  const start: Context = {
    lang: null,
    region: null,
    figure: null,
    control: null,
    map: null,
    picture: null,
    heading: null,
    inHeading: false,
    strayAlt: null,
    noscript: false,
  };
  // Two stacks instead of one of pairs: a page has tens of thousands of nodes. Null ends a block of text.
  const todo: (Node | null)[] = [document];
  const contexts: Context[] = [start];
  while (todo.length > 0) {
    const node = todo.pop()!;
    const outer = contexts.pop()!;
    if (node === null) {
      block++;
      continue;
    }
    if (isText(node)) {
      const said = !isBlank(node.value);
      if (said || chunks.length > 0)
        chunks.push({ text: said ? node.value : ' ', block, heading: outer.inHeading, region: outer.region });
      if (said && !outer.noscript && words < SHELL_WORDS) words += collapse(node.value).split(' ').length;
      continue;
    }
    let context = outer;
    if (isElement(node)) {
      const tag = node.tagName;
      const own = backgrounds.get(node) ?? NONE;
      if (own.length > 0 || isTelling(node)) {
        context = enter(node, outer);
        facts.note(node);
        const level = HEADING.exec(tag)?.[1];
        if (level) {
          while (outline.length > 0 && outline.at(-1)!.level >= Number(level)) outline.pop();
          const text = collapse(textOf(node));
          if (text) outline.push({ level: Number(level), text });
          if (text && Number(level) <= 3 && headings.length < MOST_HEADINGS) headings.push(text);
        }
        const element = appearanceElement(node);
        const find = (kind: AppearanceElement, background: Background | null) => {
          const headings = outline.map((h) => h.text);
          found.push({ node, context, headings, at: chunks.length, block, element: kind, background });
        };
        if (element) find(element, element === 'role-img' ? (own[0] ?? null) : null);
        if (element !== 'role-img') for (const background of own) find('css-background', background);
        if (own.length === 0 && LAZY_BACKGROUND.some((name) => attr(node, name))) find('css-background', null);
      }
      if ((UNREAD.has(tag) && tag !== 'head') || (tag === 'svg' && node.namespaceURI === SVG_NS)) continue;
      if (FLOW.has(tag)) {
        block++;
        todo.push(null);
        contexts.push(outer);
      }
    }
    const children = childrenOf(node);
    for (let i = children.length - 1; i >= 0; i--) {
      todo.push(children[i]!);
      contexts.push(context);
    }
  }
  const { scripts, followed, marked, ...told } = facts;
  const shell = scripts > 0 && words < SHELL_WORDS && found.every((f) => f.context.noscript);
  const late = found.some(
    ({ node, element }) =>
      element === 'img' &&
      attr(node, 'loading')?.toLowerCase() === 'lazy' &&
      !(attr(node, 'width') && attr(node, 'height')),
  );
  const links = { links: [...followed], unfollowed: [...marked] };
  return { chunks, found, page: { ...told, ...links, headings, shell, stirs: scripts > 0 || late } };
}

/** A picture that a page's head names for use elsewhere; words for the preview come in an element of their own. */
function apartPicture(node: Element): ApartPicture | { wordsForPreview: string } | null {
  if (node.tagName === 'link' && /(?:^|\s)(?:icon|apple-touch-icon|mask-icon)(?:\s|$)/i.test(attr(node, 'rel') ?? '')) {
    const src = attr(node, 'href')?.trim();
    return src ? { kind: 'icon', src, alt: null } : null;
  }
  if (node.tagName !== 'meta') return null;
  const property = (attr(node, 'property') ?? attr(node, 'name') ?? '').toLowerCase();
  const content = attr(node, 'content')?.trim();
  if (!content) return null;
  if (/^(?:og|twitter):image(?::(?:url|src))?$/.test(property)) return { kind: 'preview', src: content, alt: null };
  return /^(?:og|twitter):image:alt$/.test(property) ? { wordsForPreview: content } : null;
}

/** Words belong to the preview before them (Open Graph protocol, structured properties). */
function addApart(apart: ApartPicture[], found: ApartPicture | { wordsForPreview: string }): void {
  if ('src' in found) {
    if (!apart.some((a) => a.kind === found.kind && a.src === found.src)) apart.push(found);
    return;
  }
  const preview = apart.findLast((a) => a.kind === 'preview');
  if (preview) preview.alt ??= found.wordsForPreview;
}

const wordsBetweenCommas = (text: string) =>
  text
    .toLowerCase()
    .split(',')
    .map((word) => word.trim())
    .filter(Boolean);

/** HTML Living Standard; `applet` is obsolete and had one. */
const TAKES_ALT = new Set(['img', 'area', 'input', 'applet']);

function enter(node: Element, outer: Context): Context {
  const tag = node.tagName;
  const role = explicitRole(node);
  const lang = attr(node, 'lang');
  const region = REGIONS[role ?? tag];
  const isControl =
    (tag === 'a' && attr(node, 'href') !== undefined) || tag === 'button' || role === 'link' || role === 'button';
  const stray = attr(node, 'alt') !== undefined && !TAKES_ALT.has(tag) ? node : outer.strayAlt;
  const inHeading = HEADING.test(tag);
  const isHeading = inHeading || role === 'heading';
  if (!lang && !region && !isControl && stray === outer.strayAlt && !isHeading && !SETS_CONTEXT.has(tag)) return outer;
  return {
    lang: lang || outer.lang,
    region: region ?? outer.region,
    figure: tag === 'figure' ? node : outer.figure,
    control: isControl ? node : outer.control,
    map: tag === 'map' ? (attr(node, 'name') ?? null) : outer.map,
    picture: tag === 'picture' ? node : outer.picture,
    heading: isHeading ? node : outer.heading,
    inHeading: inHeading || outer.inHeading,
    strayAlt: stray,
    noscript: outer.noscript || tag === 'noscript',
  };
}

/** Elements that matter to the pictures in them, besides those that the code around here names by role or attribute. */
const SETS_CONTEXT = new Set(['figure', 'map', 'picture', 'noscript']);

/** Elements that say something by their name; most of a page is `span`, `code`, `p` and their like. */
const TELLING = new Set(
  (
    'html head base title link meta script style template noscript a area iframe frame button h1 h2 h3 h4 h5 h6 header ' +
    'nav main aside footer figure picture source img map input canvas video object embed svg textarea select'
  ).split(' '),
);

/** Whether an element may say anything but the text in it. */
function isTelling({ tagName, attrs }: Element): boolean {
  if (TELLING.has(tagName)) return true;
  for (const { name } of attrs)
    if (name === 'role' || name === 'lang' || name === 'alt' || isLazyBackground(name)) return true;
  return false;
}

/** Template places of a page: the path of element names and classes from the body. */
class Places {
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
type Standing = Pick<
  Appearance,
  'start' | 'end' | 'line' | 'column' | 'markup' | 'templated' | 'shownWidth' | 'shownHeight' | 'fold' | 'origin'
>;

interface Sources {
  index: NameIndex;
  places: Places;
  chunks: Chunk[];
  stands(node: Element, element: AppearanceElement): Standing;
}

function describeAll(found: Found[], sources: Sources): Appearance[] {
  const seen: Seen = { controls: new Set(), strayAlts: new Set(), runs: runsOf(found, sources.chunks) };
  return found.map((f, order) => describe(f, order, sources, seen));
}

/** What is told once, with the first picture that it concerns. */
interface Seen {
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

function strayAltOf(found: Found, seen: Set<Element>): Appearance['strayAlt'] {
  const element = attr(found.node, 'alt') !== undefined && !TAKES_ALT.has(found.node.tagName) ? found.node : null;
  const stray = element ?? found.context.strayAlt;
  if (!stray || seen.has(stray)) return null;
  seen.add(stray);
  return { element: stray.tagName, text: collapse(attr(stray, 'alt')!) };
}

function fillsFigure({ node, context }: Found): boolean {
  if (!context.figure) return false;
  const todo: Node[] = [...context.figure.childNodes];
  for (let n = todo.pop(); n; n = todo.pop()) {
    if (isText(n) && !isBlank(n.value)) return false;
    if (!isElement(n) || n.tagName === 'figcaption' || n === node) continue;
    if (appearanceElement(n) && n.tagName !== 'source') return false;
    for (const child of n.childNodes) todo.push(child);
  }
  return true;
}

function describe(found: Found, order: number, s: Sources, seen: Seen): Appearance {
  const { node, element, context } = found;
  const exposure = takesNoWords(found) ? UNHEARD : exposureOf(node, s.index);
  return {
    order,
    element,
    ...s.stands(node, element),
    ...sourceOf(node, element),
    ...(found.background ? { src: found.background.src, sheet: found.background.sheet, lazy: false } : {}),
    candidates: candidatesOf(node, context),
    alt: attr(node, 'alt') ?? null,
    title: attr(node, 'title') ?? null,
    ariaLabel: attr(node, 'aria-label') ?? null,
    role: exposure.role,
    name: exposure.name,
    nameSource: exposure.nameSource,
    hidden: exposure.hidden,
    ignored: exposure.ignored,
    state: stateOf(node, exposure),
    lang: context.lang,
    headings: found.headings,
    ...passageAround(found, s.chunks),
    caption: captionOf(context.figure),
    control: controlOf(found, s.index, seen.controls),
    ownRole: explicitRole(node) ?? null,
    ariaHidden: attr(node, 'aria-hidden')?.toLowerCase() === 'true',
    focusable: isFocusable(node),
    strayAlt: strayAltOf(found, seen.strayAlts),
    descriptions: takesNoWords(found) ? [] : descriptionsOf(node, context.figure, s.index),
    run: seen.runs.get(found) ?? null,
    heading: context.heading ? collapse(textOf(context.heading)) : null,
    fillsFigure: fillsFigure(found),
    map: element === 'area' ? context.map : (attr(node, 'usemap')?.replace(/^#/, '') ?? null),
    place: s.places.of(node),
    region: context.region,
  };
}

/** What shows a picture and has no words for it: nobody hears that it is there. */
const UNHEARD: Exposure = { role: 'none', name: '', nameSource: null, hidden: null, ignored: true };

/** Said: something is heard. Silent: nothing is, on purpose. Unsaid: nothing is, and nobody said why. */
export function stateOf(node: Element, exposure: Exposure): State {
  if (exposure.hidden && exposure.hidden !== 'aria-hidden') {
    const alt = attr(node, 'alt');
    if (alt === '' || node.namespaceURI === SVG_NS) return 'silent';
    return isBlank(alt ?? attr(node, 'aria-label')) ? 'unsaid' : 'said';
  }
  if (exposure.ignored) return 'silent';
  return isBlank(exposure.name) || exposure.nameSource === 'default' ? 'unsaid' : 'said';
}

/** The usual attributes in which pages keep an address until a script shows the picture (common practice). */
const LAZY = ['data-src', 'data-lazy-src', 'data-original', 'data-lazy', 'data-echo', 'data-defer-src'];
const LAZY_SET = ['data-srcset', 'data-lazy-srcset'];
const LAZY_BACKGROUND = ['data-bg', 'data-background', 'data-background-image'];
const isLazyBackground = (name: string) => name.startsWith('data-b') && LAZY_BACKGROUND.includes(name);

function firstOf(node: Element, names: readonly string[]): string | undefined {
  for (const name of names) {
    const value = attr(node, name)?.trim();
    if (value) return value;
  }
  return undefined;
}

function sourceOf(node: Element, element: AppearanceElement): Pick<Appearance, 'src' | 'lazy' | 'sheet'> {
  const plain = { lazy: false, sheet: null };
  const orLater = (src: string, names: readonly string[]) => {
    const later = src === '' || src.startsWith('data:') ? firstOf(node, names) : undefined;
    return { src: later ?? src, lazy: later !== undefined, sheet: null };
  };
  switch (element) {
    case 'object':
      return { ...plain, src: attr(node, 'data') ?? '' };
    case 'input':
    case 'embed':
      return { ...plain, src: attr(node, 'src') ?? '' };
    case 'poster':
      return orLater(attr(node, 'poster') ?? '', ['data-poster']);
    case 'img':
      return orLater(attr(node, 'src') ?? '', LAZY);
    case 'source': {
      const set = attr(node, 'srcset');
      return { src: parseSrcset(set ?? firstOf(node, LAZY_SET) ?? '')[0]?.src ?? '', lazy: !set, sheet: null };
    }
    case 'svg':
      return { ...plain, src: usedFile(node) };
    case 'css-background': {
      const value = firstOf(node, LAZY_BACKGROUND) ?? '';
      return { src: /url\(\s*["']?([^"')]+)/i.exec(value)?.[1] ?? value, lazy: true, sheet: null };
    }
    default:
      return { ...plain, src: null };
  }
}

/** The file that an inline `svg` takes its shapes from (`use` of another document); null when it has its own. */
function usedFile(svg: Element): string | null {
  const todo: Node[] = [svg];
  for (let n = todo.pop(); n; n = todo.pop()) {
    const href = isElement(n) && n.tagName === 'use' ? attr(n, 'href')?.trim() : undefined;
    if (href && !href.startsWith('#')) return href;
    for (const child of childrenOf(n)) todo.push(child);
  }
  return null;
}

function candidatesOf(node: Element, context: Context): Candidate[] {
  const set = (element: Element) => attr(element, 'srcset') ?? firstOf(element, LAZY_SET) ?? '';
  if (node.tagName === 'source') return parseSrcset(set(node), attr(node, 'media') ?? '');
  if (node.tagName !== 'img') return [];
  const sources = (context.picture?.childNodes ?? []).filter(
    (child): child is Element => isElement(child) && child.tagName === 'source',
  );
  return [...sources.flatMap((s) => parseSrcset(set(s), attr(s, 'media') ?? '')), ...parseSrcset(set(node))];
}

/** Where the markup of an inline `svg` ends: after its own end tag, inner ones counted. */
function endOfSvg(source: string, from: number): number {
  if (source[from - 2] === '/') return from;
  const tags = /<(\/?)svg\b[^>]*?(\/?)>/gi;
  tags.lastIndex = from;
  let depth = 1;
  for (let m = tags.exec(source); m; m = tags.exec(source)) {
    if (m[2]) continue;
    depth += m[1] ? -1 : 1;
    if (depth === 0) return tags.lastIndex;
  }
  return source.length;
}

function pixels(node: Element, property: 'width' | 'height'): number | null {
  const css = /^(\d+(?:\.\d+)?)px$/.exec(styleOf(node, property) ?? '')?.[1];
  const value = css ?? /^\s*(\d+(?:\.\d+)?)\s*(?:px)?\s*$/.exec(attr(node, property) ?? '')?.[1];
  return value === undefined || Number(value) > MOST_SHOWN ? null : Number(value);
}

/** CSS pixels of a side; what says it is larger is shown on no screen. */
const MOST_SHOWN = 100_000;

function captionOf(figure: Element | null): string | null {
  if (!figure) return null;
  const todo: Node[] = [...figure.childNodes];
  for (let n = todo.shift(); n; n = todo.shift()) {
    if (!isElement(n)) continue;
    if (n.tagName === 'figcaption') return collapse(textOf(n)) || null;
    if (n.tagName !== 'figure') for (const child of n.childNodes) todo.push(child);
  }
  return null;
}

function controlOf(found: Found, index: NameIndex, seen: Set<Element>): Control | null {
  const { node, element } = found;
  const own = element === 'input' || (element === 'area' && attr(node, 'href') !== undefined);
  const control = own ? node : found.context.control;
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
  const todo: Node[] = [element];
  while (todo.length > 0) {
    const node = todo.pop()!;
    if (isText(node)) text += node.value;
    if (isElement(node) && node !== element && (UNREAD.has(node.tagName) || index.hidden(node) !== null)) continue;
    const children = childrenOf(node);
    for (let i = children.length - 1; i >= 0; i--) todo.push(children[i]!);
  }
  return collapse(text);
}

/**
 * What is read just before and just after the picture: its own block of text whole, then further blocks
 * until a heading, the end of its region, or until there is enough.
 */
function passageAround(found: Found, chunks: Chunk[]): Pick<Appearance, 'before' | 'after' | 'nextHeading'> {
  const gather = (from: number, step: 1 | -1) => {
    let text = '';
    let block = found.block;
    for (let i = from; i >= 0 && i < chunks.length; i += step) {
      const chunk = chunks[i]!;
      if ((chunk.heading && chunk.block !== found.block) || chunk.region !== found.context.region) break;
      if (chunk.block !== block) {
        if (text.trim().length > PASSAGE / 3) break;
        block = chunk.block;
        text = step < 0 ? ` ${text}` : `${text} `;
      }
      text = step < 0 ? chunk.text + text : text + chunk.text;
      if (text.length > PASSAGE) break;
    }
    return collapse(text);
  };
  const before = gather(found.at - 1, -1);
  const after = gather(found.at, 1);
  const next = chunks.slice(found.at, found.at + 8).find((c) => !isBlank(c.text));
  const heading = next?.heading && next.block !== found.block ? next.block : null;
  return {
    nextHeading:
      heading === null
        ? null
        : collapse(
            chunks
              .slice(found.at, found.at + 40)
              .filter((c) => c.block === heading)
              .map((c) => c.text)
              .join(''),
          ),
    before: before.length > PASSAGE ? `…${before.slice(-PASSAGE).replace(/^\S*\s/, '')}` : before,
    after: after.length > PASSAGE ? `${after.slice(0, PASSAGE).replace(/\s\S*$/, '')}…` : after,
  };
}

function lineStarts(source: string): number[] {
  const starts = [0];
  // Twenty times faster, and as good where there is nothing but line feeds.
  if (!source.includes('\r'))
    for (let at = source.indexOf('\n'); at >= 0; at = source.indexOf('\n', at + 1)) starts.push(at + 1);
  else for (const end of source.matchAll(/\r\n?|\n/g)) starts.push(end.index + end[0].length);
  return starts;
}

function position(offset: number, starts: number[]): [line: number, column: number] {
  let low = 0;
  let high = starts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (starts[middle]! <= offset) low = middle;
    else high = middle - 1;
  }
  return [low + 1, offset - starts[low]! + 1];
}
