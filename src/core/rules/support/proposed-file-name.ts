import { fileNameOf } from '../../picture/file-name';
import { wordsOf } from '../../words/graphemes';
import decorationWithText from '../decoration-with-text';
import fileName from '../file-name';
import markupInText from '../markup-in-text';
import placeholder from '../placeholder';
import stuffed from '../stuffed';
import { isDeviceName } from './file-names';
import { NO_KNOWLEDGE, type AppearanceRule } from './rule';
import type { RuleContext } from '../../model/rule-context';
import { heardWords, languageWords } from './words';

/** Rules whose findings say that the words do not say what the picture shows. */
const WORD_RULES: readonly AppearanceRule<never>[] = [
  decorationWithText,
  fileName,
  markupInText,
  placeholder,
  stuffed,
] as unknown as readonly AppearanceRule<never>[];

/** Words that a name needs. */
const WORDS = 5;

/** A hyphenated lower-case name out of a text; null where too little is left. */
function nameFrom(text: string, context: RuleContext): string | null {
  const lists = languageWords(context);
  const plain = text.normalize('NFKD').replace(/\p{M}/gu, '').replace(/ß/g, 'ss').replace(/ø/gi, 'o');
  const all = wordsOf(plain).map((w) => w.replace(/[^a-z0-9]/g, ''));
  const content = all.filter((w) => w.length > 1 && !lists.some((l) => l.functionWords.has(w)));
  return content.length < 2 ? null : content.slice(0, WORDS).join('-');
}

/** What a file could be called by its alt text, without an extension; null where that makes no name. */
export function proposedStem(context: RuleContext): string | null {
  const words = heardWords(context.appearance);
  // Words that are to be replaced themselves make no better name.
  const isFine = () =>
    !WORD_RULES.some((rule) => rule.check(context, rule.parameters.parse({}), NO_KNOWLEDGE) !== null);
  return words !== null && !isDeviceName(words) && isFine() ? nameFrom(words, context) : null;
}

/** The same with the extension of its file; null where it has that name already. */
export function proposedFileName(context: RuleContext): string | null {
  const now = fileNameOf(context.picture?.src ?? context.appearance.markup.src ?? '');
  const stem = now === '' ? null : proposedStem(context);
  if (stem === null) return null;
  const name = stem + (/\.[a-z0-9]{2,5}$/i.exec(now)?.[0] ?? '').toLowerCase();
  return name === now ? null : name;
}
