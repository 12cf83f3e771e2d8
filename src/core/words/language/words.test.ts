import { LISTED, languagesFor, wordsOfLanguage } from './words';

/** What every language needs, so that a translator sees what is missing. */
describe.each(LISTED)('the word lists of %s', (language) => {
  const lists = wordsOfLanguage(language)!;
  test('hold something in every part, in lower case, each once', () => {
    for (const set of [lists.placeholders, lists.emptyLinks, lists.navigation, lists.functionWords, lists.screens]) {
      expect(set.size).toBeGreaterThan(8);
      for (const word of set) expect(word).toBe(word.toLowerCase());
    }
    expect(lists.openings.length).toBeGreaterThan(0);
    expect(lists.decoration.length).toBeGreaterThan(0);
    expect(lists.qualifiers.length).toBeGreaterThan(20);
  });
  test('what does something is not what says nothing', () => {
    expect([...lists.navigation].filter((w) => lists.emptyLinks.has(w))).toEqual([]);
  });
});

test('a text is looked at by its own language and by English, which tools leave behind everywhere', () => {
  const [german, english] = languagesFor('de-CH');
  expect([german!.placeholders.has('platzhalter'), english!.placeholders.has('image')]).toEqual([true, true]);
  expect(languagesFor('en-GB')).toHaveLength(1);
  expect(languagesFor('fi')).toEqual(languagesFor('en'));
  expect(languagesFor(null)).toHaveLength(LISTED.length);
  expect(wordsOfLanguage('fi')).toBeNull();
});

test('seven languages at least', () => expect([...LISTED].sort()).toEqual(['de', 'en', 'es', 'fr', 'it', 'nl', 'pt']));
