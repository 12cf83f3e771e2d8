import { strings } from '@/ui/strings';
import { readSource } from '../formats/html/read-page';
import { composeDraft } from './draft';

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

test('a heading counts where it is about the picture, and the question names the colours', () => {
  expect(draft('<h1>The Holm</h1><img src=puffins-on-cliff.jpg>').text).toBe('Puffins on cliff');
  const html = '<h1 lang=en>Puffins on the north cliff</h1><img lang=en src=puffins-on-cliff.jpg>';
  const d = draft(html, { colours: ['green', 'grey-blue'] });
  expect(d.text).toBe('Puffins on the north cliff');
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
  const html = '<h1>Note signs</h1><img lang=en src=note-sign.png>';
  expect(draft(html).text).toBe('Note signs');
  expect(draft(html, { reach: 97 }).text).toBe('Note sign');
});

test.each([
  ['2.2.3. Cliff with puffins', 'Cliff with puffins'],
  ['3.2 Puffins on a cliff', 'Puffins on a cliff'],
  ['2026 in pictures', 'Puffins on cliff'],
  ['1. ', 'Puffins on cliff'],
])('the number of a section says nothing of a picture: %j', (heading, text) => {
  expect(draft(`<h2>${heading}</h2><img src=puffins-cliff.jpg>`).text ?? '').toBe(
    text === 'Puffins on cliff' ? 'Puffins cliff' : text,
  );
});
