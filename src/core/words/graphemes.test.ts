import { lengthOf, normalise, wordsKey, wordsOf } from './graphemes';

/** The shortcuts for plain texts, against the definitions themselves: ICU's segmentation (UAX 29), NFKC (UAX 15). */
const ALPHABETS = [
  'abcXYZ 019.,-',
  'äöüßéÀŒ «»“”…–',
  'αβγΩάέ кошкаЖ €',
  'e\u0301a\u0308o\u0327 n\u0303',
  '👩\u200d👩\u200d👧🇩🇪👍🏽 a',
  'שלום مرحبا ',
  'かガ\u3099漢字ｶﾞＡ',
  'ไทยกำ한국어각 ',
  ' \t\n\r\u00a0\u2003x',
  '\u00ad\u200b\u200d\u2028\u2060\ufeffy ',
];
const segmenter = new Intl.Segmenter('und', { granularity: 'grapheme' });

/** The same sequence on every run (Lehmer generator, Park and Miller 1988). */
function* samples(alphabet: string): Generator<string> {
  const letters = [...alphabet];
  let seed = 20_261;
  for (let i = 0; i < 200; i++) {
    let text = '';
    for (let n = i % 14; n > 0; n--) {
      seed = (seed * 48_271) % 2_147_483_647;
      text += letters[seed % letters.length];
    }
    yield text;
  }
}

test.each(ALPHABETS)('texts of %j are measured and compared by their definitions', (alphabet) => {
  for (const text of samples(alphabet)) {
    const normal = text.replace(/\s+/g, ' ').trim();
    expect(normalise(text)).toBe(normal);
    expect(lengthOf(text)).toBe([...segmenter.segment(normal)].length);
    const folded = normal.normalize('NFKC').toLocaleLowerCase('und');
    expect(wordsKey(text)).toBe(folded.replace(/[.!…]+$/u, ''));
    expect(wordsOf(text).join(' ')).toBe((folded.match(/[\p{L}\p{M}\p{N}]+(?:['’][\p{L}]+)*/gu) ?? []).join(' '));
  }
});

test('a key ignores case, white space, compatible forms and the closing stop', () => {
  expect(wordsKey(' Ｔhe  Ferry…')).toBe(wordsKey('the ferry.'));
  expect(wordsKey('The ferries')).not.toBe(wordsKey('The ferry'));
});
