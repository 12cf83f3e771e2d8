import { z } from 'zod';
import type { Message } from '../model/message';
import { groupBy } from '../group-by';
import { normalise, wordsKey } from '../words/graphemes';
import { saidWords } from '../words/said';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { type RuleFinding } from '../model/finding';
import { COMMON_PRACTICE } from './support/sources';
import { clipped, heardWords, languageOf } from './support/words';

export default defineRule({
  id: 'mixed-words',
  title: 'One picture, different alt texts',
  group: 'sets',
  about:
    'The same picture has different alt texts in different places, or none in some of them, although it serves the same purpose. What is right in one place is often right in the others.',
  scope: 'picture',
  gives: ['cantTell', 'advice'],
  formats: EVERY_FORMAT,
  sources: [COMMON_PRACTICE],
  notForFormulas: true,
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Two puffins"><p>Text</p><img src="a.jpg" alt="Two puffins.">' },
      {
        html: '<img src="a.jpg" alt="Two puffins"><a href="/cruise"><img src="a.jpg" alt="Book the puffin cruise"></a>',
      },
      { html: '<img src="a.jpg" alt="Two puffins"><img src="a.jpg" alt="">' },
      { html: '<img src="a.jpg" alt="[ Two puffins ]"><p>Text</p><img src="a.jpg" alt="two-puffins">' },
      { html: '<img src="a.jpg" alt="Two puffins"><img lang="de" src="a.jpg" alt="Zwei Papageitaucher">' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="Two puffins"><p>Text</p><img src="a.jpg" alt="Puffins on the cliff">',
        message: '2 different texts in 2 places, “Two puffins” and “Puffins on the cliff”.',
      },
      {
        html: ['<img src="a.jpg">', '<img src="a.jpg" alt="Two puffins">'],
        message: 'Its alt text is “Two puffins” in 1 place and missing in 1 other.',
      },
    ],
  },
  check(contexts) {
    const out: { context: RuleContext; finding: RuleFinding }[] = [];
    // The areas of one map say what each of them leads to.
    const audible = contexts.filter(
      ({ appearance: a }) => !a.accessible.hidden && a.state !== 'decorative' && a.element !== 'area',
    );
    const groups = groupBy(audible, (s) => {
      const language = languageOf(s)?.toLowerCase().split('-')[0] ?? '';
      return s.purpose === 'functional'
        ? `${language} functional ${s.appearance.context.control?.href ?? ''}`
        : `${language} ${s.purpose}`;
    });
    for (const group of groups.values()) {
      const texts = new Map<string, { text: string; places: number }>();
      const none = group.filter((s) => s.appearance.state === 'missing');
      for (const context of group) {
        const words = heardWords(context.appearance);
        if (words === null) continue;
        const key = [...saidWords(words, languageOf(context))].join(' ') || wordsKey(words);
        const entry = texts.get(key) ?? { text: normalise(words), places: 0 };
        texts.set(key, { ...entry, places: entry.places + 1 });
      }
      if (texts.size === 0 || (texts.size === 1 && none.length === 0)) continue;
      const all = [...texts.values()].sort((a, b) => b.places - a.places);
      const message: Message =
        all.length === 1
          ? {
              id: 'mixed-words.missing',
              values: { text: clipped(all[0]!.text), places: all[0]!.places, missing: none.length },
            }
          : {
              id: all.length > 2 ? 'mixed-words.many' : 'mixed-words.two',
              values: {
                texts: all.length,
                places: group.length,
                first: clipped(all[0]!.text, 40),
                second: clipped(all[1]!.text, 40),
                others: all.length - 1,
                missing: none.length,
              },
            };
      out.push({
        context: none[0] ?? group[0]!,
        finding: {
          outcome: none.length > 0 ? 'cantTell' : 'advice',
          message,
          // Of many texts none is likely to be right everywhere.
          fixes: (all.length > 3 ? [] : all).map(({ text }) => ({ kind: 'use words', text })),
        },
      });
    }
    return out;
  },
});
