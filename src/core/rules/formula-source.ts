import { z } from 'zod';
import { isFormula } from '../purpose/formula';
import type { Fix } from '../model/finding';
import { normalise } from '../words/graphemes';
import { isTex, texPieces, withoutDelimiters } from '../words/tex';
import { EVERY_FORMAT } from './support/formats';
import { defineRule, type Knowledge } from './support/rule';
import { COMMON_PRACTICE, G94, MATHML_CORE, SC_1_1_1, WCAG2ICT } from './support/sources';
import { clipped, heardWords, languageOf, trimmedSpan } from './support/words';

/** Graphemes beyond which MathML is not offered with a finding: it is stored with each. */
const MOST_TEX = 1_000;

export default defineRule({
  id: 'formula-source',
  title: 'Formula written as source code',
  group: 'words',
  about:
    'The alt text is the source of a formula, such as TeX. A listener hears it sign by sign: “backslash frac, open brace …”. Say the formula in words, or put it into the page as MathML, which screen readers can read and explore. Rules for prose do not apply to formulas.',
  scope: 'appearance',
  gives: ['cantTell'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  sources: [SC_1_1_1, G94, MATHML_CORE, COMMON_PRACTICE],
  subsumes: ['markup-in-text', 'misspelt', 'shouting', 'stuffed', 'overlong', 'other-language'],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img class="math" src="c.png" alt="c">' },
      { html: '<img class="math" src="e.png" alt="E equals m c squared">' },
      { html: '<img src="a.jpg" alt="The folder C:\\users\\alpha">' },
      { html: '<img src="a.jpg" alt="Tickets for $10 and $20">' },
      {
        html: '<span><math><mi>r</mi></math><img aria-hidden="true" src="r.png" alt="{\\displaystyle r_{1}}"></span>',
      },
    ],
    fails: [
      {
        html: '<img class="math" src="f.png" alt="F_i">',
        message: '“F_i” is the source of a formula: a screen reader says it character by character.',
      },
      {
        html: '<p>The time is <img src="t.png" alt="t = \\frac{s}{v}">.</p>',
        message: '“t = \\frac{s}{v}” is the source of a formula: a screen reader says it character by character.',
      },
      {
        html: '<img src="m.png" alt="A mixture with a prior of $\\gamma_0 = 1$">',
        message: '“$\\gamma_0 = 1$” is the source of a formula: a screen reader says it character by character.',
      },
    ],
  },
  check(context, _, know) {
    const { appearance: a } = context;
    const words = heardWords(a);
    if (words === null) return null;
    const pieces = texPieces(words);
    const [first] = pieces;
    if (!first && !(isTex(words, Boolean(a.context.formula)) && isFormula(a))) return null;
    const span = first ? { start: first.start, end: first.end } : trimmedSpan(words);
    return {
      outcome: 'cantTell',
      message: { id: 'formula-source.tex', values: { text: clipped(normalise(words.slice(span.start, span.end))) } },
      span,
      fixes: fixesFor(words, pieces, languageOf(context), know),
    };
  },
});

/** The text with every formula in words, and the formula as MathML where it is all there is. */
function fixesFor(
  words: string,
  pieces: ReturnType<typeof texPieces>,
  language: string | null,
  { formulas }: Knowledge,
): Fix[] {
  if (!formulas) return [];
  if (pieces.length === 0) {
    const tex = withoutDelimiters(words);
    if (tex.length > MOST_TEX) return [];
    const spoken = language && formulas.speech(tex, language);
    const mathml = formulas.mathml(tex);
    return [
      ...(spoken ? [{ kind: 'use words' as const, text: spoken }] : []),
      ...(mathml ? [{ kind: 'copy' as const, what: 'MathML' as const, text: mathml }] : []),
    ];
  }
  const spoken = pieces.map(({ tex }) => language && formulas.speech(tex, language));
  if (spoken.some((s) => !s)) return [];
  const text = pieces.reduceRight((all, p, i) => `${all.slice(0, p.start)} ${spoken[i]!} ${all.slice(p.end)}`, words);
  return [{ kind: 'use words', text: normalise(text).replace(/ ([,.;:)])/g, '$1') }];
}
