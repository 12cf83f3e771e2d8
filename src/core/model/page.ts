import type { Appearance } from './appearance';

/** Words in lower case, as often as they stand in texts. */
export type WordCounts = Record<string, number>;

/** Appearances of one page that are read; a hostile page may hold hundreds of thousands. */
export const MOST_APPEARANCES = 5_000;

export interface PageReading {
  title: string;
  /** Of `meta name=description`. */
  description: string | null;
  /** The first ones of level 1 to 3. */
  headings: string[];
  lang: string | null;
  charset: string;
  appearances: Appearance[];
  /** Appearances beyond the first {@link MOST_APPEARANCES}, which are counted and not read. */
  leftOut: number;
  /** Each `a[href]`, `area[href]` and frame once, without its fragment and else as written, without those marked nofollow. */
  links: string[];
  /** Those that are marked nofollow. */
  unfollowed: string[];
  /** Style sheets that the page links, as written, without those for print and those to be chosen. */
  sheets: string[];
  /** Of `link rel=canonical`, as written. */
  canonical: string | null;
  /** Of `meta name=robots`, in lower case. */
  directives: string[];
  base: string | null;
  /** Pictures that stand for the page elsewhere: its icons, and the preview that others show of it (Open Graph). */
  pagePictures: PagePicture[];
  /** The words of its running text in lower case, from four letters on, as often as they stand there. */
  words: WordCounts;
  /** Nearly nothing in the source, and scripts that make the rest. */
  shell: boolean;
  /** It has scripts, or pictures that wait to be scrolled to without having a place kept: a browser may show more later. */
  isDynamic: boolean;
  rendered: boolean;
}

export interface PagePicture {
  kind: 'icon' | 'preview';
  /** As written. */
  src: string;
  /** Of `og:image:alt`. */
  alt: string | null;
}

/** A reading of a page whose source is decoded already. */
export type SourceReading = Omit<PageReading, 'charset'>;
