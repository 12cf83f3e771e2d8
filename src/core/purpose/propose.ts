import type { Appearance, AppearanceElement, Purpose } from '../model/appearance';
import type { Picture } from '../model/picture';
import { type Message } from '../model/message';
import { hasMathMl, isFormula } from './formula';
import { isEnlargement } from './enlargement';
import { fileNameWords } from '../picture/file-name-words';
import { bare, saysAtEdge, saysSame } from '../words/said';
import { isProgram } from '../picture/program';
import { isSurely, type Kind, type PictureAnalysis } from '../model/picture-analysis';
import { languagesFor } from '../words/language/words';
import { lengthOf, wordsOf } from '../words/graphemes';

export interface PurposeProposal {
  purpose: Purpose;
  /** What speaks for it, as short phrases that follow "Proposed:". */
  evidence: Message[];
  /** From 0 to 1. */
  sure: number;
}

/** What the proposal looks at of a picture. */
export type ProposalPicture = Pick<Picture, 'width' | 'height'> & { analysis?: PictureAnalysis | null };

const NO_WORDS: Partial<Record<AppearanceElement, Message>> = {
  poster: { id: 'evidence.poster' },
  'css-background': { id: 'evidence.background' },
  background: { id: 'evidence.slide-background' },
  source: { id: 'evidence.source' },
};

const CAPTION: Message = { id: 'evidence.caption' };

/** A kind of picture with its article: "a photo". */
export const kindName = (kind: Kind): Message => ({ id: `kind.${kind}` });

export const looksLike = ({ kind }: { kind: Kind | null }): Message => ({
  id: 'evidence.looks-like',
  values: { kind: kindName(kind!) },
});

/** What it is called that needs more than a short text ("tide chart"), in what is said of it. */
function complexWord(a: Appearance, seen: PictureAnalysis | null | undefined): string | null {
  // What is surely something else is only called so: a chart of accounts, the map tool's icon.
  if (isSurely(seen, ...NOT_COMPLEX) || (seen && isProgram(seen))) return null;
  const said = [a.markup.alt, a.markup.ariaLabel, a.context.caption, a.markup.title]
    .filter((t) => t !== null)
    .join(' ');
  for (const { complex, screens } of said === '' ? [] : languagesFor(a.context.lang)) {
    if (wordsOf(said).some((w) => screens.has(w))) return null;
    const word = complex.exec(said)?.[0];
    if (word) return word.toLowerCase();
  }
  return null;
}

const NOT_COMPLEX: readonly Kind[] = ['screenshot', 'icon', 'logo', 'photo', 'pattern', 'separator'];

