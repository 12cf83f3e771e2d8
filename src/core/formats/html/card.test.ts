import { readSource } from './read-page';

/** The one link of a picture's card. What is called a card is from memory of galleries as generators of sites write them. */
const hrefs = (html: string) =>
  readSource(`<!doctype html><title>Gallery</title><body>${html}`).appearances.map((a) => a.context.cardHref ?? null);

test.each<[string, string, string | null]>([
  [
    'a caption with a link, and a mark that leads to the figure itself',
    '<div class="thumb"><figure id="f"><img src="a.png"><figcaption><a href="a.html#top">A</a> <a href="#f">¶</a></figcaption></figure></div>',
    'a.html#top',
  ],
  ['a title below it', '<li><div><img src="a.png"></div><h3><a href="/a">A</a></h3></li>', '/a'],
  ['two links to one page', '<li><a href="/a">A</a><img src="a.png"><a href="/a">More</a></li>', '/a'],
  ['two links to two pages', '<li><a href="/a">A</a><img src="a.png"><a href="/b">B</a></li>', null],
  [
    'running text with a link in it',
    `<p><img src="a.png">${'The quay at noon. '.repeat(30)}<a href="/a">A</a></p>`,
    null,
  ],
  ['a link around it is its control', '<a href="/a"><img src="a.png"></a>', null],
  ['none', '<p><img src="a.png">', null],
  [
    'a link further out than any card',
    '<main><section><p><img src="a.png"></p></section><a href="/a">A</a></main>',
    null,
  ],
])('%s', (_, html, href) => expect(hrefs(html)).toEqual([href]));

test('a block with another picture in it is no card', () => {
  expect(hrefs('<div><img src="a.png"><img src="b.png"><a href="/a">A</a></div>')).toEqual([null, null]);
});

test('100,000 blocks around a picture take no time', () => {
  expect(hrefs(`${'<div>'.repeat(100_000)}<img src="a.png"><a href="/a">A</a>`)).toEqual(['/a']);
});
