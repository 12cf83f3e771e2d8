import { captionParts } from './caption-parts';
import { changedShare } from './changed';
import { NOTHING_KNOWN } from './compose';
import { gapsIn, hasGaps } from './draft';
import { faultInWords, WORD_RULES } from './faults';
import { fitLength } from './fit-length';
import { gradeOf, sharesNothing } from './grade';
import { likeContexts, type PlaceContext } from './like-contexts';
import { readAnswer } from './answer';
import { readSource } from '../formats/html/read-page';
import { ruleById } from '../rules';

describe('captions', () => {
  test.each([
    ['Figure 4.2. The locking mechanism', 'The locking mechanism', ''],
    ['Abb. 3: Blick über den Hafen', 'Blick über den Hafen', ''],
    ['Skipper Ann on the bridge. Photo: A. Marr', 'Skipper Ann on the bridge', ''],
    ['The quay in 1910 (© Harbour Trust)', 'The quay in 1910', ''],
    ['The quay (click to enlarge)', 'The quay', ''],
    ['Der Kai. Foto: Ole Marr', 'Der Kai', ''],
    ['Le port, par © S. Marr', 'Le port', ''],
    ['Zum Vergrößern klicken', '', ''],
    ['A gull on the rail. It has been there all summer.', 'A gull on the rail', 'It has been there all summer.'],
    ['Dr. Haddow at the desk', 'Dr. Haddow at the desk', ''],
    ['Photo: A. Marr', '', ''],
  ])('%s', (caption, shows, comment) => expect(captionParts(caption)).toEqual({ shows, comment }));
});

describe('gaps', () => {
  test('are questions between single angle quotation marks', () => {
    expect(gapsIn('‹who?› in a skipper’s cap')).toEqual([{ start: 0, end: 6, question: 'who?' }]);
    expect(hasGaps('Le navire ‹Belle› au port')).toBe(false);
    expect(gapsIn('‹qui ?› et ‹où ?›').map((g) => g.question)).toEqual(['qui ?', 'où ?']);
  });
});

describe('lengths', () => {
  test.each([
    ['The ferry, seen from the quay, leaves for the Holm', 30, 'The ferry, seen from the quay'],
    ['One two three four five of the six', 27, 'One two three four five'],
    ['Short', 30, 'Short'],
    // Before a parenthesis, a dash, a colon; a clause that is too short to stand alone is none.
    ['The quay (at low tide in spring)', 15, 'The quay'],
    ['The quay – at low tide in spring', 15, 'The quay'],
    ['Sailings in winter: the times of every boat', 24, 'Sailings in winter'],
    // A clause that fills the limit fits.
    ['The quay, at low tide', 8, 'The quay'],
    ['Tides, currents and winds around the whole island', 20, 'Tides, currents'],
    // What ends in a comma by chance does not keep it.
    ['Pier 7, crane 12 and the dock', 8, 'Pier 7'],
    // A limit counts graphemes (UAX 29): this is one each.
    ['👩‍👩‍👧 👩‍👩‍👧', 3, '👩‍👩‍👧 👩‍👩‍👧'],
  ])('%s', (text, limit, fitted) => expect(fitLength(text, limit, 'en')).toBe(fitted));
});

describe('how much was changed', () => {
  test.each([
    // Levenshtein’s distance of these is 3 (handbook example, from memory).
    ['kitten', 'sitting', 3 / 7],
    ['A puffin', 'A puffin', 0],
    ['', 'abc', 1],
    ['', '', 0],
  ])('%s → %s', (before, after, share) => expect(changedShare(before, after)).toBeCloseTo(share, 10));
});

