import { z } from 'zod';
import { normalise, wordsOf } from '../words/graphemes';
import { stemmerFor } from '../words/stemmer';
import { isEnlargement } from '../purpose/enlargement';
import { ownTitle } from '../words/page-title';
import { languagesFor } from '../words/language/words';
import { EVERY_FORMAT } from './support/formats';
import { defineRule, type Knowledge } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { G82, SC_2_4_4, TUTORIAL_FUNCTIONAL, WCAG2ICT } from './support/sources';
import { bare } from '../words/said';
import { clipped, heardWords, languageOf, languageWords, statedLanguage, trimmedSpan } from './support/words';

/** The words of an address that people can read: `/sailings/winter-2026` gives sailings, winter, 2026. */
function addressWords(href: string): string[] {
  try {
    const url = new URL(href, 'http://here.invalid');
    const host = url.hostname === 'here.invalid' ? '' : url.hostname;
    return wordsOf(`${decodeURIComponent(url.pathname)} ${host} ${url.hash}`.replace(/[^\p{L}\p{N}]+/gu, ' '));
  } catch {
    return wordsOf(href.replace(/[^\p{L}\p{N}]+/gu, ' '));
  }
}

/** Whether words and target have a word in common, by stem, or one within the other ("timetable", "time"). */
function meets(context: RuleContext, words: string): boolean {
  const lists = languageWords(context);
  const stem = stemmerFor(languageOf(context));
  const content = (text: string[]) =>
    text.filter((w) => w.length > 1 && !lists.some((l) => l.functionWords.has(w))).map(stem);
  const said = content(wordsOf(words));
  const target = content([
    ...wordsOf(context.targetTitle ?? ''),
    ...addressWords(context.appearance.context.control?.href ?? ''),
    ...wordsOf(context.appearance.context.nextHeading ?? ''),
  ]);
  return said.some((s) =>
    target.some((t) => s === t || (s.length > 3 && t.includes(s)) || (t.length > 3 && s.includes(t))),
  );
}

/** How much better a title has to fit another language than that of the words. */
const OTHER = 0.15;

/** Whether the target's title can speak against the words: one of its own, in the language of the words. */
function isEvidence(context: RuleContext, know: Knowledge): boolean {
  const title = context.targetTitle;
  if (!title || languageWords(context).some((l) => l.navigation.has(bare(title)))) return false;
  // Words in one script have none in common with those in another, whatever they mean.
  const isLatin = (text: string) => /\p{Script=Latin}{2}/u.test(text);
  if (isLatin(title) !== isLatin(heardWords(context.appearance) ?? '')) return false;
  const language = languageOf(context)?.toLowerCase().split('-')[0];
  const found = language ? know.recognise(title) : null;
  return !found || found.language === language || found.score - found.scoreOf(language!) < OTHER;
}

/** Where the address itself says what the link does. */
const DOES = /^(?:#|mailto:|tel:|javascript:)/i;

export default defineRule({
  id: 'target-unnamed',
  title: 'Unclear link or button',
  group: 'purpose',
  about:
    'The alt text of a linked picture says where the link goes, that of a button what it does. “Click here” tells nobody; and a text that only describes the picture, with nothing in common with the title or address of the target, leaves listeners guessing.',
  scope: 'appearance',
  gives: ['failed', 'cantTell'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  sources: [SC_2_4_4, TUTORIAL_FUNCTIONAL, G82],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<a href="/fares"><img src="a.svg" alt="Fares and tickets"></a>', targetTitle: 'Fares' },
      { html: '<a href="/r?id=7"><img src="a.svg" alt="Winter timetable"></a>', targetTitle: 'Timetable for winter' },
      { html: '<a href="/x"><img src="a.svg" alt="Two puffins"></a>' },
      { html: '<a href="/2"><img src="a.svg" alt="Next"></a>', targetTitle: 'Chapter 2' },
      { html: '<a href="/about#people"><img src="a.svg" alt="Our crew"></a>', targetTitle: 'About Skerry Sound' },
      { html: '<a href="/index"><img src="a.svg" alt="Skerry Sound"></a>', targetTitle: 'Contents' },
      { html: '<a href="quay-large.jpg"><img src="quay.jpg" alt="The quay"></a>', targetTitle: 'Harbour' },
      { html: '<a href="/more"><img src="a.svg" alt=""> More about puffins</a>' },
    ],
    fails: [
      {
        html: '<a href="/fares"><img src="a.svg" alt="Click here"></a>',
        message: '“Click here” does not say where the link leads.',
      },
      {
        html: '<button><img src="a.svg" alt="Button"></button>',
        message: '“Button” does not say what the button does.',
      },
      {
        html: '<a href="/preise"><img src="a.svg" alt="Mehr erfahren"></a>',
        lang: 'de',
        message: '“Mehr erfahren” does not say where the link leads.',
      },
      {
        html: '<a href="/"><img src="a.svg" alt="logo"></a>',
        targetTitle: 'Skerry Sound – Home',
        message: '“logo” does not say where the link leads: the target is called “Skerry Sound – Home”.',
      },
      {
        html: '<a href="/cruise"><img src="a.jpg" alt="Two birds on a cliff"></a>',
        targetTitle: 'Book the cruise – Skerry Sound',
        message:
          '“Two birds on a cliff” has no word in common with the target of the link, “Book the cruise – Skerry Sound”.',
      },
    ],
  },
  check(context, _, know) {
    const {
      context: { control },
    } = context.appearance;
    const words = heardWords(context.appearance);
    if (words === null || !control || control.hidden || control.text !== '') return null;
    const text = normalise(words);
    const span = trimmedSpan(words);
    if (languageWords(context).some((l) => l.emptyLinks.has(bare(text))))
      return {
        outcome: 'failed',
        message: { id: 'target-unnamed.empty', values: { text: clipped(text), kind: control.kind } },
        span,
      };
    // Where the page states no language, what it was guessed to be may be wrong, and these words are never doubtful.
    if (languagesFor(statedLanguage(context)).some((l) => l.navigation.has(bare(text)))) return null;
    // Without the target's title, an address alone says too little to doubt the words.
    const href = control.href ?? '';
    // Where a fragment leads within its page, the page's title does not say; a larger file is what the text describes.
    if (control.kind !== 'link' || !isEvidence(context, know) || DOES.test(href) || href.includes('#')) return null;
    if (isEnlargement(context.appearance) || meets(context, text)) return null;
    if (languageWords(context).some((l) => l.namelessTargets.has(bare(text))))
      return {
        outcome: 'cantTell',
        message: {
          id: 'target-unnamed.nameless',
          values: { text: clipped(text, 40), target: clipped(context.targetTitle!, 40) },
        },
        span,
        fixes: [{ kind: 'use words', text: ownTitle(context.targetTitle!) }],
      };
    return {
      outcome: 'cantTell',
      message: {
        id: 'target-unnamed.nothing-shared',
        values: { text: clipped(text, 40), target: clipped(context.targetTitle!, 40) },
      },
      span,
    };
  },
});
