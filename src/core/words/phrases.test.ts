import { commonPhrases, phraseWords } from './phrases';

const LIMITS = { share: 0.3, atLeast: 3 };
const told = (texts: readonly string[], limits = LIMITS) =>
  commonPhrases(texts, limits).map((p) => `${p.at}: ${p.words} (${p.texts}/${p.of})`);

test('the longest phrase that is common, at the start and at the end', () => {
  const texts = ['quay', 'light', 'mole', 'pier'].map((what) => `Skerry Sound Ferries: the ${what} in the evening sun`);
  expect(told([...texts, 'Two gulls', 'A map'])).toEqual([
    'end: in the evening sun (4/6)',
    'start: skerry sound ferries the (4/6)',
  ]);
});

test('one word, and what too few say, are none; a whole text is never one', () => {
  expect(told(['View of the sea', 'View from the pier', 'View up the stack'])).toEqual([]);
  expect(told(['The old quay', 'The old quay!', 'The old quay …'])).toEqual([
    'end: old quay (3/3)',
    'start: the old (3/3)',
  ]);
  expect(told(['By the old quay, one', 'By the old quay, two', 'A gull', 'A seal'])).toEqual([]);
  expect(told([])).toEqual([]);
  expect(told(['a b c', 'a b d'])).toEqual([]);
});

test('a phrase that goes on in different ways is reported by what is common to enough', () => {
  const texts = [
    ...['one', 'two', 'three'].map((n) => `Photo by the harbour office ${n}`),
    ...['four', 'five', 'six'].map((n) => `Photo by the bird reserve ${n}`),
  ];
  // A third of six is two; three are asked for.
  expect(told(texts)).toEqual(['start: photo by the bird reserve (3/6)', 'start: photo by the harbour office (3/6)']);
  expect(told(texts, { share: 0.6, atLeast: 3 })).toEqual(['start: photo by the (6/6)']);
});

/** Counted in the plainest way: every text against every opening that is long enough. */
test('counts are those of looking through all texts', () => {
  const words = ['sea', 'sky', 'the', 'boat', 'by', 'quay'];
  let seed = 11;
  const next = () => (seed = (seed * 48271) % 2147483647);
  const texts = [
    ...new Set(
      Array.from({ length: 300 }, () => Array.from({ length: 3 + (next() % 4) }, () => words[next() % 3]!).join(' ')),
    ),
  ];
  const found = commonPhrases(texts, { share: 0.05, atLeast: 5 });
  expect(found.length).toBeGreaterThan(3);
  for (const { at, words: phrase, texts: n, of } of found) {
    const having = texts.filter(
      (t) => t !== phrase && (at === 'start' ? `${t} `.startsWith(`${phrase} `) : ` ${t}`.endsWith(` ${phrase}`)),
    );
    // Those that are nothing but a shorter opening of it went no further on the way.
    expect([at, phrase, n, of]).toEqual([at, phrase, having.length, texts.length]);
    expect(n).toBeGreaterThanOrEqual(Math.ceil(0.05 * texts.length));
  }
});

test('words are those of any script, without case and with what joins them', () => {
  expect(phraseWords('The O’Brien & Sons quay-side: ÎLE №5 (灯台)')).toEqual([
    'the',
    'o’brien',
    '&',
    'sons',
    'quay-side',
    'île',
    '5',
    '灯台',
  ]);
});
