import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { Appearance, Purpose } from '../model/appearance';
import { NOT_ANALYSED, type Kind } from '../model/picture-analysis';
import { proposePurpose } from './propose';

/**
 * 422 appearances of eleven makers of pages, drawn at random from Debian's documentation and labelled by hand from
 * their markup, words and seen kinds: the structure, and a few words only. Where the decision tree of the W3C WAI Images Tutorial lets two answers
 * stand (a screenshot of a table: informative or complex), both are given. Texts in pictures are words replaced by "word".
 */
interface Labelled {
  maker: string;
  is: Purpose[];
  element: Appearance['element'];
  state: Appearance['state'];
  src: string | null;
  alt: string | null;
  name: string;
  map?: boolean;
  hidden?: boolean;
  width?: number;
  height?: number;
  caption?: string;
  control?: { kind: 'link' | 'button'; href: string | null; text: string };
  run?: number;
  fillsFigure?: boolean;
  isAlone?: boolean;
  formula?: NonNullable<Appearance['context']['formula']>;
  region?: NonNullable<Appearance['context']['region']>;
  before: string;
  after: string;
  reach: number;
  picture?: { width: number; height: number; kind: Kind | null; sure: number; text: string; textShare: number };
}

const labelled = JSON.parse(readFileSync(path.resolve('src/core/purpose/testing/labelled.json'), 'utf8')) as Labelled[];

function appearanceOf(l: Labelled): Appearance {
  return {
    order: 0,
    element: l.element,
    state: l.state,
    markup: {
      ...{ src: l.src, sheet: null, lazy: false, candidates: [], svg: null, alt: l.alt, title: null, ariaLabel: null },
      ...{ ownRole: null, ariaHidden: l.hidden ?? false, focusable: false, strayAlt: null, templated: false },
      map: l.map ? 'm' : null,
    },
    accessible: {
      ...{ role: 'image', name: l.name, nameSource: l.name === '' ? null : 'alt', descriptions: [] },
      ...{ hidden: l.hidden ? 'aria-hidden' : null, ignored: l.state === 'decorative' },
    },
    context: {
      ...{ lang: 'en', headings: [], before: l.before, after: l.after, caption: l.caption ?? null, captionFrom: null },
      ...{ captionSlot: null, creditLine: null, formula: l.formula ?? null, nextHeading: null, run: l.run ?? null },
      control: l.control ? { ...l.control, name: l.name, defaultName: false, first: true, hidden: false } : null,
      ...{ heading: null, fillsFigure: l.fillsFigure ?? false, isAlone: l.isAlone ?? false, place: 'p>img' },
      region: l.region ?? null,
    },
    layout: { width: l.width ?? null, height: l.height ?? null, fold: null },
    location: { kind: 'script' },
  };
}

const proposed = (l: Labelled): Purpose =>
  proposePurpose(
    appearanceOf(l),
    l.picture
      ? { width: l.picture.width, height: l.picture.height, analysis: { ...NOT_ANALYSED, ...l.picture } }
      : null,
    l.reach,
  ).purpose;

/** The misses of every second one were looked at while the proposals were made; those of the others were not. */
const half = (n: 0 | 1) => labelled.filter((_, i) => i % 2 === n);
const agreement = (of: readonly Labelled[]) => of.filter((l) => l.is.includes(proposed(l))).length / of.length;

test('there are at least 400, of ten makers or more', () => {
  expect(labelled.length).toBeGreaterThanOrEqual(400);
  expect(new Set(labelled.map((l) => l.maker)).size).toBeGreaterThanOrEqual(10);
});

test('proposals agree with people in at least 85 of 100, on the half that only measures too', () => {
  expect(agreement(half(0))).toBeGreaterThanOrEqual(0.85);
  expect(agreement(half(1))).toBeGreaterThanOrEqual(0.85);
});
