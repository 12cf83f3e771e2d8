import { normalise, wordsOf } from './graphemes';
import { stemmerFor } from './stemmer';

/** What a caption is numbered by: “Figure 4.2.”, “Abb. 3:”. */
const NUMBER =
  /^\W{0,2}(?:fig(?:ure|ura|uur)?|abb(?:ildung)?|afb(?:eelding)?|ill(?:ustration)?)[.:]?\s*[A-Z]?[\d.–-]*\d[a-z]?[.:)]?\s+(?=\S)/iu;

/** A text without what is not said: case within names, brackets, the number of a figure, anchors, the extension of a file. */
function plain(text: string): string {
  return normalise(text)
    .replace(NUMBER, '')
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .replace(/(\p{Lu})(\p{Lu}\p{Ll})/gu, '$1 $2')
    .replace(/(\p{L})[_-](?=\p{L})/gu, '$1 ')
    .replace(/[¶#§🔗]/gu, ' ');
}

/** A text stripped of what may stand around a stock phrase: brackets, quotes, a number, full stops. */
export function bare(text: string): string {
  return normalise(text)
    .toLowerCase()
    .replace(/^[[({<"'“„«*#\s]+|[\])}>"'”“»*.:!…\s]+$/g, '')
    .replace(/[-_ #.]*\d{1,2}$/, '')
    .trim();
}

interface Word {
  stem: string;
  /** It ends in a full stop within the text: “accel.” */
  isCut: boolean;
}

/** Letters from which a word with a full stop may stand for a longer one. */
const CUT = 3;

/** Texts whose words are remembered: one is compared with all that stands around it. */
const MOST_REMEMBERED = 16;
const remembered = new Map<string, Word[]>();

function parsed(text: string, language: string | null): Word[] {
  const key = `${language} ${text}`;
  let words = remembered.get(key);
  if (!words) {
    if (remembered.size >= MOST_REMEMBERED) remembered.clear();
    remembered.set(key, (words = parse(text, language)));
  }
  return words;
}

/** The letter or digit that a text begins with; what says the same begins with the same. */
const initial = (text: string): string =>
  /[\p{L}\p{N}]/u.exec(text.replace(NUMBER, ''))?.[0].normalize('NFKC').charAt(0).toLowerCase() ?? '';

const IN_WORD = /[\p{L}\p{M}\p{N}'’]/u;

/** That of the last word of a text. */
function lastInitial(text: string): string {
  let at = text.length - 1;
  while (at >= 0 && !IN_WORD.test(text[at]!)) at--;
  while (at > 0 && IN_WORD.test(text[at - 1]!)) at--;
  return initial(text.slice(Math.max(0, at)));
}

function parse(text: string, language: string | null): Word[] {
  const stem = stemmerFor(language);
  const shown = plain(text);
  const cut = new Set(shown.toLowerCase().match(/(?<![\p{L}\p{M}])[\p{L}\p{M}]+(?=\.(?:\s|$))/gu));
  return wordsOf(shown).map((word) => ({ stem: stem(word), isCut: word.length >= CUT && cut.has(word) }));
}

const isSameWord = (a: Word, b: Word): boolean =>
  a.stem === b.stem || (a.isCut && b.stem.startsWith(a.stem)) || (b.isCut && a.stem.startsWith(b.stem));

const joined = (words: readonly Word[]) => words.map((w) => w.stem).join('');

/**
 * Whether two texts say the same: capitals within names part words (`PenColor`), forms count as their stem and what ends in
 * a full stop as the longer word; brackets and the number of a figure do not count.
 *
 * @param language by whose rules words are stemmed; null leaves them as they are
 */
export function saysSame(one: string, other: string, language: string | null): boolean {
  if (initial(one) !== initial(other)) return false;
  const a = parsed(one, language);
  const b = parsed(other, language);
  if (a.length === 0) return false;
  return (a.length === b.length && a.every((w, i) => isSameWord(w, b[i]!))) || joined(a) === joined(b);
}

/** Whether a text opens, or ends, with all that another says. */
export function saysAtEdge(text: string, words: string, edge: 'start' | 'end', language: string | null): boolean {
  if (edge === 'start' ? initial(text) !== initial(words) : lastInitial(text) !== lastInitial(words)) return false;
  const wanted = parsed(words, language);
  const said = parsed(text, language);
  const near = edge === 'start' ? said.slice(0, wanted.length) : said.slice(-wanted.length);
  if (wanted.length === 0 || near.length !== wanted.length || !near.every((w, i) => isSameWord(w, wanted[i]!)))
    return false;
  // One word begins many a sentence; joined to another by a hyphen, it is a part of that.
  if (wanted.length > 1) return true;
  return edge === 'start'
    ? !/^[^\p{L}\p{N}]*[\p{L}\p{M}\p{N}]+[-_][\p{L}\p{N}]/u.test(text)
    : !/[\p{L}\p{N}][-_][\p{L}\p{M}\p{N}]+[^\p{L}\p{N}]*$/u.test(text);
}

/** The words of a text under which they count as said already, each once. */
export const saidWords = (text: string, language: string | null): Set<string> =>
  new Set(parsed(text, language).map((w) => w.stem));
