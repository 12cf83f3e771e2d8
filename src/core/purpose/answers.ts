import { isSurely } from '../model/picture-analysis';
import type { RuleContext } from '../model/rule-context';
import { normalise, wordsOf } from '../words/graphemes';
import type { Answers } from './decision-tree';
import { isTextPicture, kindName, looksLike, recognisedWords } from './propose';

/** Shares of a text's words that another has, from which it is said there. */
const TWICE = 0.8;

/** Answers the questions from what is known of a place; a person may answer otherwise. */
export function answersFor({
  appearance: a,
  picture,
  purpose,
}: Pick<RuleContext, 'appearance' | 'picture' | 'purpose'>): Answers {
  const seen = picture?.analysis ?? null;
  const alone = a.element === 'area' || a.element === 'input' || a.context.control?.text === '';
  const out: Answers = {
    control: {
      answer: alone ? 'yes' : 'no',
      reason: alone
        ? {
            id: 'answer.alone',
            values: { kind: a.element === 'input' ? 'button' : (a.context.control?.kind ?? 'link') },
          }
        : a.context.control
          ? { id: 'answer.control-with-text', values: { kind: a.context.control.kind } }
          : { id: 'answer.no-control' },
    },
  };
  if (seen?.text !== undefined && seen.text !== null) {
    const words = recognisedWords(seen);
    const complex = isSurely(seen, 'chart', 'diagram', 'map', 'photo', 'screenshot');
    if (words === 0) out.text = { answer: 'no', reason: { id: 'answer.no-text' } };
    else if (isTextPicture(seen)) out.text = { answer: 'yes', reason: { id: 'answer.text', values: { words } } };
    else if (complex)
      out.text = { answer: 'no', reason: { id: 'answer.part', values: { kind: kindName(seen.kind!) } } };
    if (out.text?.answer === 'yes') {
      const beside = new Set(
        wordsOf(normalise([a.context.caption, a.context.before, a.context.after].join(' ')).toLowerCase()),
      );
      const own = wordsOf(seen.text.toLowerCase());
      const share = own.filter((w) => beside.has(w)).length / own.length;
      out['text twice'] =
        share >= TWICE
          ? { answer: 'yes', reason: { id: 'answer.text-twice', values: { share } } }
          : { answer: 'no', reason: { id: 'answer.text-once' } };
    }
  }
  if (isSurely(seen, 'separator', 'pattern')) out.meaning = { answer: 'no', reason: looksLike(seen!) };
  else if (a.context.caption) out.meaning = { answer: 'yes', reason: { id: 'evidence.caption' } };
  else if (purpose === 'one of a group') out.meaning = { answer: 'together', reason: { id: 'answer.row' } };
  else if (isSurely(seen, 'photo', 'chart', 'map', 'diagram'))
    out.meaning = { answer: 'yes', reason: looksLike(seen!) };
  if (isSurely(seen, 'chart', 'diagram', 'map') || purpose === 'complex')
    out.amount = {
      answer: 'long',
      reason: purpose === 'complex' ? { id: 'answer.complex' } : looksLike(seen!),
    };
  else if (isSurely(seen, 'photo', 'icon', 'logo', 'drawing'))
    out.amount = {
      answer: 'short',
      reason: looksLike(seen!),
    };
  return out;
}
