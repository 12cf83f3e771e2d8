import { z } from 'zod';
import { groupBy } from '../group-by';
import { normalise, wordsKey } from '../words/graphemes';
import { defineRule, type RuleContext } from './support/rule';
import { type RuleFinding } from '../model/finding';
import { COMMON_PRACTICE } from './support/sources';
import { count, heardWords, languageOf, quoted } from './support/words';

export default defineRule({
  id: 'mixed-words',
  title: 'One picture, different words',
  group: 'sets',
  about:
    'The same picture says one thing here and another there, or nothing at all in one of its places, although it serves the same purpose. What is right in one place is often right in the others.',
  scope: 'picture',
  gives: ['cantTell', 'advice'],
  sources: [COMMON_PRACTICE],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Two puffins"><p>Text</p><img src="a.jpg" alt="Two puffins.">' },
      {
        html: '<img src="a.jpg" alt="Two puffins"><a href="/cruise"><img src="a.jpg" alt="Book the puffin cruise"></a>',
      },
      { html: '<img src="a.jpg" alt="Two puffins"><img src="a.jpg" alt="">' },
      { html: '<img src="a.jpg" alt="Two puffins"><img lang="de" src="a.jpg" alt="Zwei Papageitaucher">' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="Two puffins"><p>Text</p><img src="a.jpg" alt="Puffins on the cliff">',
        message: '2 different texts in 2 places, “Two puffins” and “Puffins on the cliff”.',
      },
      {
        html: ['<img src="a.jpg">', '<img src="a.jpg" alt="Two puffins">'],
        message: 'It says “Two puffins” in 1 place and nothing in 1 other.',
      },
    ],
  },
  check(contexts) {
    const out: { context: RuleContext; finding: RuleFinding }[] = [];
    const audible = contexts.filter((s) => !s.appearance.accessible.hidden && s.appearance.state !== 'decorative');
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
        const key = wordsKey(words);
        const entry = texts.get(key) ?? { text: normalise(words), places: 0 };
        texts.set(key, { ...entry, places: entry.places + 1 });
      }
      if (texts.size === 0 || (texts.size === 1 && none.length === 0)) continue;
      const all = [...texts.values()].sort((a, b) => b.places - a.places);
      const message =
        all.length === 1
          ? `It says ${quoted(all[0]!.text)} in ${count(all[0]!.places, 'place')} and nothing in ${none.length} ${none.length === 1 ? 'other' : 'others'}.`
          : `${all.length} different texts in ${count(group.length, 'place')}, ${quoted(all[0]!.text, 40)} and ${
              all.length > 2 ? count(all.length - 1, 'other') : quoted(all[1]!.text, 40)
            }${none.length > 0 ? `; nothing in ${none.length}` : ''}.`;
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
