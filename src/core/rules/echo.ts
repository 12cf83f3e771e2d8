import { z } from 'zod';
import type { Appearance } from '../appearance';
import { wordsKey, lengthOf } from '../words/graphemes';
import { defineRule } from './rule';
import { COMMON_PRACTICE, H2 } from './sources';
import { heardWords, quoted, trimmedSpan } from './words';
import { normalise } from '../words/graphemes';

/** Shorter texts ("A", "1 £") stand beside themselves by chance. */
const SHORTEST = 4;

function echoed(a: Appearance, key: string): string | null {
  const same = (text: string | null) => text !== null && wordsKey(text) === key;
  if (same(a.caption)) return 'the caption';
  if (a.control && same(a.control.text)) return `the text of the same ${a.control.kind}`;
  if (a.nameSource !== 'title' && same(a.title)) return 'the title';
  if (same(a.nextHeading)) return 'the heading below';
  if (same(a.headings.at(-1) ?? null)) return 'the heading above';
  const before = wordsKey(a.before);
  const after = wordsKey(a.after);
  const edge = (text: string, at: number) => !/[\p{L}\p{N}]/u.test(text[at] ?? '');
  if (before.endsWith(key) && edge(before, before.length - key.length - 1)) return 'the text just before';
  if (after.startsWith(key) && edge(after, key.length)) return 'the text just after';
  return null;
}

export default defineRule({
  id: 'echo',
  title: 'Said twice',
  group: 'sets',
  about:
    'The words repeat what stands beside the picture: its caption, its title, the link or heading next to it. A listener hears the same thing twice. Say what the neighbour does not, or stay silent.',
  scope: 'appearance',
  gives: ['advice'],
  sources: [H2, COMMON_PRACTICE],
  parameters: z.object({}),
  examples: {
    passes: [
      {
        html: '<figure><img src="a.jpg" alt="Red ferry with its ramp down"><figcaption>The Brannoch ferry</figcaption></figure>',
      },
      { html: '<a href="/fares"><img src="a.svg" alt=""> Fares</a>' },
      { html: '<img src="a.jpg" title="Brannoch quay">' },
      { html: '<p>We sail to Brannoch</p><img src="a.jpg" alt="Brannoch quay at low tide">' },
    ],
    fails: [
      {
        html: '<figure><img src="a.jpg" alt="The Brannoch ferry"><figcaption>The Brannoch ferry.</figcaption></figure>',
        message: '“The Brannoch ferry” repeats the caption: it is heard twice.',
      },
      {
        html: '<a href="/fares"><img src="a.svg" alt="Fares"> Fares</a>',
        message: '“Fares” repeats the text of the same link: it is heard twice.',
      },
      {
        html: '<img src="a.jpg" alt="Brannoch quay" title="Brannoch quay">',
        message: '“Brannoch quay” repeats the title: it is heard twice.',
      },
      {
        html: '<div><img src="a.jpg" alt="Day tickets"><h3>Day tickets</h3></div>',
        message: '“Day tickets” repeats the heading below: it is heard twice.',
      },
    ],
  },
  check({ appearance: a }) {
    const words = heardWords(a);
    if (words === null || lengthOf(words) < SHORTEST) return null;
    const what = echoed(a, wordsKey(words));
    if (!what) return null;
    return {
      outcome: 'advice',
      message: `${quoted(normalise(words))} repeats ${what}: it is heard twice.`,
      span: trimmedSpan(words),
      mends: a.control && a.control.text === '' ? [] : [{ kind: 'make silent' }],
    };
  },
});
