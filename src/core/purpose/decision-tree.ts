import type { Purpose } from '../appearance';
import type { Spot } from '../rules/rule';
import { normalise, wordsOf } from '../words/graphemes';
import { isSurely } from '../picture/seen';
import { isTextPicture, wordsInside } from './propose';

/** The questions of the W3C WAI Images Tutorial's decision tree, in our words, at most four on any way. */
export type QuestionId = 'text' | 'text twice' | 'control' | 'meaning' | 'amount';

export interface Question {
  id: QuestionId;
  answers: { answer: string; leads: QuestionId | Purpose }[];
}

/** Keys of the answers; the interface has their words. */
export const QUESTIONS: Readonly<Record<QuestionId, Question>> = {
  control: {
    id: 'control',
    answers: [
      { answer: 'yes', leads: 'functional' },
      { answer: 'no', leads: 'text' },
    ],
  },
  text: {
    id: 'text',
    answers: [
      { answer: 'yes', leads: 'text twice' },
      { answer: 'no', leads: 'meaning' },
    ],
  },
  'text twice': {
    id: 'text twice',
    answers: [
      { answer: 'yes', leads: 'decorative' },
      { answer: 'no', leads: 'image of text' },
      { answer: 'part', leads: 'amount' },
    ],
  },
  meaning: {
    id: 'meaning',
    answers: [
      { answer: 'yes', leads: 'amount' },
      { answer: 'together', leads: 'one of a group' },
      { answer: 'no', leads: 'decorative' },
    ],
  },
  amount: {
    id: 'amount',
    answers: [
      { answer: 'short', leads: 'informative' },
      { answer: 'long', leads: 'complex' },
    ],
  },
};
export const FIRST_QUESTION: QuestionId = 'control';

/** What the evidence answers, and why; null where it does not say. */
export type Answers = Partial<Record<QuestionId, { answer: string; because: string }>>;

/** Shares of a text's words that another has, from which it is said there. */
const TWICE = 0.8;

/** Answers the questions from what is known of a place; a person may answer otherwise. */
export function answersFor({
  appearance: a,
  picture,
  purpose,
}: Pick<Spot, 'appearance' | 'picture' | 'purpose'>): Answers {
  const seen = picture?.seen ?? null;
  const alone = a.element === 'area' || a.element === 'input' || a.control?.text === '';
  const out: Answers = {
    control: {
      answer: alone ? 'yes' : 'no',
      because: alone
        ? `it is all that a ${a.element === 'input' ? 'button' : (a.control?.kind ?? 'link')} holds`
        : a.control
          ? `the ${a.control.kind} has text of its own`
          : 'no link or button is around it',
    },
  };
  if (seen?.text !== undefined && seen.text !== null) {
    const words = wordsInside(seen);
    const complex = isSurely(seen, 'chart', 'diagram', 'map', 'photo', 'screenshot');
    if (words === 0) out.text = { answer: 'no', because: 'no text was recognised in it' };
    else if (isTextPicture(seen)) out.text = { answer: 'yes', because: `${words} words were recognised in it` };
    else if (complex) out.text = { answer: 'no', because: `its text is part of a ${seen.kind}` };
    if (out.text?.answer === 'yes') {
      const beside = new Set(wordsOf(normalise([a.caption, a.before, a.after].join(' ')).toLowerCase()));
      const own = wordsOf(seen.text.toLowerCase());
      const share = own.filter((w) => beside.has(w)).length / own.length;
      out['text twice'] =
        share >= TWICE
          ? { answer: 'yes', because: `${Math.round(share * 100)} % of its words stand beside it too` }
          : { answer: 'no', because: 'its words do not stand beside it' };
    }
  }
  if (isSurely(seen, 'separator', 'pattern')) out.meaning = { answer: 'no', because: `it looks like a ${seen!.kind}` };
  else if (a.caption) out.meaning = { answer: 'yes', because: 'it has a caption' };
  else if (purpose === 'one of a group')
    out.meaning = { answer: 'together', because: 'it stands in a row of small pictures' };
  else if (isSurely(seen, 'photo', 'chart', 'map', 'diagram'))
    out.meaning = { answer: 'yes', because: `it looks like a ${seen!.kind}` };
  if (isSurely(seen, 'chart', 'diagram', 'map') || purpose === 'complex')
    out.amount = {
      answer: 'long',
      because: purpose === 'complex' ? 'it is proposed as complex' : `it looks like a ${seen!.kind}`,
    };
  else if (isSurely(seen, 'photo', 'icon', 'logo', 'drawing'))
    out.amount = {
      answer: 'short',
      because: `it looks like a${/^[aeiou]/.test(seen!.kind!) ? 'n' : ''} ${seen!.kind}`,
    };
  return out;
}

/** The questions on the way, each with the answer that was given or that the evidence gives, and where it ends. */
export function walk(
  given: Partial<Record<QuestionId, string>>,
  known: Answers,
): { asked: QuestionId[]; purpose: Purpose | null } {
  const asked: QuestionId[] = [];
  let at: QuestionId = FIRST_QUESTION;
  for (;;) {
    asked.push(at);
    const answer = given[at] ?? known[at]?.answer;
    const leads = QUESTIONS[at].answers.find((o) => o.answer === answer)?.leads;
    if (leads === undefined) return { asked, purpose: null };
    if (!(leads in QUESTIONS)) return { asked, purpose: leads as Purpose };
    at = leads as QuestionId;
  }
}
