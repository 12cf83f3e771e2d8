import {
  takesNoWords,
  type Appearance,
  type AppearanceElement,
  type Control,
  type PageReading,
  type State,
} from '../appearance';
import { backgroundsOf, type Background, type StyleSheet } from './backgrounds';
import { NameIndex, explicitRole, exposureOf, nameOf, type Exposure } from './accname';
import { decodeHtml } from './charset';
import { parseHtml, type ParsedHtml } from './parse';
import { parseSrcset, type Candidate } from './srcset';
import {
  SVG_NS,
  UNREAD,
  attr,
  childrenOf,
  collapse,
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
  place: string;
  depth: number;
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
    case 'video':
      return attr(node, 'poster') ? 'poster' : null;
    case 'object':
    case 'embed': {
      const type = attr(node, 'type')?.toLowerCase();
      const file = attr(node, tag === 'object' ? 'data' : 'src') ?? '';
      if (type ? type.startsWith('image/') : IMAGE_FILE.test(file)) return tag;
    }
  }
  return attr(node, 'role') !== undefined && explicitRole(node) === 'image' ? 'role-img' : null;
}

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

/** The same for a source that is decoded already. */
export function readSource(source: string, sheets: readonly StyleSheet[] = []): Omit<PageReading, 'charset'> {
  const parsed = parseHtml(source);
  const index = new NameIndex(parsed.document);
  const hasBackgrounds = sheets.length > 0 || /background/i.test(source);
  const walk = walkDocument(parsed, hasBackgrounds ? backgroundsOf(parsed.document, sheets) : new Map());
  const lines = lineStarts(source);
  const seenControls = new Set<Element>();
  const appearances = walk.found
    .filter((f) => parsed.rangeOf(f.node))
    .sort((a, b) => parsed.rangeOf(a.node)!.start - parsed.rangeOf(b.node)!.start)
    .map((f, order) => describe(f, order, { source, parsed, index, chunks: walk.chunks, lines, seenControls }));
  const { title, lang, links, unfollowed, sheets: linked, canonical, directives, base } = walk;
  return { title, lang, appearances, links, unfollowed, sheets: linked, canonical, directives, base };
}

function walkDocument(parsed: ParsedHtml, backgrounds: ReadonlyMap<Element, Background[]>) {
  const chunks: Chunk[] = [];
  const found: Found[] = [];
  const links: string[] = [];
  const unfollowed: string[] = [];
  const directives: string[] = [];
  const sheets: string[] = [];
  let canonical: string | null = null;
  const outline: { level: number; text: string }[] = [];
  let title = '';
  let lang: string | null = null;
  let base: string | null = null;
  let block = 0;
  const start: Context = {
    lang: null,
    region: null,
    figure: null,
    control: null,
    map: null,
    picture: null,
    place: '',
    depth: 0,
  };
  const todo: ([Node, Context, boolean] | null)[] = [[parsed.document, start, false]];
  while (todo.length > 0) {
    const item = todo.pop()!;
    if (item === null) {
      block++;
      continue;
    }
    const [node, outer, inHeading] = item;
    if (isText(node)) {
      if (!isBlank(node.value)) chunks.push({ text: node.value, block, heading: inHeading, region: outer.region });
      else if (chunks.length > 0) chunks.push({ text: ' ', block, heading: inHeading, region: outer.region });
      continue;
    }
    let context = outer;
    let heading = inHeading;
    if (isElement(node)) {
      const tag = node.tagName;
      if (tag === 'html') lang = attr(node, 'lang') || null;
      if (tag === 'base') base ??= attr(node, 'href') ?? null;
      if (tag === 'title' && node.namespaceURI !== SVG_NS) title ||= collapse(textOf(node));
      context = enter(node, outer);
      const href = attr(node, 'href');
      const rel = attr(node, 'rel') ?? '';
      if (href !== undefined && (tag === 'a' || tag === 'area')) {
        if (/\bnofollow\b/i.test(rel)) unfollowed.push(href);
        else links.push(href);
      }
      if (href !== undefined && tag === 'link' && /(?:^|\s)canonical(?:\s|$)/i.test(rel)) canonical ??= href;
      if (
        href &&
        tag === 'link' &&
        /(?:^|\s)stylesheet(?:\s|$)/i.test(rel) &&
        !/^\s*print\s*$/i.test(attr(node, 'media') ?? '')
      )
        sheets.push(href);
      if (tag === 'meta' && /^robots$/i.test(attr(node, 'name') ?? ''))
        directives.push(...wordsBetweenCommas(attr(node, 'content') ?? ''));
      const level = HEADING.exec(tag)?.[1];
      if (level) {
        heading = true;
        while (outline.length > 0 && outline.at(-1)!.level >= Number(level)) outline.pop();
        const text = collapse(textOf(node));
        if (text) outline.push({ level: Number(level), text });
      }
      const element = appearanceElement(node);
      const own = backgrounds.get(node) ?? [];
      const here = { node, context, headings: outline.map((h) => h.text), at: chunks.length, block };
      if (element) found.push({ ...here, element, background: element === 'role-img' ? (own[0] ?? null) : null });
      if (element !== 'role-img')
        for (const background of own) found.push({ ...here, element: 'css-background', background });
      if (UNREAD.has(tag) && tag !== 'head') continue;
      if (node.namespaceURI === SVG_NS && tag === 'svg') continue;
      if (FLOW.has(tag)) {
        block++;
        todo.push(null);
      }
    }
    const children = childrenOf(node);
    for (let i = children.length - 1; i >= 0; i--) todo.push([children[i]!, context, heading]);
  }
  return { chunks, found, links, unfollowed, sheets, canonical, directives, title, lang, base };
}

