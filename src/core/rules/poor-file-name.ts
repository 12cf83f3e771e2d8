import { z } from 'zod';
import { wordsOf } from '../words/graphemes';
import { baseName, isCode, isDeviceName } from './support/file-names';
import { languageWords, heardWords, quoted } from './support/words';
import { defineRule, type RuleContext } from './support/rule';
import { COMMON_PRACTICE, SEARCH_GUIDANCE } from './support/sources';

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

function reasonFor(stem: string): string | null {
  if (isDeviceName(stem)) return 'is what a camera or a tool calls it';
  if (isCode(stem)) return 'is a code';
  if (/^[\d_. -]+$/.test(stem)) return 'is a number';
  return /^(?:image|img|photo|picture|pic|untitled|unnamed|file|download|scan|bild|foto|imagen|imagem|immagine|afbeelding)[-_ ]?\d*$/i.test(
    stem,
  )
    ? 'says nothing'
    : null;
}

export default defineRule({
  id: 'poor-file-name',
  title: 'File name that says nothing',
  group: 'files',
  about:
    'The file is called what a camera or a machine called it. Search engines read file names, and so do people who save the picture. Once the words are right, a name of a few of them, in lower case with hyphens, says what it shows.',
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
          '“IMG_2041.jpg” is what a camera or a tool calls it; “two-puffins-grassy-cliff.jpg” would say what it shows.',
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
    const reason = reasonFor(stem!);
    if (!reason) return [];
    const words = heardWords(said.appearance)!;
    const better = isDeviceName(words) ? null : nameFrom(words, said);
    const proposal = better ? `; ${quoted(better + (extension ?? '').toLowerCase())} would say what it shows` : '';
    return [
      { context: said, finding: { outcome: 'advice' as const, message: `${quoted(file)} ${reason}${proposal}.` } },
    ];
  },
});
