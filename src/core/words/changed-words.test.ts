import { bothTexts } from './both-texts';
import { replaceIn, type Replacement } from './replace';

/** Texts that are changed as a whole: words replaced in them, and two made one. */
const replaced = (text: string, more: Partial<Replacement> & { find: string }) =>
  replaceIn(text, { put: 'boat', matchCase: false, wholeWords: true, ...more });

test.each<[string, string, Partial<Replacement> & { find: string }]>([
  ['The Ferry at the ferry port', 'The boat at the boat port', { find: 'ferry' }],
  ['The Ferry at the ferry port', 'The Ferry at the boat port', { find: 'ferry', matchCase: true }],
  ['Ferryman on the ferry', 'Ferryman on the boat', { find: 'ferry' }],
  ['Ferryman on the ferry', 'boatman on the boat', { find: 'ferry', wholeWords: false }],
  // Letters of any script make words, and marks belong to them.
  ['Fähre, Fährenfahrt', 'boat, Fährenfahrt', { find: 'Fähre' }],
  ['cafe cafe\u0301', 'boat cafe\u0301', { find: 'cafe' }],
  // What is searched and put are no patterns.
  ['5 (five) boats', '5 $& boats', { find: '(five)', put: '$&' }],
  ['a.c abc', 'x abc', { find: 'a.c', put: 'x' }],
  ['nothing here', 'nothing here', { find: '' }],
])('%j becomes %j with %j', (text, after, how) => expect(replaced(text, how)).toBe(after));

test.each([
  ['Two puffins', 'Two puffins on a ledge', 'Two puffins on a ledge'],
  ['Two puffins on a ledge', 'Two puffins', 'Two puffins on a ledge'],
  ['', 'A seal', 'A seal'],
  ['The ferry at dawn.', 'The ferry leaves at dawn.', 'The ferry leaves at dawn.'],
])('%j and %j together are %j', (one, other, both) => expect(bothTexts(one, other)).toBe(both));

test('of two different texts, every word of both is there once', () => {
  const both = bothTexts('Two puffins on a cliff', 'Two birds on a grassy cliff');
  for (const word of ['puffins', 'birds', 'grassy']) expect(both.split(word)).toHaveLength(2);
  expect(both.match(/cliff/g)).toHaveLength(1);
});
