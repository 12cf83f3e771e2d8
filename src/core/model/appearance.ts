/** The facts that every part of the core speaks of: pages, pictures, appearances. Plain data, no methods. */
import type { Message } from './message';

export type NameSource =
  'aria-labelledby' | 'aria-label' | 'alt' | 'label' | 'value' | 'svg-title' | 'title' | 'contents' | 'default';

/** Why screen readers skip it; `behind the slides` is what stands on a layout or a master. */
export type HiddenReason = 'not rendered' | 'aria-hidden' | 'inert' | 'not visible' | 'no script' | 'behind the slides';

/** One file that a `srcset` offers (HTML Living Standard 4.8.4.2.1). */
export interface Candidate {
  src: string;
  /** `2x`, `640w` or empty. */
  descriptor: string;
  /** Where the survey asked for it; not there before. */
  address?: string | null;
  /** The `media` of the `source` it comes from; empty for the element's own. */
  media: string;
}

export const STATES = ['described', 'decorative', 'missing'] as const;
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

/** Objects of documents that are no markup for browsers: those of office files, and figures of PDF. */
const DOCUMENT_ELEMENTS = [
  'picture',
  'chart',
  'diagram',
  'group',
  'shape',
  'table',
  'embedded',
  'media',
  'background',
  'figure',
  'formula',
] as const;

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
  ...DOCUMENT_ELEMENTS,
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

/** The attributes of its element and what they lead to, as written. */
export interface Markup {
  /** As written; null where the element shows no file of its own (inline `svg`, `role=img`). */
  src: string | null;
  /** Address of the style sheet that `src` stands in; null where it stands in the page. */
  sheet: string | null;
  /** `src` was taken from an attribute that a script is expected to read (`data-src` and its like). */
  lazy: boolean;
  candidates: Candidate[];
  /** Of an inline `svg`: its markup, as it stands in the source. */
  svg: string | null;
  alt: string | null;
  title: string | null;
  ariaLabel: string | null;
  /** Role that the page gives it itself (`img` is `image`, `presentation` is `none`); null where it gives none. */
  ownRole: string | null;
  /** It has `aria-hidden` itself; what hides it otherwise stands in `accessible.hidden`. */
  ariaHidden: boolean;
  focusable: boolean;
  /** An `alt` on an element that takes none: this one, or the nearest around it, given with its first picture. */
  strayAlt: { element: string; text: string } | null;
  /** Of an area: the name of its map. Of a picture: the name of the map it uses. */
  map: string | null;
  /** The tag holds template syntax: its words cannot be patched safely. */
  templated: boolean;
}

/** What assistive technology is given, by Accessible Name and Description Computation 1.2 and HTML-AAM. */
export interface Accessible {
  role: string;
  name: string;
  nameSource: NameSource | null;
  hidden: HiddenReason | null;
  ignored: boolean;
  /** What is attached to it as a longer description, in the order of the tree. */
  descriptions: Description[];
}

/**
 * How a caption is recognised: by its element (`figcaption`, `caption` of a table with nothing else in it, `dd` of a
 * `dt` that is a picture), by a class or id that calls it so, by the number of a figure that it opens with, or as the short
 * block beside the picture in a block that is named for pictures.
 */
export type CaptionSource = 'figcaption' | 'caption' | 'definition' | 'class' | 'label' | 'block';

/**
 * How the markup says that a picture shows a formula: MathML beside it, a class for mathematics on it or on what is only
 * around it, or a size and a place in the line in the height of letters.
 */
export type FormulaMarkup = 'mathml' | 'class' | 'line';

