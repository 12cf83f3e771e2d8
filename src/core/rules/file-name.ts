import { z } from 'zod';
import { normalise } from '../words/graphemes';
import { hasExtension, isCode, isDeviceName } from './support/file-names';
import { fileNameOf } from '../picture/file-name';
import { isCallOut } from './support/call-out';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { F30, HTML_ALT, WCAG2ICT } from './support/sources';
import { clipped, heardWords, trimmedSpan } from './support/words';

const JOINING_WORDS = new Set(
  'a an and at by for from in of on the to with de la le les der die das und y e'.split(' '),
);

/** `img-top`, `pic_left`: names that style sheets and templates give. */
const CLASS_NAME = /^(?:img|image|pic|icon|thumb|btn|bg)[-_][a-z0-9]+$/;

/** `summer-sale-hero`: three parts or more in lower case, and not an English compound such as state-of-the-art. */
function isSlug(text: string): boolean {
  if (CLASS_NAME.test(text)) return true;
  const parts = text.split(/[-_]/);
  if (!/^[a-z0-9]+(?:[-_][a-z0-9]+)+$/.test(text)) return false;
  if (/\d/.test(text) || text.includes('_')) return parts.length > 2 || /_|[a-z]-?\d+$/.test(text);
  return parts.length > 2 && !parts.some((p) => JOINING_WORDS.has(p));
}

/** "Red bicycle" on `red-bicycle.jpg` reads as words; `red-bicycle`, `hero2` and `heroImage` do not. */
function readsAsWords(text: string): boolean {
  return /^[\p{L}\p{M}’' ]+$/u.test(text) && !/\p{Ll}\p{Lu}/u.test(text);
}

/** Id of the message that says what kind of name a text is; null where it is none. */
function reasonFor(text: string, src: string | null): string | null {
  if (src) {
    const file = fileNameOf(src);
    const stem = file.replace(/\.[a-z0-9]{2,5}$/i, '');
    const plain = (s: string) => s.toLowerCase().replace(/[-_+ ]+/g, ' ');
    if (text.toLowerCase() === file.toLowerCase()) return 'file-name.own';
    if (plain(text) === plain(stem) && !readsAsWords(text)) return 'file-name.own';
    // The address without its extension: “figures/plot3”.
    const tail = text.replace(/^(?:\.{1,2}\/)+/, '').toLowerCase();
    if (
      /\//.test(tail) &&
      !/\s/.test(tail) &&
      src
        .toLowerCase()
        .replace(/\.[a-z0-9]{2,5}$/, '')
        .endsWith(tail)
    )
      return 'file-name.own';
  }
  if (hasExtension(text)) return 'file-name.extension';
  if (isDeviceName(text)) return 'file-name.device';
  if (isCode(text)) return 'file-name.code';
  if (isSlug(text)) return 'file-name.slug';
  return null;
}

export default defineRule({
  id: 'file-name',
  title: 'File name as alt text',
  group: 'words',
  about:
    'The alt text is a file name: the picture’s own, a camera’s, a code or part of an address. Tools fill it in and nobody notices, except the people who have to listen to it letter by letter.',
  scope: 'appearance',
  gives: ['failed'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  subsumes: [
    'word-list',
    'misspelt',
    'boilerplate',
    'poor-file-name',
    'other-language',
    'same-words',
    'mixed-words',
    'overlong',
    'stuffed',
    'shouting',
  ],
  sources: [F30, HTML_ALT],
  notForFormulas: true,
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="red-bicycle.jpg" alt="Red bicycle">' },
      { html: '<img src="harbour.jpg" alt="Harbour">' },
      { html: '<img src="images/5.png" alt="5">' },
      { html: '<img src="a.jpg" alt="State-of-the-art check-in desk">' },
      { html: '<img src="a.jpg" alt="How to export a .png">' },
    ],
    fails: [
      {
        html: '<img src="/i/IMG_2041.jpg" alt="IMG_2041.jpg">',
        message: '“IMG_2041.jpg” is the file’s own name, not a description.',
      },
      {
        html: '<img src="red-bicycle.jpg" alt="red_bicycle">',
        message: '“red_bicycle” is the file’s own name, not a description.',
      },
      {
        html: '<img src="a.jpg" alt="DSC00412">',
        message: '“DSC00412” is a camera’s or a screenshot’s file name, not a description.',
      },
      {
        html: '<img src="a.jpg" alt="6f1c2a9e-0b7d-4e21-9a55-3c1d2e4f5a6b">',
        message: '“6f1c2a9e-0b7d-4e21-9a55-3c1d2e4f5a6b” is a code such as programs give to files, not a description.',
      },
      {
        html: '<img src="a.jpg" alt="puffin-week-hero-2">',
        message: '“puffin-week-hero-2” is part of an address, not a description.',
      },
      {
        html: '<img src="a.jpg" alt="quay at dusk.jpeg">',
        message: '“quay at dusk.jpeg” is a file name, not a description.',
      },
    ],
  },
  check(context) {
    const { appearance: a, picture } = context;
    const words = heardWords(a);
    if (words === null) return null;
    const text = normalise(words);
    if (isCallOut(text, context)) return null;
    const id = reasonFor(text, a.markup.src ?? picture?.src ?? null);
    if (!id) return null;
    return { outcome: 'failed', message: { id, values: { text: clipped(text) } }, span: trimmedSpan(words) };
  },
});
