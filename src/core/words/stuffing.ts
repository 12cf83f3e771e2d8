import { groupBy } from '../group-by';
import { notProse, sentenceCount } from './text-kind';
import type { LanguageWords } from './language/words';

/** One reason why a text reads as keywords, with the words it comes from. */
export interface Contribution {
  kind:
    | 'repeated words'
    | 'repeated phrases'
    | 'shared heads'
    | 'no grammar'
    | 'selling words'
    | 'target keywords'
    | 'length';
  /** What was counted: words, phrases, segments or a share from 0 to 1. */
  figure: number;
  /** How much it adds, from 0 to 1; the score is 1 − Π(1 − weight). */
  weight: number;
  /** The words as they stand in the text, each once. */
  words: string[];
  /** Where they stand, UTF-16 code units, half open. */
  spans: { start: number; end: number }[];
}

export interface Stuffing {
  /** From 0 to 1. */
  score: number;
  /** The heaviest first. */
  contributions: Contribution[];
}

export interface StuffingOptions {
  /** Of the text's language; none where there are no lists for it. */
  lists: LanguageWords | null;
  stem: (word: string) => string;
  /** Stems of the words that the page or the collection wants to be found by. */
  keywords?: ReadonlySet<string>;
}

interface Token {
  text: string;
  lower: string;
  stem: string;
  start: number;
  end: number;
  content: boolean;
}

const SEPARATOR = /\s*[,|;/•·]\s*|\s[–—-]\s/;
/** Content words below which a text cannot be distinguished from a name. */
const FEWEST = 4;

/** Share of function words from which words are joined by grammar. */
const JOINED = 0.25;

/** Sentences of five words or more, joined by grammar, from which a text is a description. */
const SENTENCES = 3;

const words = new Intl.Segmenter('und', { granularity: 'word' });

/**
 * How much a text reads as keywords instead of words, and why. Weights are tuned on one half of
 * `testing/stuffing-cases.txt`; grammar that joins the words halves what repetition weighs, because lists of things
 * that are in a picture repeat words too.
 *
 * Source: search guidance against keyword stuffing (common practice).
 */
export function stuffingOf(text: string, { lists, stem, keywords }: StuffingOptions): Stuffing {
  // Without its function words, a language's grammar would count as repetition.
  if (!lists || mostWords(text) < FEWEST || notProse(text)) return NOT_STUFFED;
  const tokens = tokensOf(text, lists, stem);
  const content = tokens.filter((t) => t.content);
  if (content.length < FEWEST) return NOT_STUFFED;
  const grammar = 1 - content.length / tokens.length;
  // A description in sentences speaks of the same things again.
  if (grammar >= JOINED && sentenceCount(text) >= SENTENCES) return NOT_STUFFED;
  const segments = text.split(SEPARATOR).filter((s) => /[\p{L}\p{N}]/u.test(s));
  const selling = sellingWords(tokens, lists, grammar >= JOINED ? 0.5 : 1);
  const joined = (grammar >= JOINED ? 0.5 : 1) * (!selling && isEnumeration(segments, lists, stem) ? 0.5 : 1);
  const contributions = [
    repeatedWords(content, joined),
    repeatedPhrases(content, joined),
    sharedHeads(segments, lists, stem, joined),
    selling,
    keywords && targetKeywords(content, keywords, joined),
    ...(content.length >= 6 && grammar < 0.12
      ? [contribution('no grammar', 1 - grammar, segments.length > 3 ? 0.15 : 0.3, content)]
      : []),
    ...(content.length >= 14 && grammar < 0.2 ? [contribution('length', content.length, 0.15, content)] : []),
  ].filter((c): c is Contribution => Boolean(c) && c!.weight > 0);
  contributions.sort((a, b) => b.weight - a.weight);
  const score = 1 - contributions.reduce((rest, c) => rest * (1 - c.weight), 1);
  return { score: Math.round(score * 100) / 100, contributions };
}

/**
 * "Red boat, blue boat and green boat", "Ann Roe, Bill Roe": members of one kind, each distinguished by its own word in the
 * same place.
 */
function isEnumeration(
  segments: readonly string[],
  lists: LanguageWords | null,
  stem: (word: string) => string,
): boolean {
  const members = segments.map((s) => tokensOf(s, lists, stem).filter((t) => t.content));
  const counts = new Map<string, number>();
  for (const m of members) for (const t of new Set(m.map((t) => t.stem))) counts.set(t, (counts.get(t) ?? 0) + 1);
  const [head, n] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? ['', 0];
  // The first and the last may have more around them: "From left:", "… share a trophy".
  const inner = members.filter((m) => m.some((t) => t.stem === head)).slice(1);
  if (n < 3 || inner.length < 2) return false;
  const shape = (m: Token[]) => m.findIndex((t) => t.stem === head);
  const own = (m: Token[]) => m.find((t) => t.stem !== head)?.stem;
  return (
    inner.every((m) => m.length > 1 && shape(m) === shape(inner[0]!)) && new Set(inner.map(own)).size === inner.length
  );
}

