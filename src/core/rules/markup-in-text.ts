import { z } from 'zod';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { HTML_ALT, UTR36, WCAG2ICT } from './support/sources';
import { clipped, heardWords } from './support/words';

const LEAKS: readonly [message: string, pattern: RegExp][] = [
  ['markup-in-text.tag', /<\/?[a-z][a-z0-9-]*(?:\s[^<>]*)?\/?>|<!--/i],
  [
    'markup-in-text.entity',
    /&(?:amp|lt|gt|quot|apos|nbsp|#\d{1,7}|#x[0-9a-f]{1,6}|[a-z]{2,8}(?:acute|grave|uml|circ|cedil|tilde|slash|lig));/i,
  ],
  ['markup-in-text.template', /\{\{|\}\}|\{%|%\}|<\?|<%|\$\{|\[object \w+\]|%(?:\d\$)?s\b/],
  ['markup-in-text.address', /\b(?:https?:\/\/|www\.)\S+/i],
  ['markup-in-text.invisible', /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\u202d\u202e]/],
  // UTF-8 that was read as Latin: Ã, Â, â€ and what follows them.
  ['markup-in-text.charset', /Ã[\u0080-\u00bf€‚ƒ„…†‡ˆ‰Š‹Œ‘’“”•–—˜™š›œžŸ]|Â[\u00a0-\u00bf]|â€[™œ\u009d“”˜¦]|ï¿½|\ufffd/],
];

export default defineRule({
  id: 'markup-in-text',
  title: 'Code in the alt text',
  group: 'words',
  about:
    'The alt text contains something meant for machines: a tag, an entity that was encoded twice, template syntax, a web address, invisible characters, or letters decoded with the wrong character set. Listeners hear every bit of it.',
  scope: 'appearance',
  gives: ['failed'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  subsumes: ['misspelt', 'shouting', 'other-language', 'stuffed'],
  sources: [HTML_ALT, UTR36],
  notForFormulas: true,
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
        message: '“<b>” is a tag, and a listener hears it.',
      },
      {
        html: '<img src="a.jpg" alt="Fish &amp;amp; chips">',
        message: '“&amp;” is an entity that was encoded twice, and a listener hears it.',
      },
      {
        html: '<img src="a.jpg" alt="{{ picture.alt }}">',
        message: '“{{” is template syntax, and a listener hears it.',
      },
      {
        html: '<img src="a.jpg" alt="Ferry http://skerry.example/ferry.jpg">',
        message: '“http://skerry.example/ferry.jpg” is a web address, and a listener hears it.',
      },
      {
        html: '<img src="a.jpg" alt="La cafÃ©teria">',
        message: '“Ã©” was decoded with the wrong character set.',
      },
    ],
  },
  check({ appearance }) {
    const words = heardWords(appearance);
    if (words === null) return null;
    for (const [id, pattern] of LEAKS) {
      const found = pattern.exec(words);
      if (!found) continue;
      const shown = /^[\p{Cc}\p{Cf}]/u.test(found[0])
        ? `U+${found[0].codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`
        : found[0];
      return {
        outcome: 'failed',
        message: { id, values: { text: clipped(shown) } },
        span: { start: found.index, end: found.index + found[0].length },
      };
    }
    return null;
  },
});
