import { readSource } from './read-page';

const first = (html: string) => readSource(`<!doctype html><body>${html}`).appearances[0]!;
const told = (html: string) =>
  first(html).accessible.descriptions.map(({ by, target, leads }) => `${by} ${target}: ${leads}`);

describe('what is attached as a longer description', () => {
  test.each([
    [
      '<img src=a aria-describedby="t u"><p id=t>Text</p>',
      ['aria-describedby t: to text', 'aria-describedby u: nowhere'],
    ],
    ['<img src=a aria-details=t><div id=t> </div>', ['aria-details t: to an empty place']],
    ['<img src=a aria-details=t><div id=t><img src=b></div>', ['aria-details t: to text']],
    ['<img src=a aria-describedby=t><p id=t aria-label="Said so"></p>', ['aria-describedby t: to text']],
    ['<img src=a longdesc="tides.html">', ['longdesc tides.html: elsewhere']],
    ['<img src=a longdesc="#t"><p id=t>Text</p>', ['longdesc #t: to text']],
    ['<img src=a longdesc="#%C3%A9"><p id="é">Text</p>', ['longdesc #%C3%A9: to text']],
    ['<img src=a longdesc="#%">', ['longdesc #%: nowhere']],
    ['<img src=a longdesc="">', ['longdesc : nowhere']],
    ['<img src=a><details><summary>As text</summary>High at 7</details>', ['details : to text']],
    ['<img src=a><details> </details>', ['details : to an empty place']],
    ['<figure><img src=a><figcaption>Tides</figcaption><details>High at 7</details></figure>', ['details : to text']],
    ['<img src=a> <a href="t.html">Long description</a>', ['link t.html: elsewhere']],
    ['<p><img src=a></p><a href="#t">[D]</a><p id=t>Text</p>', ['link #t: to text']],
    ['<img src=a> <a href="t.html">Lange Beschreibung</a>', ['link t.html: elsewhere']],
    ['<img src=a> and <a href="t.html">Description</a>', []],
    ['<img src=a> <a href="t.html">Descriptions of our boats</a>', []],
    ['<img src=a> <a href="t.html">Buy it</a>', []],
    ['<img src=a>', []],
  ])('%s', (html, wanted) => expect(told(html)).toEqual(wanted));

  test('among very many siblings nothing is looked for, so that reading stays fast', () => {
    const many = '<img src=a>'.repeat(6000);
    expect(readSource(`<body>${many}<details>Text</details>`).appearances.at(-1)!.accessible.descriptions).toEqual([]);
  });
});

describe('what a rule has to know of an element', () => {
  test.each([
    ['<img src=a>', null, false, false],
    ['<img src=a role=presentation>', 'none', false, false],
    ['<img src=a role="nonsense img">', 'image', false, false],
    ['<img src=a aria-hidden=TRUE>', null, true, false],
    ['<div aria-hidden=true><img src=a></div>', null, false, false],
    ['<img src=a tabindex=0>', null, false, true],
  ])('%s', (html, role, ariaHidden, focusable) => {
    const a = first(html);
    expect([a.markup.ownRole, a.markup.ariaHidden, a.markup.focusable]).toEqual([role, ariaHidden, focusable]);
  });
});

test.each([
  ['<svg alt=Tides></svg>', { element: 'svg', text: 'Tides' }],
  ['<a href=x alt=" Front  page "><img src=a></a>', { element: 'a', text: 'Front page' }],
  ['<div alt=Far><p><img src=a></p></div>', { element: 'div', text: 'Far' }],
  ['<picture alt=Sea><img src=a></picture>', { element: 'picture', text: 'Sea' }],
  ['<img src=a alt=x>', null],
  ['<div alt=x></div><img src=a>', null],
])('an alt where none belongs: %s', (html, stray) => expect(first(html).markup.strayAlt).toEqual(stray));

test('an alt that was misplaced is reported once, with the first picture in it', () => {
  const { appearances } = readSource('<a href=x alt=Home><img src=a><img src=b></a>');
  expect(appearances.map((a) => a.markup.strayAlt?.text ?? null)).toEqual(['Home', null]);
});

test.each([
  ['<p><img src=a><img src=b> <img src=c></p>', [1, 1, 1]],
  ['<p><img src=a> of <img src=b></p>', [null, null]],
  ['<p><img src=a></p><p><img src=b></p>', [null, null]],
  ['<p><span><img src=a></span><span><img src=b></span></p>', [1, 1]],
  ['<p><img src=a><img src=b></p>Text<p><svg></svg><img src=d></p>', [1, 1, 2, 2]],
  ['<img src=a>', [null]],
])('pictures with nothing to read between them are a run: %s', (html, runs) => {
  expect(readSource(`<body>${html}`).appearances.map((a) => a.context.run)).toEqual(runs);
});

test.each([
  ['<h1><img src=a></h1>', ''],
  ['<h2><img src=a> Fares</h2>', 'Fares'],
  ['<div role=heading><b><img src=a></b> Fares</div>', 'Fares'],
  ['<img src=a>', null],
])('the heading around it: %s', (html, heading) => expect(first(html).context.heading).toBe(heading));

test.each([
  ['<figure><img src=a></figure>', true],
  ['<figure><p><a href=x><img src=a></a></p><figcaption>Tides</figcaption></figure>', true],
  ['<figure><img src=a><p>Text</p></figure>', false],
  ['<figure><img src=a><img src=b></figure>', false],
  ['<img src=a>', false],
])('whether it is all that its figure holds: %s', (html, fills) => expect(first(html).context.fillsFigure).toBe(fills));

test('text that is hidden in a link is no text of it', () => {
  expect(first('<a href=x><span style="display:none">More</span><img src=a></a>').context.control!.text).toBe('');
  expect(first('<a href=x><span aria-hidden=true>→</span> More<img src=a></a>').context.control!.text).toBe('More');
});

test('what a page says of itself: its description and its first headings', () => {
  const page = readSource(
    '<html><title>T</title><meta name=Description content=" When the  ferry sails "><body><h1>Sailings</h1><h2> In  winter </h2><h4>Small print</h4><h3></h3>',
  );
  expect([page.description, page.headings]).toEqual(['When the ferry sails', ['Sailings', 'In winter']]);
  expect(readSource('<p>Text').description).toBeNull();
});
