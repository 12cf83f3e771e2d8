import type { FormulaMarkup } from '../../model/appearance';
import { attr, elementAbove, isElement, isText, type Element } from './tree';
import { isBlank } from '../../white-space';

/** Words for mathematics in the names of classes, in the languages of the word lists. */
const NAMES = new Set(
  (
    'math maths mathjax mathml tex latex katex equation equations eqn formula formulae formulas formel formeln ' +
    'gleichung formule formules équation fórmula fórmulas ecuación formule formules vergelijking equazione equação'
  ).split(' '),
);
/** Levels above a picture whose class may speak of it. */
const LEVELS = 2;

const isNamedFormula = (element: Element): boolean =>
  (attr(element, 'class') ?? '')
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .toLowerCase()
    .split(/[\s_-]+/)
    .some((name) => NAMES.has(name));

/** Sizes in the height of letters: what tools give to pictures of formulas, so that they stand in the line. */
const IN_LINE = /vertical-align\s*:\s*-?[\d.]+ex/i;

/** What the markup says of a picture of a formula; null where it does not say that it is one. */
export function formulaMarkupOf(picture: Element): FormulaMarkup | null {
  if (hasMathBeside(picture)) return 'mathml';
  const style = attr(picture, 'style') ?? '';
  if (IN_LINE.test(style) && /height\s*:\s*[\d.]+ex/i.test(style)) return 'line';
  let element: Element | null = picture;
  for (let up = 0; element && up <= LEVELS; up++) {
    if (isNamedFormula(element)) return 'class';
    element = elementAbove(element);
    // What holds more than the picture is named for all of it.
    if (!element || element.tagName === 'body' || !isAlone(element)) return null;
  }
  return null;
}

/** Nodes of an element that may hold one picture alone. */
const FEW = 6;

/** Whether an element holds one element only, and beside it at most the number of a formula. */
function isAlone(element: Element): boolean {
  if (element.childNodes.length > FEW) return false;
  const elements = element.childNodes.filter((n): n is Element => isElement(n));
  const texts = element.childNodes.some((n) => isText(n) && !isBlank(n.value));
  return !texts && elements.filter((e) => !isNumber(e)).length === 1;
}

const isNumber = (element: Element) =>
  /\beqno|number|tag\b/i.test(attr(element, 'class') ?? '') && element.childNodes.length <= FEW;

/** Nodes beside a picture among which its MathML is looked for. */
const NEAR = 4;
/** Among more siblings nothing is looked for: finding each one's place would take too long. */
const MOST_SIBLINGS = 1_000;

/** Whether the formula stands beside the picture as MathML: the same for those whose browsers did not know it. */
function hasMathBeside(picture: Element): boolean {
  const siblings = elementAbove(picture)?.childNodes ?? [];
  if (siblings.length > MOST_SIBLINGS) return false;
  const at = siblings.indexOf(picture);
  for (let i = Math.max(0, at - NEAR); i <= at + NEAR && i < siblings.length; i++) {
    const near = siblings[i]!;
    if (!isElement(near) || near === picture) continue;
    if (near.tagName === 'math') return true;
    if (near.tagName === 'span' && near.childNodes.some((n) => isElement(n) && n.tagName === 'math')) return true;
  }
  return false;
}
