import { readSource } from '../formats/html/read-page';
import type { RuleContext } from '../model/rule-context';
import { languageOf, statedLanguage } from '../rules/support/words';
import { createLanguageDetector } from './page-language';
import { recognise } from './recognise';

const GERMAN = 'Das Schiff fährt viermal am Tag von Brannoch zur Insel und zurück. Hunde fahren umsonst mit.';

function context(html: string, page: Partial<RuleContext['page']>): RuleContext {
  return {
    id: 's',
    page: { path: 'p', lang: null, title: '', description: null, headings: [], directives: [], ...page },
    picture: null,
    appearance: readSource(`<body>${html}`).appearances[0]!,
    purpose: 'informative',
    purposeSettled: false,
    targetTitle: null,
  };
}
const likely = (s: RuleContext) => languageOf(createLanguageDetector({ recognise })([s])[0]!);

test('what a page states counts, whatever it looks like', () => {
  expect(likely(context('<img src=a>', { lang: 'fr', description: GERMAN }))).toBe('fr');
  expect(likely(context('<img src=a lang=it>', { description: GERMAN }))).toBe('it');
});

test('where it states nothing, it is what its own words are in', () => {
  expect(likely(context('<img src=a>', { title: 'Fahrplan', description: GERMAN }))).toBe('de');
});

test('a short title is helped by the passage around the picture', () => {
  const s = context(`<p>${GERMAN}</p><img src=a>`, { title: 'Skerry' });
  expect(likely(s)).toBe('de');
  expect(statedLanguage(s)).toBeNull();
});

test('a text is looked at once, however many pictures it stands beside and however often they are audited', () => {
  let asked = 0;
  const told = createLanguageDetector({ recognise: (text) => (asked++, recognise(text)) });
  const page = { title: 'Fahrplan', description: GERMAN };
  for (let i = 0; i < 3; i++)
    expect(told([context('<img src=a>', page), context('<img src=b>', page)]).map(languageOf)).toEqual(['de', 'de']);
  expect(asked).toBe(1);
  expect(
    languageOf(
      told([
        context('<img src=a>', {
          title: 'Tabla',
          description:
            'La nave zarpa cuatro veces al día desde el muelle del norte hacia la isla y vuelve por la tarde.',
        }),
      ])[0]!,
    ),
  ).toBe('es');
});

test('the passage counts beside long headings that tell nothing', () => {
  const told = createLanguageDetector({
    recognise: (text) => (text.includes('fährt') ? { language: 'de', score: 1, scoreOf: () => 1 } : null),
  });
  const s = context(`<p>${GERMAN}</p><img src=a>`, { title: 'Xyz '.repeat(200) });
  expect(languageOf(told([s])[0]!)).toBe('de');
});

test('too little tells nothing', () => expect(likely(context('<img src=a>', { title: 'Skerry Sound' }))).toBeNull());