/** What stands around it, as a reader meets it. */
export interface Context {
  lang: string | null;
  /** The headings it stands under, the outermost first. */
  headings: string[];
  before: string;
  after: string;
  caption: string | null;
  /** How that caption was recognised. */
  captionFrom: CaptionSource | null;
  /**
   * What the source has for a caption: an element that holds plain text only, one that holds links or other markup, or a
   * `figure` that takes a new one; null where there is none of these.
   */
  captionSlot: 'plain' | 'markup' | 'new' | null;
  /** What the credit line says that was delivered below it; null where there is none. */
  creditLine: string | null;
  /** Null where nothing in the markup speaks of a formula; absent in readings of earlier versions. */
  formula?: FormulaMarkup | null;
  /**
   * Text of the picture before it at the same template place, else of the one after it: what it is one of. Null for the
   * only one there; absent in readings of earlier versions.
   */
  siblingText?: string | null;
  /** Whether the nearest block around it, such as a paragraph, holds it and nothing to read; absent in readings of earlier versions. */
  isAlone?: boolean;
  /** The heading that follows at once, with no text between. */
  nextHeading: string | null;
  control: Control | null;
  /**
   * Where no control is around it: the address that the one link of its card, such as its caption, leads to. Null for
   * none; absent in readings of earlier versions.
   */
  cardHref?: string | null;
  /** Pictures with nothing to read between them share a number; null for one that stands alone. */
  run: number | null;
  /** Text of the heading around it; empty where the picture is all there is, null where there is no heading. */
  heading: string | null;
  /** Whether it is all that its `figure` holds, apart from the caption. */
  fillsFigure: boolean;
  /** Template place: element names and classes from the body, without positions. */
  place: string;
  region: Region | null;
  /** In documents: where it stands as a reader would say it ("page 12", "left"). */
  spot?: Message | null;
  /** In documents: `place` of the group that it is a part of. */
  partOf?: string | null;
  /** In documents: its alt text is all that can be written. */
  wordsOnly?: boolean;
  /** In documents: what it is drawn from, a chart's data for one, as a table in CommonMark. */
  data?: string | null;
}

/** In CSS pixels: as a browser laid it out where the page was rendered, else as the markup says. */
export interface Layout {
  width: number | null;
  height: number | null;
  /** Whether it is in sight before anybody scrolls, in a window of 1280 × 800; null where the page was not rendered. */
  fold: 'above' | 'below' | null;
  /** Its box in shares of its page, slide or sheet, where the document says it. */
  box?: Box | null;
}

/** From the upper left corner of a page, in shares of its width and height. */
export interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** Where it can be found again in the document's file. */
export type Location =
  | {
      kind: 'html';
      /** Start tag in the decoded source, UTF-16 code units, half open. */
      start: number;
      end: number;
      /** Of the start tag, from 1; columns in UTF-16 code units. */
      line: number;
      column: number;
    }
  /** Only a script puts it into the page: it stands nowhere in the source. */
  | { kind: 'script' }
  /** An object of a part of a package (OOXML, ODF, EPUB): the part's name and the object's id in it. */
  | { kind: 'object'; part: string; object: string }
  /** A range of bytes of the file, half open. */
  | { kind: 'range'; start: number; end: number };

export const REGIONS = ['header', 'nav', 'main', 'aside', 'footer'] as const;
/** The landmark it stands in. */
export type Region = (typeof REGIONS)[number];

/** One use of a picture at one place of one page. */
export interface Appearance {
  /** From 0, in source order; then the backgrounds, then what only a script puts there. */
  order: number;
  element: AppearanceElement;
  state: State;
  markup: Markup;
  accessible: Accessible;
  context: Context;
  layout: Layout;
  location: Location;
}

/** A longer description, and whether anybody who follows it finds something. */
export interface Description {
  by: 'aria-describedby' | 'aria-details' | 'longdesc' | 'details' | 'link';
  /** The id or address, as written. */
  target: string;
  /** `elsewhere` is an address of another page, which the page does not tell about. */
  leads: 'to text' | 'nowhere' | 'to an empty place' | 'elsewhere';
}

/** Line and column of its start tag in the source, from 1; both 0 where it stands nowhere in the source. */
export const positionOf = ({ location }: Pick<Appearance, 'location'>): { line: number; column: number } =>
  location.kind === 'html' ? { line: location.line, column: location.column } : { line: 0, column: 0 };

/**
 * Elements that show a picture and have no attribute for words: a still of a video, a background of a style sheet,
 * and the `source` of a `picture`, which is heard as its `img` is.
 */
export const takesNoWords = (a: Pick<Appearance, 'element'>): boolean =>
  a.element === 'poster' || a.element === 'css-background' || a.element === 'source' || a.element === 'background';

/** Whether it is an object of a document that is no markup for browsers. */
export const isDocumentObject = (a: Pick<Appearance, 'element'>): boolean =>
  (DOCUMENT_ELEMENTS as readonly string[]).includes(a.element);

/**
 * Whether it may be one thing with what stands beside it or in its place: a member of a run, a version for other screens,
 * and in documents a chart, a diagram, a group or a part of one.
 */
export const isSideBySide = ({ element, markup, context }: Appearance): boolean =>
  context.run !== null ||
  context.place.includes('picture') ||
  markup.candidates.length > 0 ||
  ['chart', 'diagram', 'group'].includes(element) ||
  Boolean(context.partOf);

/** Whether its words are its alt text itself, rather than a label that ARIA lends it. */
export const takesAlt = (a: Pick<Appearance, 'element'>): boolean =>
  a.element === 'img' || a.element === 'area' || a.element === 'input' || isDocumentObject(a);
