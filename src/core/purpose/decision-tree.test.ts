import { plain } from '../model/message';
import { FIRST_QUESTION, QUESTIONS, walk, type QuestionId } from './decision-tree';

/** All ways through the questions, each as its answers and where it ends. */
function ways(
  at: QuestionId = FIRST_QUESTION,
  given: Partial<Record<QuestionId, string>> = {},
): [typeof given, string][] {
  return QUESTIONS[at].answers.flatMap(({ answer, leads }) => {
    const now = { ...given, [at]: answer };
    return leads in QUESTIONS ? ways(leads as QuestionId, now) : [[now, leads] as [typeof given, string]];
  });
}

test('every way ends after at most four questions, and the ends are the kinds of the W3C WAI Images Tutorial', () => {
  const all = ways();
  for (const [given, end] of all) {
    const { asked, purpose } = walk(given, {});
    expect(purpose).toBe(end);
    expect(asked).toEqual(Object.keys(given));
    expect(asked.length).toBeLessThanOrEqual(4);
  }
  // Image maps are reported by the markup, without a question.
  expect(new Set(all.map(([, end]) => end))).toEqual(
    new Set(['functional', 'decorative', 'image of text', 'informative', 'complex', 'one of a group']),
  );
});

/** The order of the W3C tutorial's decision tree (from memory): text, link or button, meaning, else decoration. */
test.each([
  ['an icon alone in a link', { control: 'yes' }, 'functional'],
  ['a slogan set as a picture', { control: 'no', text: 'yes', 'text twice': 'no' }, 'image of text'],
  ['text that stands beside it too', { control: 'no', text: 'yes', 'text twice': 'yes' }, 'decorative'],
  ['a photo that adds to the text', { control: 'no', text: 'no', meaning: 'yes', amount: 'short' }, 'informative'],
  ['a graph', { control: 'no', text: 'no', meaning: 'yes', amount: 'long' }, 'complex'],
  ['one star of five', { control: 'no', text: 'no', meaning: 'together' }, 'one of a group'],
  ['a line between parts', { control: 'no', text: 'no', meaning: 'no' }, 'decorative'],
] as const)('%s', (_, given, purpose) => expect(walk(given, {}).purpose).toBe(purpose));

test('what the evidence answers need not be asked, and a person may answer otherwise', () => {
  const known = {
    control: { answer: 'no', reason: plain('no link') },
    text: { answer: 'yes', reason: plain('12 words') },
    'text twice': { answer: 'yes', reason: plain('all of them') },
  };
  expect(walk({}, known)).toEqual({ asked: ['control', 'text', 'text twice'], purpose: 'decorative' });
  expect(walk({ 'text twice': 'no' }, known).purpose).toBe('image of text');
  expect(walk({ text: 'no' }, known)).toEqual({ asked: ['control', 'text', 'meaning'], purpose: null });
  expect(walk({ control: 'perhaps' }, {})).toEqual({ asked: ['control'], purpose: null });
});