describe('contexts that are like', () => {
  const place = (id: number, more: Partial<PlaceContext> = {}): PlaceContext => ({
    ...{ id, picture: 1, purpose: 'informative', language: 'en', target: null, region: 'main', caption: null },
    ...{ heading: 'Puffin week', beside: 'They come and go all morning between April and August.' },
    ...more,
  });
  const parts = (...places: PlaceContext[]) => likeContexts(places).map((p) => p.map((x) => x.id));

  test('the same picture for the same purpose in like words is asked about once', () => {
    expect(parts(place(1), place(2, { beside: 'They come and go all morning from April on.' }))).toEqual([[1, 2]]);
  });
  test('other words, another language, another purpose or another link are asked about apart', () => {
    expect(
      parts(place(1), place(2, { beside: 'A cottage to let, two steps from the sea, from £80.', heading: 'Stay' })),
    ).toEqual([[1], [2]]);
    expect(parts(place(1), place(2, { language: 'de' }), place(3, { purpose: 'complex' }))).toEqual([[1], [2], [3]]);
    const link = { purpose: 'functional', beside: 'x' };
    expect(
      parts(
        place(1, { ...link, target: '/a' }),
        place(2, { ...link, target: '/a', beside: 'y' }),
        place(3, { ...link, target: '/b' }),
      ),
    ).toEqual([[1, 2], [3]]);
  });
  test('what stands in the frame of a site is asked about once', () => {
    expect(parts(place(1, { region: 'footer', beside: 'a' }), place(2, { region: 'footer', beside: 'b' }))).toEqual([
      [1, 2],
    ]);
  });
});

describe('answers of models', () => {
  test('are read alone, in a fence, or among other words', () => {
    const whole = '{"alt":"A boat","decorative":false,"uncertain":["boat","whale"]}';
    for (const text of [whole, `\`\`\`json\n${whole}\n\`\`\``, `Here it is: ${whole} Anything else?`])
      expect(readAnswer(text)).toMatchObject({ answer: { alt: 'A boat', uncertain: ['boat'] } });
  });
  test.each([
    ['no', 'there is no JSON object in it'],
    ['{"alt": "A boat}', 'the JSON is not valid'],
    ['{"alt": 7}', /“alt”/],
    ['{"alt": "", "decorative": false}', '“alt” is empty and “decorative” is not true'],
  ])('%s is no answer', (text, fault) => {
    const read = readAnswer(text);
    expect('fault' in read && read.fault).toMatch(
      fault instanceof RegExp ? fault : new RegExp(fault.replace(/[.“”]/g, '.')),
    );
  });
});

describe('grades', () => {
  const draft = { text: 'A boat', confidence: 0.8, uncertain: [] };
  test('what was found, what is unsure and what is asked lowers them', () => {
    expect(gradeOf(draft, [], false)).toBe(0.8);
    expect(gradeOf(draft, [{ rule: 'overlong', outcome: 'failed' }], false)).toBeCloseTo(0.45);
    expect(gradeOf({ ...draft, uncertain: ['boat'] }, [], true)).toBeCloseTo(0.4);
    expect(gradeOf({ ...draft, text: 'A boat, ‹what else?›' }, [], false)).toBeCloseTo(0.55);
  });
  test('a text that shares no word with page or picture is doubtful', () => {
    const [appearance] = readSource('<h1>Boats</h1><p>The ferry leaves at noon.</p><img src=ferry.jpg>').appearances;
    const known = { ...NOTHING_KNOWN, appearance: appearance!, language: 'en' };
    expect(sharesNothing('The ferries at the quay', known, 'Isle')).toBe(false);
    expect(sharesNothing('A giraffe eats leaves from a tree', known, 'Isle')).toBe(false);
    expect(sharesNothing('Giraffe in the zoo', known, 'Isle')).toBe(true);
  });
});

test('every rule that judges drafts is a rule, and has words for a model', () => {
  for (const id of WORD_RULES) {
    expect(ruleById(id)?.id).toBe(id);
    expect(faultInWords(id, 'part')).toMatch(/^(?:It|A word|Words|The text) .*This part: "part"\.$/);
  }
});
