import { isSurely } from '../model/picture-analysis';
import type { RuleContext } from '../rules/support/rule';
import { normalise, wordsOf } from '../words/graphemes';
import type { Answers } from './decision-tree';
import { isTextPicture, recognisedWords } from './propose';

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
        ? `it is all that a ${a.element === 'input' ? 'button' : (a.context.control?.kind ?? 'link')} holds`
        : a.context.control
          ? `the ${a.context.control.kind} has text of its own`
          : 'no link or button is around it',
    },
  };
  if (seen?.text !== undefined && seen.text !== null) {
    const words = recognisedWords(seen);
    const complex = isSurely(seen, 'chart', 'diagram', 'map', 'photo', 'screenshot');
    if (words === 0) out.text = { answer: 'no', reason: 'no text was recognised in it' };
    else if (isTextPicture(seen)) out.text = { answer: 'yes', reason: `${words} words were recognised in it` };
    else if (complex) out.text = { answer: 'no', reason: `its text is part of a ${seen.kind}` };
    if (out.text?.answer === 'yes') {
      const beside = new Set(
        wordsOf(normalise([a.context.caption, a.context.before, a.context.after].join(' ')).toLowerCase()),
      );
      const own = wordsOf(seen.text.toLowerCase());
      const share = own.filter((w) => beside.has(w)).length / own.length;
      out['text twice'] =
        share >= TWICE
          ? { answer: 'yes', reason: `${Math.round(share * 100)} % of its words stand beside it too` }
          : { answer: 'no', reason: 'its words do not stand beside it' };
    }
  }
  if (isSurely(seen, 'separator', 'pattern')) out.meaning = { answer: 'no', reason: `it looks like a ${seen!.kind}` };
  else if (a.context.caption) out.meaning = { answer: 'yes', reason: 'it has a caption' };
  else if (purpose === 'one of a group')
    out.meaning = { answer: 'together', reason: 'it stands in a row of small pictures' };
  else if (isSurely(seen, 'photo', 'chart', 'map', 'diagram'))
    out.meaning = { answer: 'yes', reason: `it looks like a ${seen!.kind}` };
  if (isSurely(seen, 'chart', 'diagram', 'map') || purpose === 'complex')
    out.amount = {
      answer: 'long',
      reason: purpose === 'complex' ? 'it is proposed as complex' : `it looks like a ${seen!.kind}`,
    };
  else if (isSurely(seen, 'photo', 'icon', 'logo', 'drawing'))
    out.amount = {
      answer: 'short',
      reason: `it looks like a${/^[aeiou]/.test(seen!.kind!) ? 'n' : ''} ${seen!.kind}`,
    };
  return out;
}
