import type { Candidate } from '../../model/appearance';

/** How the tokens of a descriptor may come together: a density, a width, or a width with a height. */
const DESCRIPTORS = new Set(['', 'x', 'w', 'hw']);

function isDescriptor(descriptor: string): boolean {
  const kinds = descriptor.split(/[\t\n\f\r ]+/).map((token) => {
    if (/^0*[1-9]\d*[wh]$/.test(token)) return token.at(-1);
    if (/^-?(?:\d+|\d*\.\d+)(?:[eE][+-]?\d+)?x$/.test(token) && parseFloat(token) >= 0) return 'x';
    return token === '' ? '' : '?';
  });
  return DESCRIPTORS.has(kinds.sort().join(''));
}

/**
 * Image candidate strings of a `srcset` attribute (HTML Living Standard 4.8.4.3.10, “parse a srcset attribute”); those whose
 * descriptor means nothing are left out, as browsers do.
 */
export function parseSrcset(srcset: string, media = ''): Candidate[] {
  const out: Candidate[] = [];
  let at = 0;
  const take = (pattern: RegExp) => {
    pattern.lastIndex = at;
    const found = pattern.exec(srcset)?.[0] ?? '';
    at += found.length;
    return found;
  };
  for (;;) {
    take(/[\t\n\f\r ,]*/y);
    if (at >= srcset.length) return out;
    const url = take(/[^\t\n\f\r ]+/y);
    let end = url.length;
    while (url[end - 1] === ',') end--;
    const descriptor =
      end < url.length ? '' : take(/(?:\([^)]*\)?|[^,(]+)*/y).replace(/^[\t\n\f\r ]+|[\t\n\f\r ]+$/g, '');
    if (isDescriptor(descriptor)) out.push({ src: url.slice(0, end), descriptor, media });
  }
}
