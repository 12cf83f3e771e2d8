import { withoutTex } from './tex';

/** A name that a program knows: `n_clusters`, `sklearn.svm.SVC`, `getWords()`, `maxIter2`. */
const IDENTIFIER =
  /^(?:[A-Za-z]\w*_\w+|\w+(?:\.\w+){2,}|\w+(?:\.\w+)*\(\)?|\p{Ll}+\p{Lu}\w*|[A-Za-z]+\d+[A-Za-z]\w*)[.,;:)]*$/u;
/** A parameter with its value: `gamma=10^-1`, `C = 0.5`. */
const PARAMETER = /(?<=[\p{L}\p{N}_)] ?)= ?[-+.\w(]/gu;
/** Share of identifiers from which a text is made of them. */
const MADE_OF = 0.6;
/** Parts between commas from which they are a list of labels. */
const LABELS = 3;

/** Share of parts with a figure from which they are labels. */
const FIGURED = 0.5;
/** Share of words in lower case from which they are joined to sentences. */
const JOINED = 0.4;

/** Share of numbers from which words in lower case are their names. */
const NUMBERED = 0.33;

/** What a text is made of that no rule for prose can judge; null for prose. */
export type NotProse = 'identifiers' | 'parameters' | 'labels';

/**
 * Whether a text is made of a program's names, of parameters with values, or of labels with figures between commas, such as
 * the titles of the parts of a chart.
 */
export function notProse(text: string): NotProse | null {
  if (last?.text !== text) last = { text, kind: kindOf(text) };
  return last.kind;
}

/** Several rules ask the same of one text, one after the other. */
let last: { text: string; kind: NotProse | null } | null = null;

function kindOf(whole: string): NotProse | null {
  // A formula within words has signs of its own.
  const text = withoutTex(whole);
  const tokens = text.split(/[\s,;/]+/).filter(Boolean);
  if (tokens.length === 0) return null;
  const identifiers = tokens.filter((t) => IDENTIFIER.test(t)).length;
  if (tokens.length > 1 && identifiers >= MADE_OF * tokens.length) return 'identifiers';
  if ((text.match(PARAMETER)?.length ?? 0) >= 2) return 'parameters';
  const parts = text.split(/\s*[,;]\s+/).filter(Boolean);
  const figured = parts.filter((p) => /\d|\p{Ll}\p{Lu}/u.test(p)).length;
  const lower = tokens.filter((t) => /^\p{Ll}/u.test(t)).length;
  if (parts.length < LABELS || figured < FIGURED * parts.length) return null;
  const numbers = tokens.filter((t) => /\d/.test(t)).length;
  return lower < JOINED * tokens.length || numbers >= NUMBERED * tokens.length ? 'labels' : null;
}

/** How many sentences of five words or more a text has. */
export function sentenceCount(text: string): number {
  return text.split(/[.!?](?:\s+|$)/).filter((s) => s.split(/\s+/).length >= 5).length;
}
