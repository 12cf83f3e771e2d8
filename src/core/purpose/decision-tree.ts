import type { Purpose } from '../model/appearance';
import type { Message } from '../model/message';

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
export type Answers = Partial<Record<QuestionId, { answer: string; reason: Message }>>;

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
