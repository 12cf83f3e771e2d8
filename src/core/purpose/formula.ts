import type { Appearance } from '../model/appearance';
import { isTex, texPieces } from '../words/tex';

/** What an appearance is given to be heard, heard or not. */
const given = (a: Appearance): string => a.markup.ariaLabel ?? a.markup.alt ?? a.accessible.name;

/** Whether a picture is one of a formula: its markup says so, or its text is the source of one. */
export function isFormula(a: Appearance): boolean {
  if (a.context.formula) return true;
  const text = given(a);
  return text !== '' && isTex(text) && texPieces(text).length === 0;
}

/** Whether the formula stands beside the picture as MathML, which is heard in its place. */
export const hasMathMl = (a: Appearance): boolean => a.context.formula === 'mathml';
