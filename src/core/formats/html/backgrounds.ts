import { compile, type Options } from 'css-select';
import * as csstree from 'css-tree';
import { attr, childrenOf, isElement, isText, parentOf, textOf, type Element, type Node } from './tree';
import type { StyleSheet } from '../../model/document';

export interface Background {
  /** As written. */
  src: string;
  /** The sheet it stands in; null for the page. */
  sheet: string | null;
  pseudo: 'before' | 'after' | null;
}

interface Declared {
  urls: string[];
  sheet: string | null;
  /** Ranks of the cascade: importance, specificity, order (CSS Cascading and Inheritance 4, 6.1). */
  rank: [important: number, a: number, b: number, c: number, order: number];
}

/** What one page may cost: selectors tried, and elements that get a background. */
const MOST_SELECTORS = 3000;
const MOST_BACKGROUNDS = 500;
const PROPERTIES = new Set(['background', 'background-image']);
/** States that a page at rest is not in; what they show, nobody sees at first. */
const DYNAMIC = /:(?:hover|focus|focus-visible|focus-within|active|visited|target|checked|disabled)\b/i;

/**
 * The background images of a page, given by its elements in order, by the elements that show them: of `style` attributes, `style` elements and the
 * linked sheets given. Media queries are taken to hold, except for print; `calc`, variables and scripts are not
 * known to a static reading.
 */
export function backgroundsOf(elements: readonly Element[], linked: readonly StyleSheet[]): Map<Element, Background[]> {
  const inPage = elements.filter((e) => e.tagName === 'style').map((e) => ({ address: null, css: cssOf(e) }));
  // Sheets of the page and linked ones are taken in this order; the order in the source decides only between equals.
  const sheets = [...linked, ...inPage].map(({ address, css }) => ({ address, rules: rulesWithBackgrounds(css) }));
  // Most sheets set colours only; then there is nothing to look for.
  if (!sheets.some(({ rules }) => rules.some((rule) => rule.urls.length > 0)) && !elements.some(hasOwnUrl))
    return new Map();
  const winners = new Map<Element, Map<Background['pseudo'], Declared>>();
  const propose = (element: Element, pseudo: Background['pseudo'], declared: Declared) => {
    const own = winners.get(element) ?? new Map<Background['pseudo'], Declared>();
    const before = own.get(pseudo);
    if (!before || compareRanks(before.rank, declared.rank) <= 0) own.set(pseudo, declared);
    winners.set(element, own);
  };

  let order = 0;
  let tried = 0;
  const root = elements.filter((e) => !isElement(parentOf(e)!));
  for (const { address, rules } of sheets)
    for (const { selector, pseudo, specificity, urls, important } of rules) {
      if (++tried > MOST_SELECTORS) break;
      const matches = matcher(selector, root);
      if (!matches) continue;
      for (const element of elements)
        if (matches(element))
          propose(element, pseudo, { urls, sheet: address, rank: [important, ...specificity, order] });
      order++;
    }
  for (const element of elements) {
    const style = attr(element, 'style');
    if (!style?.includes('background')) continue;
    const declared = backgroundIn(csstree.parse(style, { context: 'declarationList' }));
    if (declared) propose(element, null, { ...declared, sheet: null, rank: [declared.important, 2, 0, 0, order] });
  }

  const out = new Map<Element, Background[]>();
  for (const [element, own] of winners) {
    const shown = [...own].flatMap(([pseudo, { urls, sheet }]) => urls.map((src) => ({ src, sheet, pseudo })));
    if (shown.length > 0 && out.size < MOST_BACKGROUNDS) out.set(element, shown);
  }
  return out;
}

