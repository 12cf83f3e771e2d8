import { readSource } from './read-page';

const read = (html: string) => readSource(`<!doctype html><html lang=en><title>T</title><body>${html}`).appearances;

test('every kind of appearance is found, and nothing that shows no picture', () => {
  const found = read(
    `<img src=a.png usemap=#m><map name=m><area href=/x></map><input type=image src=b.png><input type=text>
     <svg><path/><svg></svg></svg><div role=img></div><object data=c.svg></object><object data=c.pdf></object>
     <embed src=d type=image/png><picture><source srcset="e.webp 2x" media=print><img src=e.png></picture><canvas></canvas>`,
  );
  expect(found.map((a) => a.element)).toEqual([
    'img',
    'area',
    'input',
    'svg',
    'role-img',
    'object',
    'embed',
    'source',
    'img',
    'canvas',
  ]);
  expect(found.at(-2)!.markup.candidates).toEqual([{ src: 'e.webp', descriptor: '2x', media: 'print' }]);
});

test('the passage is what is read before and after, up to a heading', () => {
  const [a] = read(
    '<p>Earlier section.</p><h2>Puffin <em>week</em></h2><p>They come in April.</p><p>From the hide <img src=p.jpg> you see them.</p><h2>Next</h2><p>Other.</p>',
  );
  expect(a!.context.before).toBe('They come in April. From the hide');
  expect(a!.context.after).toBe('you see them.');
  expect(a!.context.headings).toEqual(['Puffin week']);
});

test('a sign that only links to its own heading is none of the heading', () => {
  const [a] = read(
    '<h1>Learn C#</h1><h2>Ferries<a class="headerlink" href="#ferries" title="Link">¶</a></h2><h3><a href="#x">🔗</a> Routes § 2</h3><img src=p.jpg>',
  );
  expect(a!.context.headings).toEqual(['Learn C#', 'Ferries', 'Routes § 2']);
});

test('caption, link, region, language and template place', () => {
  const [a] = read(
    `<main><div class="card wide"><figure lang=de><a href="/boot.html"><img src=b.jpg alt=""> Zum Boot</a>
     <figcaption>Das <b>Boot</b></figcaption></figure></div></main>`,
  );
  expect(a).toMatchObject({
    state: 'decorative',
    context: {
      caption: 'Das Boot',
      lang: 'de',
      region: 'main',
      place: 'main>div.card.wide>figure>a>img',
      control: { kind: 'link', name: 'Zum Boot', href: '/boot.html', text: 'Zum Boot', first: true },
    },
  });
});

test.each([
  ['<img src=a alt="Boat">', 'described'],
  ['<img src=a alt="">', 'decorative'],
  ['<img src=a>', 'missing'],
  ['<img src=a alt="&nbsp;">', 'missing'],
  ['<input type=image src=a>', 'missing'],
  ['<img src=a role=presentation>', 'decorative'],
  ['<svg aria-hidden=true></svg>', 'decorative'],
  ['<img src=a alt=Boat hidden>', 'described'],
])('%s is %s', (html, state) => expect(read(html)[0]!.state).toBe(state));

// The examples of the HTML Living Standard, 4.8.4.2 and 4.8.4.3.3 (from memory).
test('a version for narrow windows is an appearance of its own, which is heard as its image', () => {
  const [narrow, wide] = read(
    '<picture><source media="(max-width:40em)" srcset="n.webp 1x, n2.webp 2x"><img src=w.jpg alt=Wide></picture>',
  );
  expect(narrow).toMatchObject({
    element: 'source',
    state: 'decorative',
    markup: { src: 'n.webp' },
    accessible: { ignored: true, name: '' },
  });
  expect(narrow!.markup.candidates.map((c) => c.src)).toEqual(['n.webp', 'n2.webp']);
  expect(wide).toMatchObject({ element: 'img', accessible: { name: 'Wide' }, order: 1 });
});

// The attributes are common practice of scripts that load pictures late.
test.each([
  ['<img data-src="a.png">', 'a.png'],
  ['<img src="data:image/gif;base64,AA" data-original="a.png">', 'a.png'],
  ['<img src="data:image/gif;base64,AA" data-echo="a.png">', 'a.png'],
  ['<video data-poster="a.png"></video>', 'a.png'],
  ['<div data-bg="a.png">text</div>', 'a.png'],
  ['<div data-background-image="url(\'a.png\')">text</div>', 'a.png'],
  ['<picture><source data-srcset="a.png 1x"><img alt=""></picture>', 'a.png'],
])('%s shows its picture later', (html, src) => expect(read(html)[0]).toMatchObject({ markup: { src, lazy: true } }));

test('a source that is there already is not read from what a script would put there', () =>
  expect(read('<img src="a.png" data-src="b.png">')[0]).toMatchObject({ markup: { src: 'a.png', lazy: false } }));

test('an inline drawing that takes its shapes from another file says which', () => {
  expect(read('<svg><use href="icons.svg#bell"/></svg>')[0]!.markup.src).toBe('icons.svg#bell');
  expect(read('<svg><use xlink:href="icons.svg#bell"/></svg>')[0]!.markup.src).toBe('icons.svg#bell');
  expect(read('<svg><symbol id=a><path/></symbol><use href="#a"/></svg>')[0]!.markup.src).toBeNull();
});

test('backgrounds come after everything else, so that style sheets do not move the rest', () => {
  const html = '<p class=x>a</p><img src=1.png><p style="background:url(2.png)">b</p><img src=3.png>';
  const plain = readSource(html).appearances;
  const styled = readSource(html, [
    { address: 'https://x.example/s.css', css: '.x{background:url(0.png)}' },
  ]).appearances;
  expect(plain.map((a) => a.markup.src)).toEqual(['1.png', '3.png', '2.png']);
  expect(styled.map((a) => a.markup.src)).toEqual(['1.png', '3.png', '0.png', '2.png']);
});

// Open Graph protocol, structured properties: the words belong to the image named before them.
test('icons and previews are listed apart, previews with their words', () => {
  const html = `<head><link rel="shortcut icon" href="f.ico"><link rel=stylesheet href=s.css>
    <meta property="og:image" content="/1.png"><meta property="og:image:width" content="2">
    <meta property="og:image:alt" content="The quay"><meta property="og:image" content="/2.png">
    <meta name="twitter:image" content="/1.png"></head><body>text`;
  expect(readSource(html).pagePictures).toEqual([
    { kind: 'icon', src: 'f.ico', alt: null },
    { kind: 'preview', src: '/1.png', alt: 'The quay' },
    { kind: 'preview', src: '/2.png', alt: null },
  ]);
});

test('frames and the pages before and after are links', () =>
  expect(
    readSource('<link rel=next href=2><link rel=prev href=0><a href=3>x</a><iframe src=4></iframe>').links,
  ).toEqual(['2', '0', '3', '4']));

test.each([
  ['<div id=root></div><script src=a.js></script>', true],
  ['<div id=root></div><noscript>Please turn scripts on<img src=x></noscript><script type=module>1</script>', true],
  ['<div id=root></div>', false],
  ['<div id=root></div><script type="application/ld+json">{}</script>', false],
  [`<p>${'word '.repeat(40)}</p><script src=a.js></script>`, false],
  ['<img src=a.png><script src=a.js></script>', false],
])('an empty shell is reported: %s', (html, shell) => expect(readSource(`<title>T</title>${html}`).shell).toBe(shell));
