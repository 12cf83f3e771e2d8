/** The facts that every part of the core speaks of: pages, pictures, appearances. Plain data, no methods. */
import type { HiddenReason, NameSource } from './html/accname';
import type { Candidate } from './html/srcset';

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
  'poster',
  'css-background',
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
  /** Position among the appearances of the page, in source order, from 0. */
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
  shownWidth: number | null;
  shownHeight: number | null;
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
  /** Template place: element names and classes from the body, without positions. */
  place: string;
  region: 'header' | 'nav' | 'main' | 'aside' | 'footer' | null;
}

export interface PageReading {
  title: string;
  lang: string | null;
  charset: string;
  appearances: Appearance[];
  /** `a[href]` and `area[href]` as written, in order, without those marked nofollow. */
  links: string[];
  /** Those that are marked nofollow. */
  unfollowed: string[];
  /** Style sheets that the page links, as written, those for print left out. */
  sheets: string[];
  /** Of `link rel=canonical`, as written. */
  canonical: string | null;
  /** Of `meta name=robots`, in lower case. */
  directives: string[];
  base: string | null;
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
  /** What a re-encoded copy weighs, in bytes, where that was measured. */
  lighter: number | null;
}

/** Elements that show a picture and have no attribute for words: a still of a video, a background of a style sheet. */
export const takesNoWords = (a: Pick<Appearance, 'element'>): boolean =>
  a.element === 'poster' || a.element === 'css-background';