const NOT_STUFFED: Stuffing = { score: 0, contributions: [] };
/** Scripts that write words without spaces between them. */
const UNSPACED = /[\p{sc=Han}\p{sc=Hira}\p{sc=Kana}\p{sc=Thai}\p{sc=Laoo}\p{sc=Khmr}\p{sc=Mymr}]/u;

/** At least as many as there are words (UAX 29), at a sixteenth of the cost of finding them. */
function mostWords(text: string): number {
  if (UNSPACED.test(text)) return text.length;
  return text.match(/[\p{L}\p{N}\p{M}]+/gu)?.length ?? 0;
}

function tokensOf(text: string, lists: LanguageWords | null, stem: (word: string) => string): Token[] {
  const out: Token[] = [];
  for (const { segment, index, isWordLike } of words.segment(text)) {
    if (!isWordLike) continue;
    // French and Italian articles lean on the next word.
    const lean = /^(?:\p{L}{1,2}|qu|all|dell|nell|sull|dall)['’](?=\p{L}{2})/iu.exec(segment)?.[0] ?? '';
    const own = segment.slice(lean.length);
    const lower = own.normalize('NFKC').toLowerCase();
    const content = !lists?.functionWords.has(lower) && !/^\p{N}+$/u.test(lower);
    const start = index + lean.length;
    if (lean) out.push({ text: lean, lower: lean, stem: lean, start: index, end: start, content: false });
    out.push({ text: own, lower, stem: stem(lower), start, end: start + own.length, content });
  }
  return out;
}

function contribution(
  kind: Contribution['kind'],
  figure: number,
  weight: number,
  tokens: readonly Token[],
): Contribution {
  const once = new Map(tokens.map((t) => [t.stem, t.text]));
  return {
    kind,
    figure: Math.round(figure * 100) / 100,
    weight: Math.round(Math.min(0.8, weight) * 100) / 100,
    words: [...once.values()],
    spans: tokens.map(({ start, end }) => ({ start, end })),
  };
}

function repeatedWords(content: readonly Token[], joined: number): Contribution | null {
  const again = [...groupBy(content, (t) => t.stem).values()].filter((c) => c.length > 1);
  const excess = again.reduce((n, c) => n + c.length - 1, 0);
  // Said twice is nothing; people describe two doors.
  const most = again.reduce((n, c) => Math.max(n, c.length), 0);
  const weight = joined * (0.14 * Math.max(0, excess - 1) + 0.14 * Math.max(0, most - 2));
  return weight > 0 ? contribution('repeated words', excess + again.length, weight, again.flat()) : null;
}

function repeatedPhrases(content: readonly Token[], joined: number): Contribution | null {
  const pairs = content.slice(1).map((t, i): [Token, Token] => [content[i]!, t]);
  const again = [...groupBy(pairs, ([a, b]) => `${a.stem} ${b.stem}`).values()].filter((p) => p.length > 1);
  const excess = again.reduce((n, p) => n + p.length - 1, 0);
  return excess > 0
    ? contribution('repeated phrases', excess, joined * Math.min(0.45, 0.2 * excess), again.flat(2))
    : null;
}

/** Segments between commas or bars that say the same thing with other words around it. */
function sharedHeads(
  segments: readonly string[],
  lists: LanguageWords | null,
  stem: (word: string) => string,
  joined: number,
): Contribution | null {
  if (segments.length < 3) return null;
  const content = segments.map((s) => tokensOf(s, lists, stem).filter((t) => t.content));
  const stems = content.map((tokens) => new Set(tokens.map((t) => t.stem)));
  const counts = new Map<string, number>();
  for (const set of stems) for (const s of set) counts.set(s, (counts.get(s) ?? 0) + 1);
  const [head, n] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? ['', 0];
  if (n < 3 || n / segments.length < 0.5) return null;
  const bare = segments.some((s, i) => stems[i]!.size === 1 && stems[i]!.has(head)) ? 0.12 : 0;
  const weight = joined * (0.22 + 0.1 * (n - 3) + bare);
  return {
    kind: 'shared heads',
    figure: n,
    weight: Math.min(0.6, Math.round(weight * 100) / 100),
    words: [content.flat().find((t) => t.stem === head)!.text],
    spans: [],
  };
}

function sellingWords(tokens: readonly Token[], lists: LanguageWords | null, joined: number): Contribution | null {
  const found: Token[][] = [];
  for (const phrase of lists?.qualifiers ?? [])
    for (let i = 0; i + phrase.length <= tokens.length; i++)
      if (phrase.every((word, j) => tokens[i + j]!.lower === word)) found.push(tokens.slice(i, i + phrase.length));
  const covered = [...new Set(found.flat())].sort((a, b) => a.start - b.start);
  return covered.length > 0
    ? contribution('selling words', covered.length, joined * 0.17 * covered.length, covered)
    : null;
}

function targetKeywords(content: readonly Token[], keywords: ReadonlySet<string>, joined: number): Contribution | null {
  const hits = content.filter((t) => keywords.has(t.stem));
  const share = hits.length / content.length;
  return hits.length >= 4 && share >= 0.6 ? contribution('target keywords', share, joined * 0.3, hits) : null;
}
