import { isNumbered } from '../model/held-address';
import { fileNameOf } from './file-name';

/** What sizes, versions and parts of templates add to a name (common practice). */
const NOISE =
  /^(?:img|dsc\w?|image|photo|pic(?:ture)?|final|copy|new|v?\d+|\d+x\d+|\d*px|web|small|large|thumb(?:nail)?|hero|banner|bg|icon|logo|min|scaled|edit(?:ed)?|[a-f0-9]{8,})$/i;
/** Cameras, telephones and screenshot tools, with a number of their own. */
const DEVICE = /^(?:img|dsc[nf]?|pict?|cimg|gopr|pxl|mvimg|sam|imag|scan|screen ?shot|_?mg|p)[-_ ]?\d{3,}/i;

/** What the file names of a collection share, so that it says nothing of one picture. */
export interface SharedNameParts {
  /** Parts, in lower case, that many names have. */
  parts: ReadonlySet<string>;
  /** Words, in lower case, that many names have with a number of their own: `boat3`, `boat7`. */
  numbered: ReadonlySet<string>;
}

export const NOTHING_SHARED: SharedNameParts = { parts: new Set(), numbered: new Set() };

/** Names from which on shared parts can be recognised. */
const FEWEST = 12;
/** Share of the names from which a part belongs to the collection, not to the picture. */
const SHARED = 0.2;
/** Numbers of one word from which they count pictures. */
const NUMBERS = 4;

const partsOf = (src: string): string[] =>
  fileNameOf(src)
    .replace(/\.[a-z0-9]{2,5}$/i, '')
    .split(/[-_+.\s]+/)
    .filter(Boolean);

/**
 * What the names of many files share.
 *
 * @param sources addresses of different pictures; a sample of a large collection is enough
 */
export function sharedNameParts(sources: readonly string[]): SharedNameParts {
  const names = [...new Set(sources.map((s) => fileNameOf(s)))].filter(Boolean);
  const counts = new Map<string, number>();
  const numbers = new Map<string, Set<string>>();
  for (const name of names)
    for (const part of new Set(partsOf(name).map((p) => p.toLowerCase()))) {
      counts.set(part, (counts.get(part) ?? 0) + 1);
      const [, word, number] = /^(\p{L}+)(\d+)$/u.exec(part) ?? [];
      if (word && number) numbers.set(word, (numbers.get(word) ?? new Set()).add(number));
    }
  const isShared = (n: number) => names.length >= FEWEST && n >= SHARED * names.length;
  return {
    parts: new Set([...counts].filter(([, n]) => isShared(n)).map(([part]) => part)),
    numbered: new Set([...numbers].filter(([, of]) => of.size >= NUMBERS).map(([word]) => word)),
  };
}

/**
 * The words in a file's name that mean something: `red-bicycle-2_final.jpg` gives `red bicycle`. A number that tells a kind
 * from another stays (`cheby1`), one that only counts pictures goes, and so does what many names share.
 */
export function fileNameWords(src: string | null, shared: SharedNameParts = NOTHING_SHARED): string {
  if (!src || src.startsWith('data:') || isNumbered(src) || DEVICE.test(fileNameOf(src))) return '';
  const words = partsOf(src)
    .filter((w) => w.length > 1 && !NOISE.test(w) && /\p{L}/u.test(w) && !shared.parts.has(w.toLowerCase()))
    .flatMap((w) =>
      w
        .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
        .toLowerCase()
        .split(' '),
    )
    .map((w) => {
      const word = /^(\p{L}+)\d+$/u.exec(w)?.[1];
      return word && (shared.numbered.has(word) || /\d{3,}$/.test(w)) ? word : w;
    });
  return words.filter((w) => w.length > 1).join(' ');
}
