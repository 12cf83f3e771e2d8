import { readSource } from '../html/appearances';
import type { Spot } from '../rules/rule';
import { languageOf, statedLanguage } from '../rules/words';
import { withLikelyLanguage } from './page-language';
import { recognise } from './recognise';

const GERMAN = 'Das Schiff fährt viermal am Tag von Brannoch zur Insel und zurück. Hunde fahren umsonst mit.';

function spot(html: string, page: Partial<Spot['page']>): Spot {
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
const likely = (s: Spot) => languageOf(withLikelyLanguage([s], { recognise })[0]!);

test('what a page states counts, whatever it looks like', () => {
  expect(likely(spot('<img src=a>', { lang: 'fr', description: GERMAN }))).toBe('fr');
  expect(likely(spot('<img src=a lang=it>', { description: GERMAN }))).toBe('it');
});

test('where it states nothing, it is what its own words are in', () => {
  expect(likely(spot('<img src=a>', { title: 'Fahrplan', description: GERMAN }))).toBe('de');
});

test('a short title is helped by the passage around the picture', () => {
  const s = spot(`<p>${GERMAN}</p><img src=a>`, { title: 'Skerry' });
  expect(likely(s)).toBe('de');
  expect(statedLanguage(s)).toBeNull();
});

test('too little tells nothing', () => expect(likely(spot('<img src=a>', { title: 'Skerry Sound' }))).toBeNull());
