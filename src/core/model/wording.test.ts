import { readSource } from '../formats/html/read-page';
import { withWords, writtenWords } from './wording';

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
