import { strings } from '@/ui/strings';
import { readSource } from '../formats/html/read-page';
import { composeDraft, fileNameWords } from './draft';

test.each([
  ['/img/red-bicycle-2_final.jpg', 'red bicycle'],
  ['IMG_2041.jpg', ''],
  ['puffinColony.webp', 'puffin colony'],
  ['a1b2c3d4e5f6.png', ''],
  ['caf%C3%A9-terrace.jpg?w=200', 'café terrace'],
  ['bad%ZZname.jpg', 'bad%zzname'],
  ['data:image/png;base64,AAAA', ''],
])('the words in %s are %j', (src, words) => expect(fileNameWords(src)).toBe(words));

const draft = (html: string, more: Partial<Parameters<typeof composeDraft>[0]> = {}) =>
  composeDraft({
    appearance: readSource(html).appearances[0]!,
    purpose: 'informative',
    purposeIsSure: true,
    reach: 1,
    picture: null,
    colours: [],
    targetTitle: null,
    elsewhere: [],
    ...more,
  });

test('a linked picture is drafted from where the link leads', () => {
  expect(draft('<a href=/fares><img src=t.svg></a>', { targetTitle: 'Fares and tickets' })).toMatchObject({
    text: 'Fares and tickets',
    missing: null,
  });
  expect(draft('<a href=/x><img src=1.svg></a>')).toMatchObject({ text: null, missing: { id: 'question.target' } });
});

test('the file name is set beside the heading, and the question names the colours', () => {
  const d = draft('<h1>The Holm</h1><img src=puffins-on-cliff.jpg>', { colours: ['green', 'grey-blue'] });
  expect(d.text).toBe('Puffins on cliff, The Holm');
  expect(strings.message(d.missing!)).toBe('What does the picture show, mostly in green and grey-blue?');
  expect(d.evidence.map((e) => e.from)).toEqual(['file name', 'heading', 'colours']);
});

test('a caption is not said a second time, and nothing is made up', () => {
  expect(draft('<figure><img src=the-boat.jpg><figcaption>The boat at sea</figcaption></figure>').text).toBeNull();
  expect(draft('<img src=IMG_0001.jpg>').text).toBeNull();
});

test('words from another place of the same picture come first', () => {
  expect(draft('<img src=boat.jpg>', { elsewhere: ['The ferry at the quay.'] }).text).toBe('The ferry at the quay');
});

test('what decorates is not drafted for; a doubtful proposal of that keeps nobody from wording it', () => {
  const asked = { purpose: 'decorative' as const, colours: ['blue'] };
  expect(draft('<img src=red-bicycle.jpg>', asked)).toEqual({
    text: null,
    evidence: [],
    missing: { id: 'question.decorative' },
  });
  expect(draft('<img src=red-bicycle.jpg>', { ...asked, purposeIsSure: false }).text).toBe('Red bicycle');
});

test('the heading of one page is not what a picture shows on many', () => {
  const html = '<h1>Installing</h1><img src=note-sign.png>';
  expect(draft(html).text).toBe('Note sign, Installing');
  expect(draft(html, { reach: 97 }).text).toBe('Note sign');
});

test.each([
  ['2.2.3. Channels', 'Puffins on cliff, Channels'],
  ['3.2 Channels', 'Puffins on cliff, Channels'],
  ['2026 in pictures', 'Puffins on cliff, 2026 in pictures'],
  ['1. ', 'Puffins on cliff'],
])('the number of a section says nothing of a picture: %j', (heading, text) => {
  expect(draft(`<h2>${heading}</h2><img src=puffins-on-cliff.jpg>`).text).toBe(text);
});
