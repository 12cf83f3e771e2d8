import type { Outcome } from '../model/finding';
import { saidWords } from '../words/said';
import type { DraftInput } from './compose';
import { hasGaps, type Draft } from './draft';

/** What the audit found in a draft, as far as it is about the words. */
export interface DraftFinding {
  rule: string;
  outcome: Outcome;
}

/** How much each outcome takes from a draft's grade. */
const COST: Readonly<Record<Outcome, number>> = { failed: 0.35, cantTell: 0.15, advice: 0.05 };
const UNCERTAIN = 0.1;
const DOUBTFUL = 0.3;
const GAP = 0.25;

/**
 * How likely a draft can be accepted as it stands, from 0 to 1: what its drafter says of it, less what the audit found, what
 * the drafter was not sure of, and that nothing known of the picture agrees with it.
 */
export function gradeOf(
  draft: Pick<Draft, 'text' | 'confidence' | 'uncertain'>,
  findings: readonly DraftFinding[],
  isDoubtful: boolean,
): number {
  const cost =
    findings.reduce((sum, f) => sum + COST[f.outcome], 0) +
    draft.uncertain.length * UNCERTAIN +
    (isDoubtful ? DOUBTFUL : 0) +
    (draft.text !== null && hasGaps(draft.text) ? GAP : 0);
  return Math.max(0, Math.min(1, draft.confidence - cost));
}

/** Letters from which a word that both say is no accident. */
const TELLING = 4;

/**
 * Whether a text shares nothing with what is known of the picture and with what stands around it, so that it may be about
 * another one.
 *
 * @param pageTitle title of the page, which counts as around it
 */
export function sharesNothing(text: string, known: DraftInput, pageTitle: string): boolean {
  const { appearance: a, picture, language } = known;
  const around = [
    pageTitle,
    ...a.context.headings,
    a.context.before,
    a.context.after,
    a.context.caption,
    a.context.control?.name,
    a.markup.title,
    a.markup.alt,
    known.targetTitle,
    known.lookAlike,
    known.formula,
    ...known.elsewhere,
    picture?.analysis?.text,
    picture?.analysis?.words,
    (a.markup.src ?? picture?.src ?? '').replace(/[^\p{L}]+/gu, ' '),
    ...known.things.map((t) => t.name),
    ...known.colours.map((c) => c.replace('-', ' ')),
  ].join(' ');
  const words = saidWords(around, language);
  return ![...saidWords(text, language)].some((w) => w.length >= TELLING && words.has(w));
}
