/** The facts that every part of the core speaks of: pages, pictures, appearances. Plain data, no methods. */
import type { HiddenReason, NameSource } from '../formats/html/accname';
import type { Seen } from './picture-analysis';
import type { Candidate } from '../formats/html/srcset';

export const STATES = ['said', 'silent', 'unsaid'] as const;
export type State = (typeof STATES)[number];

export const PURPOSES = [
  'informative',
  'functional',
  'image of text',
  'complex',
  'one of a group',
  'image map',
  'decorative',
] as const;
/** The kinds of the W3C WAI Images Tutorial. */
export type Purpose = (typeof PURPOSES)[number];

export const ELEMENTS = [
  'img',
  'area',
  'input',
  'svg',
  'object',
  'embed',
  'role-img',
  'source',
  'poster',
  'css-background',
  'canvas',
] as const;
export type AppearanceElement = (typeof ELEMENTS)[number];

/** The link, button, area or image button an appearance belongs to. */
export interface Control {
  kind: 'link' | 'button';
  /** Accessible name of the whole control. */
  name: string;
  /** True when that name is only the browser's own default, such as "Submit". */
  defaultName: boolean;
  href: string | null;
  /** Its visible text, pictures left out. */
  text: string;
  /** True for the first picture in it: what is said of the control is said there, once. */
  first: boolean;
  hidden: boolean;
}

export interface Appearance {
  /** From 0, in source order; then the backgrounds, then what only a script puts there. */
  order: number;
  element: AppearanceElement;
  /** Start tag in the decoded source, UTF-16 code units, half open. */
  start: number;
  end: number;
  /** Of the start tag, from 1; columns in UTF-16 code units. */
  line: number;
  column: number;
  /** As written; null where the element shows no file of its own (inline `svg`, `role=img`). */
  src: string | null;
  /** Address of the style sheet that `src` stands in; null where it stands in the page. */
  sheet: string | null;
  /** `src` was taken from an attribute that a script is expected to read (`data-src` and its like). */
  lazy: boolean;
  candidates: Candidate[];
  /** For inline `svg`: its markup, as it stands in the source. */
  markup: string | null;
  alt: string | null;
  title: string | null;
  ariaLabel: string | null;
  role: string;
  name: string;
  nameSource: NameSource | null;
  hidden: HiddenReason | null;
  ignored: boolean;
  state: State;
  /** The tag holds template syntax: its words cannot be patched safely. */
  templated: boolean;
  /** In CSS pixels: as a browser laid it out where the page was rendered, else as the markup says. */
  shownWidth: number | null;
  shownHeight: number | null;
  /** Whether it is in sight before anybody scrolls, in a window of 1280 × 800; null where the page was not rendered. */
  fold: 'above' | 'below' | null;
  /** Whether it stands in the source, or only a script puts it there. Offsets and line of the latter are 0. */
  origin: 'source' | 'script';
  lang: string | null;
  headings: string[];
  before: string;
  after: string;
  caption: string | null;
  /** The heading that follows at once, with no text between. */
  nextHeading: string | null;
  control: Control | null;
  /** Of an area: the name of its map. Of a picture: the name of the map it uses. */
  map: string | null;
  /** Role that the page gives it itself (`img` is `image`, `presentation` is `none`); null where it gives none. */
  ownRole: string | null;
  /** It has `aria-hidden` itself; what hides it otherwise stands in `hidden`. */
  ariaHidden: boolean;
  focusable: boolean;
  /** An `alt` on an element that takes none: this one, or the nearest around it, told with its first picture. */
  strayAlt: { element: string; text: string } | null;
  /** What is attached to it as a longer description, in the order of the tree. */
  descriptions: Description[];
  /** Pictures with nothing to read between them share a number; null for one that stands alone. */
  run: number | null;
  /** Text of the heading around it; empty where the picture is all there is, null where there is no heading. */
  heading: string | null;
  /** It is all that its `figure` holds, caption aside. */
  fillsFigure: boolean;
  /** Template place: element names and classes from the body, without positions. */
  place: string;
  region: 'header' | 'nav' | 'main' | 'aside' | 'footer' | null;
}

/** A longer description, and whether anybody who follows it finds something. */
export interface Description {
  by: 'aria-describedby' | 'aria-details' | 'longdesc' | 'details' | 'link';
  /** The id or address, as written. */
  target: string;
  /** `elsewhere` is an address of another page, which the page does not tell about. */
  leads: 'to text' | 'nowhere' | 'to an empty place' | 'elsewhere';
}

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
  apart: ApartPicture[];
  /** Nearly nothing in the source, and scripts that make the rest. */
  shell: boolean;
  /** It has scripts, or pictures that wait to be scrolled to without having a place kept: a browser may show more later. */
  stirs: boolean;
  rendered: boolean;
}

export interface ApartPicture {
  kind: 'icon' | 'preview';
  /** As written. */
  src: string;
  /** Of `og:image:alt`. */
  alt: string | null;
}

export interface Picture {
  id: string;
  /** Null for pictures whose bytes could not be had. */
  sha256: string | null;
  /** Media type by signature; null when it is not a picture. */
  type: string | null;
  bytes: number | null;
  width: number | null;
  height: number | null;
  /** The address or path it was first found at. */
  src: string | null;
  /** Why it cannot be shown, in words; null when it can. */
  broken: string | null;
  /** Why Detto did not look at it (robots.txt, another host), in words; null when it did, or tried to. */
  unread: string | null;
  /** What a re-encoded copy weighs, in bytes, where that was measured. */
  lighter: number | null;
  /** What looking at it told; null until somebody did. */
  seen: Seen | null;
  /** A long description is kept for it, which need not be in its pages yet. */
  described?: boolean;
}

/**
 * Elements that show a picture and have no attribute for words: a still of a video, a background of a style sheet,
 * and the `source` of a `picture`, which is heard as its `img` is.
 */
export const takesNoWords = (a: Pick<Appearance, 'element'>): boolean =>
  a.element === 'poster' || a.element === 'css-background' || a.element === 'source';
