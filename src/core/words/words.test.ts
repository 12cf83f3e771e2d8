import { dictionaryBytes, dictionariesOf, knowledge } from '@/server/language/dictionaries';
import type { ContextPage } from '../model/rule-context';
import { languagesFor } from './language/words';
import { keywordUses, pageKeywords } from './keywords';
import { commonPhrases } from './phrases';
import { recognise } from './recognise';
import { spellerOf } from './spelling';
import { stemmerFor } from './stemmer';

describe('phrases that open or close many texts', () => {
  const limits = { share: 0.3, atLeast: 3 };

  test('the longest one, not its parts; never a whole text', () => {
    const texts = ['the quay | skerry sound ferries', 'a gull | skerry sound ferries', 'seals | skerry sound ferries'];
    expect(commonPhrases([...texts, 'skerry sound ferries', 'nothing'], limits)).toEqual([
      { at: 'end', words: 'skerry sound ferries', texts: 3, of: 5 },
    ]);
  });
  test('at the beginning as well, and of several the most common first', () => {
    const texts = ['welcome aboard the lass', 'welcome aboard the maid', 'welcome aboard a boat', 'welcome aboard all'];
    expect(commonPhrases(texts, limits)).toEqual([{ at: 'start', words: 'welcome aboard', texts: 4, of: 4 }]);
  });
  test('too few of them are nothing, and neither is one word', () => {
    expect(commonPhrases(['the quay', 'the gull', 'the seal'], limits)).toEqual([]);
    expect(commonPhrases(['in the quay now', 'in the seal now'], limits)).toEqual([]);
  });
});

// Words and their mistakes as handbooks of these languages list them (common practice, from memory).
describe.each([
  ['en', ['harbour', 'colour', 'separate', "don't"], ['seperate', 'definately', 'occured']],
  ['en-us', ['harbor', 'color'], ['recieve']],
  ['en-gb', ['harbour', 'colour'], ['neighbor', 'recieve']],
  ['de', ['Standard', 'Rhythmus', 'Hafenmauer'], ['Rythmus', 'Addresse']],
  ['fr', ['appeler', "aujourd'hui", 'développer'], ['apeller', 'developper']],
  ['es', ['exhibición', 'también'], ['exibición', 'tambíen']],
  ['it', ['soqquadro', 'accelerare'], ['soquadro', 'accellerare']],
  ['nl', ['onmiddellijk', 'interessant'], ['onmiddelijk', 'intresant']],
  ['pt', ['exceção', 'barco'], ['excessão', 'barrco']],
])('the dictionary of %s', (language, right, wrong) => {
  const speller = knowledge().speller(language)!;
  test.each(right)('knows %s', (word) => expect(speller.knows(word)).toBe(true));
  test.each(wrong)('does not know %s, and has something better', (word) => {
    expect(speller.knows(word)).toBe(false);
    expect(speller.suggest(word).length).toBeGreaterThan(0);
  });
});

test('letters that were left out or doubled come first among suggestions', () => {
  const speller = knowledge().speller('en')!;
  expect(speller.suggest('raling')).toContain('railing');
  expect(speller.suggest('grasy')[0]).toBe('grassy');
  expect(speller.suggest('harbourr').slice(0, 2)).toContain('harbour');
});

test('a language without a dictionary is spelt by none; what is no dictionary is refused', () => {
  expect(knowledge().speller('fi')).toBeNull();
  expect(dictionariesOf('en-AU')).toEqual(['en-gb', 'en-us']);
  expect(() => dictionaryBytes('../secret')).toThrow('There is no dictionary ../secret.');
  expect(() => spellerOf(new Uint8Array([1, 2, 3]))).toThrow();
});

// Article 1 of the Universal Declaration of Human Rights, in the official translations (from memory).
test.each([
  ['en', 'All human beings are born free and equal in dignity and rights.'],
  ['de', 'Alle Menschen sind frei und gleich an Würde und Rechten geboren.'],
  ['fr', 'Tous les êtres humains naissent libres et égaux en dignité et en droits.'],
  ['es', 'Todos los seres humanos nacen libres e iguales en dignidad y derechos.'],
  ['it', 'Tutti gli esseri umani nascono liberi ed eguali in dignità e diritti.'],
  ['nl', 'Alle mensen worden vrij en gelijk in waardigheid en rechten geboren.'],
  ['pt', 'Todos os seres humanos nascem livres e iguais em dignidade e em direitos.'],
  ['ru', 'Все люди рождаются свободными и равными в своем достоинстве и правах.'],
  ['ja', 'すべての人間は、生まれながらにして自由であり、かつ、尊厳と権利とについて平等である。'],
  ['ar', 'يولد جميع الناس أحرارا متساوين في الكرامة والحقوق.'],
])('%s is recognised', (language, text) => expect(recognise(text)?.language).toBe(language));

test('nothing is recognised where there is nothing to read', () => expect(recognise('123 – 456')).toBeNull());

describe('what a page is about', () => {
  const options = { lists: languagesFor('en'), stem: stemmerFor('en') };
  const page: ContextPage = {
    path: '/sailings',
    lang: 'en',
    title: 'Winter sailings – Skerry Sound',
    description: 'When the ferry sails in winter',
    headings: ['Sailings in winter', 'The late boat'],
    directives: [],
  };
  test('what stands in more than one of title, headings and description', () => {
    expect(pageKeywords(page, options)).toEqual(['winter', 'sailings']);
  });
  test('words that only join others are none, in whatever language the page may be', () => {
    const joined = {
      ...page,
      title: 'And you don’t use others: und für Häfen',
      headings: ['And others you don’t use, und für Häfen'],
    };
    expect(pageKeywords(joined, { ...options, lists: languagesFor(null) })).toEqual(['use', 'häfen']);
  });
  test('how often a text says them, in whatever form, and what the house wants', () => {
    expect(keywordUses('The ferry is sailing; a ferry in the ice', page, ['ferry', 'late boat'], options)).toEqual([
      { word: 'ferry', from: 'house', times: 2 },
      { word: 'late boat', from: 'house', times: 0 },
      { word: 'winter', from: 'page', times: 0 },
      { word: 'sailings', from: 'page', times: 1 },
    ]);
  });
});
