import type { AppearanceElement, Region } from '../../model/appearance';
import { explicitRole } from './accname';
import { appearanceElement } from './appearance-element';
import type { Background } from './backgrounds';
import { LAZY_BACKGROUND, isLazyBackground } from './image-source';
import { PageFacts } from './page-facts';
import type { Chunk } from './passage';
import { SVG_NS, UNREAD, attr, childrenOf, isElement, isText, textOf, type Element, type Node } from './tree';
import { collapse, isBlank } from '../../white-space';

const NONE: readonly never[] = [];
const HEADING = /^h([1-6])$/;
const FLOW = new Set(
  (
    'address article aside blockquote body caption dd details div dl dt fieldset figcaption figure footer form ' +
    'h1 h2 h3 h4 h5 h6 header hr li main nav ol p pre section summary table td th tr ul'
  ).split(' '),
);
const REGIONS: Record<string, Region> = {
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
/** Of a page that consists of headings, the first ones say what it is about. */
const MOST_HEADINGS = 12;
/** Words in the source below which a page with scripts says nearly nothing without them. */
const SHELL_WORDS = 30;

/** What an element inherits from those around it; shared between siblings, copied only when it changes. */
export interface Surroundings {
  lang: string | null;
  region: Region | null;
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

/** An element that shows a picture, with what the walk met on the way to it. */
export interface Found {
  node: Element;
  element: AppearanceElement;
  surroundings: Surroundings;
  headings: string[];
  /** How many chunks of text stood before it, and in which block it stands. */
  at: number;
  block: number;
  background: Background | null;
}

/**
 * Walks a document once, in the order of its source.
 *
 * @param backgrounds what style sheets show behind its elements
 * @returns the elements that show pictures, the text between them, and what the page says of itself
 */
export function walkDocument(document: Node, backgrounds: ReadonlyMap<Element, Background[]>) {
  const facts = new PageFacts();
  const chunks: Chunk[] = [];
  const found: Found[] = [];
  let words = 0;
  const outline: { level: number; text: string }[] = [];
  const headings: string[] = [];
  let block = 0;
  const start: Surroundings = {
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
  const contexts: Surroundings[] = [start];
  while (todo.length > 0) {
    const node = todo.pop()!;
    const outer = contexts.pop()!;
    if (node === null) {
      block++;
      continue;
    }
    if (isText(node)) {
      const isRead = !isBlank(node.value);
      if (isRead || chunks.length > 0)
        chunks.push({ text: isRead ? node.value : ' ', block, heading: outer.inHeading, region: outer.region });
      if (isRead && !outer.noscript && words < SHELL_WORDS) words += collapse(node.value).split(' ').length;
      continue;
    }
    let surroundings = outer;
    if (isElement(node)) {
      const tag = node.tagName;
      const own = backgrounds.get(node) ?? NONE;
      if (own.length > 0 || mayMatter(node)) {
        surroundings = enter(node, outer);
        facts.note(node);
        const level = HEADING.exec(tag)?.[1];
        if (level) {
          while (outline.length > 0 && outline.at(-1)!.level >= Number(level)) outline.pop();
          const text = headingText(node);
          if (text) outline.push({ level: Number(level), text });
          if (text && Number(level) <= 3 && headings.length < MOST_HEADINGS) headings.push(text);
        }
        const element = appearanceElement(node);
        const find = (kind: AppearanceElement, background: Background | null) => {
          const headings = outline.map((h) => h.text);
          found.push({ node, surroundings, headings, at: chunks.length, block, element: kind, background });
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
      contexts.push(surroundings);
    }
  }
  const { scripts, followed, marked, ...said } = facts;
  const shell = scripts > 0 && words < SHELL_WORDS && found.every((f) => f.surroundings.noscript);
  const late = found.some(
    ({ node, element }) =>
      element === 'img' &&
      attr(node, 'loading')?.toLowerCase() === 'lazy' &&
      !(attr(node, 'width') && attr(node, 'height')),
  );
  const links = { links: [...followed], unfollowed: [...marked] };
  return { chunks, found, page: { ...said, ...links, headings, shell, isDynamic: scripts > 0 || late } };
}

/** What generators put into a heading as a link to itself (common practice). */
const SELF_LINK = /^[¶#§🔗]\ufe0e?$/u;

/** The text of a heading as it reads, without a sign that only links to it. */
function headingText(heading: Element): string {
  const isSelfLink = (e: Element) =>
    e.tagName === 'a' && SELF_LINK.test(collapse(textOf(e))) && attr(e, 'href')?.includes('#') === true;
  return collapse(textOf(heading, isSelfLink));
}

/** HTML Living Standard; `applet` is obsolete and had one. */
export const TAKES_ALT = new Set(['img', 'area', 'input', 'applet']);

function enter(node: Element, outer: Surroundings): Surroundings {
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
const MATTERING = new Set(
  (
    'html head base title link meta script style template noscript a area iframe frame button h1 h2 h3 h4 h5 h6 header ' +
    'nav main aside footer figure picture source img map input canvas video object embed svg textarea select'
  ).split(' '),
);

/** Whether an element may say anything but the text in it. */
function mayMatter({ tagName, attrs }: Element): boolean {
  if (MATTERING.has(tagName)) return true;
  for (const { name } of attrs)
    if (name === 'role' || name === 'lang' || name === 'alt' || isLazyBackground(name)) return true;
  return false;
}
