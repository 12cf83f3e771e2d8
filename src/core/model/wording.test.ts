import { readSource } from '../formats/html/read-page';
import { patchPage } from '../formats/html/patch';
import { withTexts, withWords, writtenWords } from './wording';

const first = (html: string) => readSource(`<html lang="en"><body>${html}`).appearances[0]!;

test('what a page says now is what giving back restores', () => {
  expect(writtenWords(first('<img src="a.jpg" alt=" The  ferry ">'))).toBe(' The  ferry ');
  expect(writtenWords(first('<img src="a.jpg" alt="">'))).toBe('');
  expect(writtenWords(first('<img src="a.jpg">'))).toBeNull();
  expect(writtenWords(first('<img src="a.jpg" title="Ferry">'))).toBe('Ferry');
});

test('a link takes the words of its only picture, and keeps a name of its own', () => {
  expect(withWords(first('<a href="/x"><img src="a.jpg"></a>'), 'Fares').context.control?.name).toBe('Fares');
  expect(withWords(first('<a href="/x" aria-label="Buy"><img src="a.jpg"></a>'), 'Fares').context.control?.name).toBe(
    'Buy',
  );
  expect(withWords(first('<a href="/x"><img src="a.jpg"> Buy</a>'), 'Fares').context.control?.name).toBe('Buy');
});

/** What the rules are shown before a delivery is what they find after it. */
test.each([
  ['<img src="a.jpg" alt="Quay">', 'The old quay'],
  ['<img src="a.jpg">', 'The quay'],
  ['<img src="a.jpg" title="Old">', 'New'],
  ['<img src="a.jpg" title="Old">', ''],
  ['<img src="a.jpg" alt="">', 'The quay'],
  ['<img src="a.jpg" alt="" title="Old">', ''],
  ['<img src="a.jpg" alt="Quay" title="Old">', ''],
  ['<a href="/x"><img src="a.jpg" title="Old"></a>', 'Fares'],
  ['<a href="/x"><img src="a.jpg" title="Old"></a>', ''],
  ['<img src="a.jpg" aria-hidden="true">', 'The quay'],
  ['<div role="img" title="Old"></div>', 'New'],
  ['<input type="image" src="a.jpg" alt="Buy">', 'Buy a ticket'],
])('%s with the title %j is as its page will say', (html, title) => {
  const page = `<html lang="en"><body>${html}`;
  const now = readSource(page).appearances[0]!;
  const { bytes, refusals } = patchPage(Buffer.from(page), [{ order: 0, title }]);
  const later = readSource(bytes.toString()).appearances[0]!;
  const shown = withTexts(now, { words: null, title, caption: null });
  const compared = ({ state, accessible: { name, nameSource, role, ignored }, markup, context }: typeof now) => ({
    ...{ state, name, nameSource, role, ignored },
    ...{ title: markup.title, control: context.control?.name },
  });
  expect(refusals).toEqual([]);
  expect(compared(shown)).toEqual(compared(later));
});
