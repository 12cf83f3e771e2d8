import { z } from 'zod';
import { defineRule } from './support/rule';
import { HTML_ALT, UTR36 } from './support/sources';
import { heardWords, quoted } from './support/words';

const LEAKS: readonly [what: string, pattern: RegExp][] = [
  ['a tag', /<\/?[a-z][a-z0-9-]*(?:\s[^<>]*)?\/?>|<!--/i],
  [
    'an entity that was encoded twice',
    /&(?:amp|lt|gt|quot|apos|nbsp|#\d{1,7}|#x[0-9a-f]{1,6}|[a-z]{2,8}(?:acute|grave|uml|circ|cedil|tilde|slash|lig));/i,
  ],
  ['a template’s own signs', /\{\{|\}\}|\{%|%\}|<\?|<%|\$\{|\[object \w+\]|%(?:\d\$)?s\b/],
  ['an address', /\b(?:https?:\/\/|www\.)\S+/i],
  ['a sign that cannot be seen', /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\u202d\u202e]/],
  // UTF-8 that was read as Latin: Ã, Â, â€ and what follows them.
  [
    'letters of the wrong character set',
    /Ã[\u0080-\u00bf€‚ƒ„…†‡ˆ‰Š‹Œ‘’“”•–—˜™š›œžŸ]|Â[\u00a0-\u00bf]|â€[™œ\u009d“”˜¦]|ï¿½|\ufffd/,
  ],
];

export default defineRule({
  id: 'markup-in-text',
  title: 'Code that leaked in',
  group: 'words',
  about:
    'Something that is meant for machines stands in the words: a tag, an entity that was encoded twice, a template’s own signs, an address, signs that cannot be seen, or letters that were read in the wrong character set. A listener hears every bit of it.',
  scope: 'appearance',
  gives: ['failed'],
  subsumes: ['misspelt', 'shouting', 'other-language', 'stuffed'],
  sources: [HTML_ALT, UTR36],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="Fish &amp; chips">' },
      { html: '<img src="a.jpg" alt="x &lt; 5 and y &gt; 7">' },
      { html: '<img src="a.jpg" alt="50 % off, from 3 to 5 o’clock">' },
      { html: '<img src="a.jpg" alt="Ângela at the quay">' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="&lt;b&gt;Our ferry&lt;/b&gt;">',
        message: '“<b>” is a tag: a listener hears it.',
      },
      {
        html: '<img src="a.jpg" alt="Fish &amp;amp; chips">',
        message: '“&amp;” is an entity that was encoded twice: a listener hears it.',
      },
      {
        html: '<img src="a.jpg" alt="{{ picture.alt }}">',
        message: '“{{” is a template’s own signs: a listener hears it.',
      },
      {
        html: '<img src="a.jpg" alt="Ferry http://skerry.example/ferry.jpg">',
        message: '“http://skerry.example/ferry.jpg” is an address: a listener hears it.',
      },
      {
        html: '<img src="a.jpg" alt="La cafÃ©teria">',
        message: '“Ã©” is letters of the wrong character set: a listener hears it.',
      },
    ],
  },
  check({ appearance }) {
    const words = heardWords(appearance);
    if (words === null) return null;
    for (const [what, pattern] of LEAKS) {
      const found = pattern.exec(words);
      if (!found) continue;
      const shown = /^[\p{Cc}\p{Cf}]/u.test(found[0])
        ? `U+${found[0].codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`
        : found[0];
      return {
        outcome: 'failed',
        message: `${quoted(shown)} is ${what}: a listener hears it.`,
        span: { start: found.index, end: found.index + found[0].length },
      };
    }
    return null;
  },
});