/** Whether a `style` attribute may name a file; escapes are left to the parser. */
const hasOwnUrl = (element: Element) => {
  const style = attr(element, 'style');
  return style !== undefined && /url\(|\\/i.test(style);
};

/** What stands in a `style` element. */
export const cssOf = (style: Element): string =>
  childrenOf(style)
    .filter(isText)
    .map((t) => t.value)
    .join('');

function compareRanks(a: Declared['rank'], b: Declared['rank']): number {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return a[i]! - b[i]!;
  return 0;
}

/** The last declaration of a background among some, with its pictures; none when it sets `none`. */
function backgroundIn(declarations: csstree.CssNode): { urls: string[]; important: number } | null {
  let found: { urls: string[]; important: number } | null = null;
  csstree.walk(declarations, {
    visit: 'Declaration',
    enter(node) {
      if (!PROPERTIES.has(node.property.toLowerCase())) return;
      const urls: string[] = [];
      csstree.walk(node.value, (value) => {
        if (value.type === 'Url' && value.value !== '') urls.push(value.value);
      });
      const important = node.important ? 1 : 0;
      if (!found || important >= found.important) found = { urls, important };
    },
  });
  return found;
}

/**
 * Addresses, as written, of the style sheets that one imports, those for print left out (CSS Cascading and Inheritance 4, 2).
 * Imports stand before all rules; what stands later counts for nothing.
 */
export function importsOf(css: string): string[] {
  if (!/@import/i.test(css)) return [];
  const end = css.indexOf('{');
  const tree = csstree.parse(end < 0 ? css : css.slice(0, end), { onParseError: () => undefined });
  const out: string[] = [];
  csstree.walk(tree, {
    visit: 'Atrule',
    enter({ name, prelude }) {
      if (name.toLowerCase() !== 'import' || prelude?.type !== 'AtrulePrelude') return;
      const [first, ...conditions] = prelude.children.toArray();
      const forPrint = /^\s*print\s*$/i.test(conditions.map((node) => csstree.generate(node)).join(''));
      if ((first?.type === 'Url' || first?.type === 'String') && first.value !== '' && !forPrint) out.push(first.value);
    },
  });
  return out;
}

interface BackgroundRule {
  selector: string;
  pseudo: Background['pseudo'];
  specificity: [number, number, number];
  urls: string[];
  important: number;
}

/** Pages of a site link the same sheets, and parsing them costs more than a page. */
const parsedSheets = new Map<string, BackgroundRule[]>();
const MOST_PARSED = 40;

function rulesWithBackgrounds(css: string): readonly BackgroundRule[] {
  if (!/background/i.test(css)) return [];
  let rules = parsedSheets.get(css);
  if (!rules) {
    rules = parseSheet(css);
    if (parsedSheets.size >= MOST_PARSED) parsedSheets.clear();
    parsedSheets.set(css, rules);
  }
  return rules;
}

function parseSheet(css: string): BackgroundRule[] {
  const out: BackgroundRule[] = [];
  const tree = csstree.parse(css, { parseValue: true, onParseError: () => undefined });
  csstree.walk(tree, {
    visit: 'Rule',
    enter(rule) {
      const media = this.atrule;
      if (media && /^(?:-\w+-)?keyframes$/.test(media.name)) return;
      if (media?.name === 'media' && media.prelude && /^\s*print\s*$/.test(csstree.generate(media.prelude))) return;
      const declared = backgroundIn(rule.block);
      if (!declared || rule.prelude.type !== 'SelectorList') return;
      for (const selector of rule.prelude.children) {
        const text = csstree.generate(selector);
        if (DYNAMIC.test(text)) continue;
        const pseudo = /::?(before|after)$/i.exec(text);
        const plain = pseudo ? text.slice(0, pseudo.index) || '*' : text;
        if (plain.includes('::')) continue;
        out.push({
          selector: plain,
          pseudo: (pseudo?.[1]?.toLowerCase() as 'before' | 'after' | undefined) ?? null,
          specificity: specificityOf(selector),
          ...declared,
        });
      }
    },
  });
  return out;
}

/** Ids, then classes, attributes and pseudo-classes, then types (Selectors 4, 17), without looking into functions. */
function specificityOf(selector: csstree.CssNode): [number, number, number] {
  const counts: [number, number, number] = [0, 0, 0];
  csstree.walk(selector, (node) => {
    if (node.type === 'IdSelector') counts[0]++;
    else if (['ClassSelector', 'AttributeSelector', 'PseudoClassSelector'].includes(node.type)) counts[1]++;
    else if (node.type === 'TypeSelector' && node.name !== '*') counts[2]++;
  });
  return counts;
}

/** Null for a selector that the library does not know. */
function matcher(selector: string, root: Element[]): ((element: Element) => boolean) | null {
  try {
    return compile<Node, Element>(selector, OPTIONS, root);
  } catch {
    return null;
  }
}

const OPTIONS: Options<Node, Element> = {
  xmlMode: false,
  adapter: {
    isTag: isElement,
    getAttributeValue: (element, name) => attr(element, name),
    getChildren: childrenOf,
    getName: (element) => element.tagName,
    getParent: (node) => {
      const parent = parentOf(node);
      return parent && isElement(parent) ? parent : null;
    },
    getSiblings: (node) => {
      const parent = parentOf(node);
      return parent ? childrenOf(parent) : [node];
    },
    getText: textOf,
    hasAttrib: (element, name) => attr(element, name) !== undefined,
    removeSubsets: (nodes) => nodes,
  },
};