const wordsBetweenCommas = (text: string) =>
  text
    .toLowerCase()
    .split(',')
    .map((word) => word.trim())
    .filter(Boolean);

function enter(node: Element, outer: Context): Context {
  const tag = node.tagName;
  const lang = attr(node, 'lang');
  const region = REGIONS[explicitRole(node) ?? tag];
  const isControl =
    (tag === 'a' && attr(node, 'href') !== undefined) ||
    tag === 'button' ||
    ['link', 'button'].includes(explicitRole(node) ?? '');
  const structural = tag !== 'html' && tag !== 'body' && outer.depth < MAX_PLACE;
  if (!structural && !lang && !region && tag !== 'map' && !isControl && tag !== 'figure') return outer;
  const classes = (attr(node, 'class') ?? '').split(/\s+/).filter(Boolean).slice(0, 2);
  return {
    lang: lang || outer.lang,
    region: region ?? outer.region,
    figure: tag === 'figure' ? node : outer.figure,
    control: isControl ? node : outer.control,
    map: tag === 'map' ? (attr(node, 'name') ?? null) : outer.map,
    picture: tag === 'picture' ? node : outer.picture,
    place: structural ? `${outer.place}${outer.place && '>'}${[tag, ...classes].join('.')}` : outer.place,
    depth: outer.depth + 1,
  };
}

interface Sources {
  source: string;
  parsed: ParsedHtml;
  index: NameIndex;
  chunks: Chunk[];
  lines: number[];
  seenControls: Set<Element>;
}

function describe(found: Found, order: number, s: Sources): Appearance {
  const { node, element, context } = found;
  const range = s.parsed.rangeOf(node)!;
  const exposure = takesNoWords(found) ? UNHEARD : exposureOf(node, s.index);
  const [line, column] = position(range.start, s.lines);
  return {
    order,
    element,
    start: range.start,
    end: range.end,
    line,
    column,
    ...sourceOf(node, element),
    ...(found.background ? { src: found.background.src, sheet: found.background.sheet } : {}),
    candidates: candidatesOf(node, context),
    markup: element === 'svg' ? s.source.slice(range.start, endOfSvg(s.source, range.end)) : null,
    alt: attr(node, 'alt') ?? null,
    title: attr(node, 'title') ?? null,
    ariaLabel: attr(node, 'aria-label') ?? null,
    role: exposure.role,
    name: exposure.name,
    nameSource: exposure.nameSource,
    hidden: exposure.hidden,
    ignored: exposure.ignored,
    state: stateOf(node, exposure),
    templated: TEMPLATE_SYNTAX.test(s.source.slice(range.start, range.end)),
    shownWidth: pixels(node, 'width'),
    shownHeight: pixels(node, 'height'),
    lang: context.lang,
    headings: found.headings,
    ...passageAround(found, s.chunks),
    caption: captionOf(context.figure),
    control: controlOf(found, s),
    map: element === 'area' ? context.map : (attr(node, 'usemap')?.replace(/^#/, '') ?? null),
    place: context.place,
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

/** The usual attributes in which pages keep the address until a script shows the picture (common practice). */
const LAZY = ['data-src', 'data-lazy-src', 'data-original', 'data-lazy'];

function sourceOf(node: Element, element: AppearanceElement): Pick<Appearance, 'src' | 'lazy' | 'sheet'> {
  const plain = { lazy: false, sheet: null };
  if (element === 'object') return { ...plain, src: attr(node, 'data') ?? '' };
  if (element === 'poster') return { ...plain, src: attr(node, 'poster') ?? '' };
  if (element === 'input' || element === 'embed') return { ...plain, src: attr(node, 'src') ?? '' };
  if (element !== 'img') return { ...plain, src: null };
  const src = attr(node, 'src') ?? '';
  const later = src === '' || src.startsWith('data:') ? LAZY.map((n) => attr(node, n)).find(Boolean) : undefined;
  return { src: later ?? src, lazy: later !== undefined, sheet: null };
}

function candidatesOf(node: Element, context: Context): Candidate[] {
  const own = attr(node, 'srcset');
  const out: Candidate[] = [];
  for (const child of context.picture?.childNodes ?? [])
    if (isElement(child) && child.tagName === 'source')
      out.push(...parseSrcset(attr(child, 'srcset') ?? '', attr(child, 'media') ?? ''));
  return node.tagName === 'img' && own ? [...out, ...parseSrcset(own)] : out;
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
  return value === undefined ? null : Number(value);
}

function captionOf(figure: Element | null): string | null {
  if (!figure) return null;
  const todo: Node[] = [...figure.childNodes];
  for (let n = todo.shift(); n; n = todo.shift()) {
    if (!isElement(n)) continue;
    if (n.tagName === 'figcaption') return collapse(textOf(n)) || null;
    if (n.tagName !== 'figure') todo.push(...n.childNodes);
  }
  return null;
}

function controlOf(found: Found, s: Sources): Control | null {
  const { node, element } = found;
  const own = element === 'input' || (element === 'area' && attr(node, 'href') !== undefined);
  const control = own ? node : found.context.control;
  if (!control) return null;
  const [name, source] = nameOf(control, s.index);
  const first = !s.seenControls.has(control);
  s.seenControls.add(control);
  const link = control.tagName === 'a' || control.tagName === 'area' || explicitRole(control) === 'link';
  return {
    kind: link ? 'link' : 'button',
    name,
    defaultName: source === 'default',
    href: attr(control, 'href') ?? null,
    text: own ? '' : collapse(textOf(control)),
    first,
    hidden: s.index.hidden(control) !== null,
  };
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
  const breaks = /\r\n?|\n/g;
  while (breaks.exec(source)) starts.push(breaks.lastIndex);
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
