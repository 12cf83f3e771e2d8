/**
 * TeX in texts: what a listener would hear sign by sign.
 *
 * Commands are those of plain TeX, LaTeX's mathematics and AMS-LaTeX that formulas in pages use (common practice); a name
 * that is in no list counts where an argument in braces follows.
 */
const COMMANDS =
  'frac|dfrac|tfrac|sqrt|sum|prod|int|iint|oint|lim|limsup|liminf|inf|sup|max|min|log|ln|exp|sin|cos|tan|arcsin|arccos|arctan|cot|sec|csc|sinh|cosh|tanh|det|dim|gcd|arg|' +
  'alpha|beta|gamma|delta|epsilon|varepsilon|zeta|eta|theta|vartheta|iota|kappa|lambda|mu|nu|xi|pi|varpi|rho|varrho|sigma|varsigma|tau|upsilon|phi|varphi|chi|psi|omega|' +
  'Gamma|Delta|Theta|Lambda|Xi|Pi|Sigma|Upsilon|Phi|Psi|Omega|' +
  'left|right|big|Big|bigl|bigr|Bigl|Bigr|bigg|Bigg|cdot|cdots|ldots|dots|vdots|ddots|times|div|pm|mp|ast|star|circ|bullet|oplus|otimes|cup|cap|setminus|' +
  'leq|geq|le|ge|neq|ne|approx|equiv|sim|simeq|cong|propto|ll|gg|subset|supset|subseteq|supseteq|in|notin|ni|forall|exists|nabla|partial|infty|emptyset|hbar|ell|Re|Im|aleph|' +
  'to|rightarrow|leftarrow|Rightarrow|Leftarrow|leftrightarrow|Leftrightarrow|mapsto|longrightarrow|iff|implies|' +
  'hat|widehat|bar|overline|underline|tilde|widetilde|vec|dot|ddot|overbrace|underbrace|overset|underset|stackrel|' +
  'mathrm|mathbf|mathit|mathsf|mathtt|mathcal|mathbb|mathfrak|boldsymbol|text|textrm|textbf|mbox|operatorname|displaystyle|textstyle|scriptstyle|limits|nolimits|' +
  'begin|end|quad|qquad|langle|rangle|lfloor|rfloor|lceil|rceil|vert|Vert|mid|parallel|perp|angle|binom|choose|over|atop|prime|dagger|land|lor|lnot|neg|wedge|vee|bmod|pmod|mod|backslash';
const COMMAND = new RegExp(String.raw`\\(?:(?:${COMMANDS})(?![A-Za-z])|[A-Za-z]+\*?\s*\{|[,;!:{}|])`);
/** An index or an exponent in braces: `R_{i}`, `10^{-3}`. */
const BRACED = /[\p{L}\p{N})\]}][_^]\{[^{}]/u;
/** One without: `F_i`, `x^2`; a program's names look the same, so that it counts only where the markup says formula. */
const SCRIPT = /[_^]/;

const DELIMITED = /\$\$?[^$\n]{1,400}\$\$?|\\\([\s\S]{1,400}?\\\)|\\\[[\s\S]{1,400}?\\\]/g;

/** Whether a text is the source of a formula. @param inFormula whether the markup says that a formula stands there */
export function isTex(text: string, inFormula = false): boolean {
  // Asked of every text there is, and hardly any has one of these.
  if (!/[\\_^$]/.test(text)) return false;
  // A path of a file has backslashes before letters, too.
  if (/(?:^|\s)[A-Za-z]:\\/.test(text)) return false;
  // What stands between delimiters is a formula as where the markup says so.
  const isDelimited = !inFormula && withoutDelimiters(text) !== text.trim();
  if (isDelimited) return isTex(withoutDelimiters(text), true);
  return COMMAND.test(text) || BRACED.test(text) || (inFormula && SCRIPT.test(text));
}

/** A piece of TeX in a text: its formula without delimiters, and where it stands, UTF-16 code units, half open. */
export interface TexPiece {
  tex: string;
  start: number;
  end: number;
}

/** The formulas between delimiters in a text of words (`the value $\gamma_0$`); none where all of it is one formula. */
export function texPieces(text: string): TexPiece[] {
  const pieces: TexPiece[] = [];
  if (!/[$\\]/.test(text)) return pieces;
  for (const found of text.matchAll(DELIMITED)) {
    const tex = withoutDelimiters(found[0]);
    // Two prices are no formula.
    if (isTex(tex, true)) pieces.push({ tex, start: found.index, end: found.index + found[0].length });
  }
  if (pieces.length === 0) return pieces;
  const rest = pieces.reduceRight((left, p) => left.slice(0, p.start) + left.slice(p.end), text);
  return /\p{L}{2}/u.test(rest) ? pieces : [];
}

/** A text of words without the formulas between delimiters in it. */
export const withoutTex = (text: string): string =>
  texPieces(text).reduceRight((rest, p) => rest.slice(0, p.start) + rest.slice(p.end), text);

/** A formula without `$ … $`, `\( … \)` or `\[ … \]` around it. */
export function withoutDelimiters(text: string): string {
  const inner = text.trim();
  const bare =
    /^\$\$([\s\S]*)\$\$$/.exec(inner)?.[1] ??
    /^\$([^$]*)\$$/.exec(inner)?.[1] ??
    /^\\\(([\s\S]*)\\\)$/.exec(inner)?.[1] ??
    /^\\\[([\s\S]*)\\\]$/.exec(inner)?.[1];
  return (bare ?? inner).trim();
}

/** A formula as it is to be said: names of several letters as words, without what only concerns the look. */
export function speakable(tex: string): string {
  return tex
    .replace(/\.\.\./g, String.raw` \ldots `)
    .replace(/\\math(?:rm|it|sf|tt)\s*\{([A-Za-z])\}/g, '{$1}')
    .replace(/\\(?:display|text|script)style\b/g, '')
    .replace(
      /\\(?:text|textrm|mathrm|mathit|mathsf|mathtt|operatorname)\*?\s*\{([^{}]*)\}|\\(?:begin|end)\{[^{}]*\}|\\[A-Za-z]+/g,
      (found, words) => (words === undefined ? `\u0000${found}\u0000` : `\u0000\\text{${String(words)}}\u0000`),
    )
    .split('\u0000')
    .map((part, i) => (i % 2 === 1 ? part : part.replace(/[A-Za-z]{3,}/g, String.raw`\text{$&}`)))
    .join(' ')
    .replace(/&(?=\s*[=<>])/g, '');
}