/** Calls in code that draw a chart, as libraries of many languages name them (common practice). */
const DRAWS =
  /(?:^|[^\w])(?:\w*plot\w*|hist|histogram|scatter|barh?|pie|contourf?|imshow|pcolormesh|heatmap|errorbar|semilog[xy]|loglog|surf|stem|\w*chart|\w*graph)\s*\(/i;
/** How far back from a picture the code that draws it ends, in UTF-16 code units. */
const CODE = 320;

/** Numbers in a picture from which they may be those of an axis. */
const TICKS = 4;

/** Whether numbers that are written in a picture go up, or down, by the same step: those of an axis. */
export function hasAxis(text: string | null | undefined): boolean {
  const numbers = (text?.match(/(?<![\w.])[-−]?\d+(?:\.\d+)?(?![\w.])/g) ?? []).map((n) => Number(n.replace('−', '-')));
  for (let i = 0; i + TICKS <= numbers.length; i++) {
    const step = numbers[i + 1]! - numbers[i]!;
    let n = 2;
    while (
      i + n < numbers.length &&
      Math.abs(numbers[i + n]! - numbers[i + n - 1]! - step) < 1e-6 * Math.max(1, Math.abs(step))
    )
      n++;
    if (step !== 0 && n >= TICKS) return true;
  }
  return false;
}

const DRAWN: readonly Kind[] = ['chart', 'diagram', 'map', 'drawing'];
/** Words in a large drawing from which they are the labels of its parts. */
const LABELS = 4;
/** Words of a line, on average, up to which they are labels. */
const PER_LINE = 3;
/** Sureness from which a diagram or a chart counts: each is taken for the other more often than for anything else. */
const LIKELY = 0.5;
/** Lines of text from which a drawing has labels, where a ticket or a card has a few. */
const LINES = 6;

/** What around or in a picture says that it is a chart or a diagram, where nothing says that it is something else. */
function chartSign(a: Appearance, picture: ProposalPicture | null): Message | null {
  const seen = picture?.analysis;
  if (isSurely(seen, ...NOT_COMPLEX) || (seen && isProgram(seen))) return null;
  if (hasAxis(seen?.text)) return { id: 'evidence.axis' };
  if (DRAWS.test(a.context.before.slice(-CODE))) return { id: 'evidence.drawn-by-code' };
  // Kinds of drawings are hard to tell apart; lines with labels in several places are a diagram, a chart or a map.
  const area = (picture?.width ?? 0) * (picture?.height ?? 0);
  const isDrawn = seen?.kind && DRAWN.includes(seen.kind);
  const lines = seen?.text?.split('\n').length ?? 0;
  const count = recognisedWords(seen);
  // Lines of many words are the text of a screen.
  // What is mostly text is no drawing with labels.
  const isLabelled =
    !isTextPicture(seen) &&
    count >= LABELS &&
    count <= PER_LINE * lines &&
    (seen!.kind !== 'drawing' || lines >= LINES);
  return isDrawn && area >= LARGE && isLabelled ? { id: 'evidence.labels' } : null;
}

/** The words of it that say themselves that it carries no information ("spacer"), as rule `decoration-with-text` finds them. */
function announcedDecoration(a: Appearance): string | null {
  const words = bare(a.accessible.name);
  if (words === '' || a.state !== 'described') return null;
  return languagesFor(a.context.lang).some((l) => l.decoration.some((d) => d.test(words))) ? words : null;
}

/** Share of the area under recognised text from which a picture is one of text. */
const TEXT_SHARE = 0.12;
/** Words from which a picture of text says more than a label. */
const TEXT_WORDS = 2;
/** Recognised words beyond which a short text cannot say it all (common practice; rule `needs-long-description`). */
export const MANY_WORDS = 25;
/** Pixels of a side up to which pictures in a row say one thing together. */
const SMALL = 64;
/** Pages from which a picture is part of the frame of a site. */
const EVERYWHERE = 20;

export const recognisedWords = (seen: PictureAnalysis | null | undefined): number =>
  seen?.text ? wordsOf(seen.text).length : 0;

/** Kinds that have text in them without being text. */
const NO_TEXT_PICTURE: readonly Kind[] = ['chart', 'diagram', 'map', 'photo'];
/** Words from which a picture that is only likely of such a kind is no poster either. */
const POSTER_WORDS = 40;

/** Whether what is to be seen is mostly text, and no part of something else. */
export function isTextPicture(seen: PictureAnalysis | null | undefined): boolean {
  const words = recognisedWords(seen);
  if (!seen || words < TEXT_WORDS || seen.kind === 'screenshot' || isProgram(seen)) return false;
  const other = seen.kind !== null && NO_TEXT_PICTURE.includes(seen.kind);
  if (other && (isSurely(seen, ...NO_TEXT_PICTURE) || words > POSTER_WORDS)) return false;
  return isSurely(seen, 'poster') || seen.textShare >= TEXT_SHARE;
}

/**
 * Proposes what a picture does where it stands: from the markup, and from the picture itself where it was looked at (W3C
 * WAI Images Tutorial, its decision tree). A person settles it.
 *
 * @param reach on how many pages the picture is; 0 where that is not known
 */
export function proposePurpose(whole: Appearance, picture: ProposalPicture | null, reach = 0): PurposeProposal {
  // What a link to the larger file is around is no button: it describes.
  const enlarged = isEnlargement(whole) && whole.state !== 'decorative';
  const a = enlarged ? { ...whole, context: { ...whole.context, control: null } } : whole;
  const certain = (purpose: Purpose, ...evidence: Message[]) => ({ purpose, evidence, sure: 0.95 });
  if (a.element === 'area') return certain('functional', { id: 'evidence.area' });
  if (a.element === 'input') return certain('functional', { id: 'evidence.button' });
  const wordless = NO_WORDS[a.element];
  if (wordless) return certain('decorative', wordless);
  if (a.context.control && a.context.control.text === '')
    return certain(
      'functional',
      { id: 'evidence.alone', values: { kind: a.context.control.kind } },
      ...(a.context.control.href ? [{ id: 'evidence.target', values: { href: a.context.control.href } }] : []),
    );
  if (a.state !== 'decorative' && (a.element === 'chart' || a.element === 'diagram'))
    return certain('complex', { id: `evidence.${a.element}` });
  const width = picture?.width ?? a.layout.width;
  const height = picture?.height ?? a.layout.height;
  if (width !== null && height !== null && width <= 3 && height <= 3)
    return certain('decorative', { id: 'evidence.pixels', values: { width, height } });
  if (a.state !== 'decorative' && isFormula(a))
    return { purpose: 'informative', evidence: [{ id: 'evidence.formula' }], sure: 0.9 };
  if (a.state === 'decorative') return proposeForDecorative(a, picture, reach);
  const adornment = adornmentSign(a, picture, reach);
  if (adornment) return { purpose: 'decorative', evidence: [adornment], sure: 0.7 };
  const announced = announcedDecoration(a);
  if (announced !== null)
    return { purpose: 'decorative', evidence: [{ id: 'evidence.announced', values: { text: announced } }], sure: 0.9 };
  if (a.markup.map !== null && a.element === 'img') return certain('image map', { id: 'evidence.areas' });
  return fromContent(a, picture, reach);
}

/** Pixels from which a picture takes half a column of text, so that something is to be seen (common practice). */
const LARGE = 120_000;

/** Pixels of a side up to which a picture is a bullet in front of a text. */
const BULLET = 20;
/** Places of a picture from which it may be a bullet or a sign of a template. */
const AGAIN = 3;

/** What says that a small picture adds nothing to the text beside it: a bullet, or a sign beside the word for it. */
function adornmentSign(a: Appearance, picture: ProposalPicture | null, reach: number): Message | null {
  const width = a.layout.width ?? picture?.width ?? Infinity;
  const height = a.layout.height ?? picture?.height ?? Infinity;
  const side = Math.max(width, height);
  const { before, after, control } = a.context;
  const name = a.accessible.name;
  if (control && control.text !== '' && side <= SMALL && name !== '' && saysSame(control.text, name, a.context.lang))
    return { id: 'evidence.icon-beside', values: { text: name } };
  if (side <= BULLET && after !== '' && !/[\p{L}\p{N}]/u.test(name) && (reach >= AGAIN || a.state === 'missing'))
    return { id: 'evidence.bullet' };
  if (side > SMALL || control) return null;
  const called = a.state === 'missing' ? fileNameWords(a.markup.src) : name;
  const near = called.length + 8;
  const beside =
    lengthOf(called) > 1 &&
    (saysAtEdge(after.slice(0, near), called, 'start', a.context.lang) ||
      saysAtEdge(before.slice(-near), called, 'end', a.context.lang));
  return beside ? { id: 'evidence.icon-beside', values: { text: called } } : null;
}

/** Whether a picture stands large enough in the text to be looked at, and is of no kind that only adorns. */
export function isShown(a: Appearance, picture: ProposalPicture | null): boolean {
  const width = a.layout.width ?? picture?.width ?? 0;
  const height = a.layout.height ?? picture?.height ?? 0;
  const { region, before, after } = a.context;
  const isText = (region === 'main' || region === null) && (before !== '' || after !== '');
  const adorns = isSurely(picture?.analysis, 'icon', 'logo', 'pattern', 'separator');
  return isText && !adorns && Math.min(width, height) > SMALL && a.element === 'img';
}

/** Pages up to which a picture belongs to what stands around it. */
const FEW = 3;

/** Marked as decorative: proposed as such unless something speaks against it. */
function proposeForDecorative(a: Appearance, picture: ProposalPicture | null, reach: number): PurposeProposal {
  const seen = picture?.analysis;
  const evidence: Message[] = [{ id: a.markup.alt === '' ? 'evidence.empty-alt' : 'evidence.hidden' }];
  if (hasMathMl(a)) return { purpose: 'decorative', evidence: [{ id: 'evidence.mathml' }], sure: 0.95 };
  if (isSurely(seen, 'separator', 'pattern'))
    return {
      purpose: 'decorative',
      evidence: [...evidence, { id: 'evidence.is', values: { kind: kindName(seen!.kind!) } }],
      sure: 0.95,
    };
  const area = (a.layout.width ?? picture?.width ?? 0) * (a.layout.height ?? picture?.height ?? 0);
  const doubts = [
    ...(a.context.caption ? [CAPTION] : []),
    ...(isTextPicture(seen) ? [{ id: 'evidence.some-text' }] : []),
    ...(isSurely(seen, 'chart', 'diagram', 'map', 'screenshot')
      ? [{ id: 'evidence.is', values: { kind: kindName(seen!.kind!) } }]
      : []),
    ...(a.context.fillsFigure ? [{ id: 'evidence.figure' }] : []),
    ...(a.context.isAlone && reach <= FEW && isShown(a, picture) ? [{ id: 'evidence.only-content' }] : []),
    ...(area >= LARGE && reach === 1 && isSurely(seen, 'photo') && a.context.region !== 'header'
      ? [{ id: 'evidence.large-photo' }]
      : []),
  ];
  if (doubts.length === 0 || a.context.control) return { purpose: 'decorative', evidence, sure: 0.75 };
  const shown = fromContent(a, picture, reach);
  return {
    purpose: shown.purpose,
    evidence: [...doubts, { id: 'evidence.though-empty' }],
    sure: 0.5,
  };
}

function fromContent(a: Appearance, picture: ProposalPicture | null, reach: number): PurposeProposal {
  const seen = picture?.analysis;
  const complex = complexWord(a, seen);
  // Windows of programs have the lines and the few colours of charts.
  const isComplex =
    isSurely(seen, 'chart', 'diagram', 'map') ||
    ((seen?.kind === 'diagram' || seen?.kind === 'chart') && seen.sure >= LIKELY && !isTextPicture(seen));
  const kind = isComplex && !isProgram(seen) ? seen!.kind : null;
  if (complex && !a.context.control)
    return {
      purpose: 'complex',
      evidence: [{ id: 'evidence.complex-word', values: { word: complex } }, ...(kind ? [looksLike({ kind })] : [])],
      sure: kind ? 0.95 : 0.8,
    };
  const sign = a.context.control ? null : chartSign(a, picture);
  if (sign)
    return { purpose: 'complex', evidence: [sign, ...(kind ? [looksLike({ kind })] : [])], sure: kind ? 0.9 : 0.7 };
  if (kind && !a.context.control) return { purpose: 'complex', evidence: [looksLike({ kind })], sure: seen!.sure };
  if (isSurely(seen, 'separator'))
    return {
      purpose: 'decorative',
      evidence: [looksLike(seen!), { id: 'evidence.nothing-else' }],
      sure: seen!.sure,
    };
  const words = recognisedWords(seen);
  if (isTextPicture(seen) && !a.context.control)
    return {
      purpose: 'image of text',
      evidence: [
        { id: 'evidence.words', values: { words } },
        ...(isSurely(seen, 'poster')
          ? [{ id: 'evidence.poster-or-banner' }]
          : [{ id: 'evidence.text-share', values: { share: seen!.textShare } }]),
      ],
      sure: isSurely(seen, 'poster') ? 0.85 : 0.7,
    };
  const side = Math.max(a.layout.width ?? picture?.width ?? Infinity, a.layout.height ?? picture?.height ?? Infinity);
  if (a.context.run !== null && side <= SMALL && !a.context.control)
    return {
      purpose: 'one of a group',
      evidence: [{ id: 'evidence.row' }],
      sure: 0.6,
    };
  if (a.context.control)
    return {
      purpose: 'informative',
      evidence: [{ id: 'evidence.beside-text', values: { kind: a.context.control.kind } }],
      sure: 0.55,
    };
  const photo = isSurely(seen, 'photo');
  const evidence: Message[] = [
    ...(photo ? [looksLike(seen!)] : []),
    ...(a.context.caption ? [CAPTION] : []),
    ...(a.context.region === 'main' || a.context.before || a.context.after ? [{ id: 'evidence.running-text' }] : []),
    ...(reach >= EVERYWHERE ? [{ id: 'evidence.pages', values: { reach } }] : []),
    { id: 'evidence.no-link' },
  ];
  return { purpose: 'informative', evidence, sure: Math.min(0.9, 0.5 + 0.15 * (evidence.length - 1)) };
}
