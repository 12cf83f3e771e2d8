import { metadataWords } from './metadata-words';

/** Of a file's metadata, titles and descriptions may be sent; what tells who, where or how to reach somebody never. */
const said = (text: string) => ({ text, by: 'XMP' as const });

test('titles and descriptions go along, each once', () =>
  expect(
    metadataWords({
      title: said('The quay'),
      description: said('The quay at low tide'),
      alt: said('The quay'),
      extended: said('A long text'),
    }),
  ).toEqual(['The quay', 'The quay at low tide', 'A long text']));

test('comments, people, rights, keywords, times and places do not', () =>
  expect(
    metadataWords({
      comment: said('For Ann only'),
      creator: said('Ann Marr'),
      credit: said('Isle Pictures'),
      copyright: said('© Ann'),
      keywords: said('quay'),
      taken: said('2024-05-14 09:12'),
      place: said('57.2, -3.1'),
      licence: said('CC BY'),
      statement: said('https://x.example'),
    }),
  ).toEqual([]));

test.each([
  ['Ask ann@isle.example for prints', 'Ask … for prints'],
  ['More at https://isle.example/p?id=7', 'More at …'],
  ['Call +44 1234 567 890', 'Call …'],
  ['At 57.1497, -2.0943 on the pier', 'At … on the pier'],
  ['Two puffins, 3 boats', 'Two puffins, 3 boats'],
])('%s', (text, sent) => expect(metadataWords({ description: said(text) })).toEqual([sent]));
