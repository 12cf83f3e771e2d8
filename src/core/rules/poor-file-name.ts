import { z } from 'zod';
import type { Message } from '../model/message';
import { wordsOf } from '../words/graphemes';
import { baseName, isCode, isDeviceName } from './support/file-names';
import { clipped, heardWords, languageWords } from './support/words';
import decorationWithText from './decoration-with-text';
import fileName from './file-name';
import markupInText from './markup-in-text';
import placeholder from './placeholder';
import stuffed from './stuffed';
import { defineRule, NO_KNOWLEDGE, type AppearanceRule } from './support/rule';
import type { RuleContext } from './support/rule-context';
import { COMMON_PRACTICE, SEARCH_GUIDANCE } from './support/sources';

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

/** Id of the message that says why a name says nothing; null where it says something. */
function reasonFor(stem: string): string | null {
  if (isDeviceName(stem)) return 'poor-file-name.device';
  if (isCode(stem)) return 'poor-file-name.code';
  if (/^[\d_. -]+$/.test(stem)) return 'poor-file-name.number';
  return /^(?:image|img|photo|picture|pic|untitled|unnamed|file|download|scan|bild|foto|imagen|imagem|immagine|afbeelding)[-_ ]?\d*$/i.test(
    stem,
  )
    ? 'poor-file-name.nothing'
    : null;
}

export default defineRule({
  id: 'poor-file-name',
  title: 'Meaningless file name',
  group: 'files',
  about:
    'The file still has the name that a camera or a program gave it. Search engines read file names, and so do people who save the picture. Once the alt text is right, a few of its words in lower case, joined by hyphens, make a good name.',
  scope: 'picture',
  gives: ['advice'],
  sources: [SEARCH_GUIDANCE, COMMON_PRACTICE],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="two-puffins.jpg" alt="Two puffins">' },
      { html: '<img src="IMG_2041.jpg" alt="">' },
      { html: '<img src="hero-1200x600.jpg" alt="The ferry at the quay">' },
    ],
    fails: [
      {
        html: '<img src="/i/IMG_2041.jpg" alt="Two puffins on a grassy cliff">',
        message:
          '“IMG_2041.jpg” is a camera’s or a program’s name for it; “two-puffins-grassy-cliff.jpg” would say what it shows.',
      },
      {
        html: '<img src="IMG_2041.jpg" alt="cheap ferry tickets, cheap ferry, ferry tickets cheap, best ferry">',
        message: '“IMG_2041.jpg” is a camera’s or a program’s name for it.',
      },
      {
        html: '<img src="00231.jpg" alt="Ferry">',
        message: '“00231.jpg” is a number.',
      },
    ],
  },
  check(contexts) {
    const said = contexts.find((s) => heardWords(s.appearance) !== null && s.purpose !== 'decorative');
    const src = said?.picture?.src ?? said?.appearance.markup.src;
    if (!said || !src || src.startsWith('data:')) return [];
    const file = baseName(src);
    const [, stem, extension] = /^(.*?)(\.[a-z0-9]{2,5})?$/i.exec(file)!;
    const id = reasonFor(stem!);
    if (!id) return [];
    const words = heardWords(said.appearance)!;
    // Words that are to be replaced themselves make no better name.
    const areFine = !WORD_RULES.some((rule) => rule.check(said, rule.parameters.parse({}), NO_KNOWLEDGE) !== null);
    const better = areFine && !isDeviceName(words) ? nameFrom(words, said) : null;
    const values = { file: clipped(file) };
    const message: Message = better
      ? {
          id: 'poor-file-name.proposal',
          values: {
            message: { id, values },
            proposal: clipped(better + (extension ?? '').toLowerCase()),
          },
        }
      : { id: 'poor-file-name.alone', values: { message: { id, values } } };
    return [{ context: said, finding: { outcome: 'advice' as const, message } }];
  },
});
