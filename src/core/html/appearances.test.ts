import { readSource } from './appearances';
import { parseSrcset } from './srcset';

const read = (html: string) => readSource(`<!doctype html><html lang=en><title>T</title><body>${html}`).appearances;

test('every kind of appearance is found, and nothing that shows no picture', () => {
  const found = read(
    `<img src=a.png usemap=#m><map name=m><area href=/x></map><input type=image src=b.png><input type=text>
     <svg><path/><svg></svg></svg><div role=img></div><object data=c.svg></object><object data=c.pdf></object>
     <embed src=d type=image/png><picture><source srcset="e.webp 2x" media=print><img src=e.png></picture><canvas></canvas>`,
  );
  expect(found.map((a) => a.element)).toEqual(['img', 'area', 'input', 'svg', 'role-img', 'object', 'embed', 'img']);
  expect(found.at(-1)!.candidates).toEqual([{ src: 'e.webp', descriptor: '2x', media: 'print' }]);
});

test('the passage is what is read before and after, up to a heading', () => {
  const [a] = read(
    '<p>Earlier section.</p><h2>Puffin <em>week</em></h2><p>They come in April.</p><p>From the hide <img src=p.jpg> you see them.</p><h2>Next</h2><p>Other.</p>',
  );
  expect(a!.before).toBe('They come in April. From the hide');
  expect(a!.after).toBe('you see them.');
  expect(a!.headings).toEqual(['Puffin week']);
});

test('caption, link, region, language and template place', () => {
  const [a] = read(
    `<main><div class="card wide"><figure lang=de><a href="/boot.html"><img src=b.jpg alt=""> Zum Boot</a>
     <figcaption>Das <b>Boot</b></figcaption></figure></div></main>`,
  );
  expect(a).toMatchObject({
    caption: 'Das Boot',
    lang: 'de',
    region: 'main',
    place: 'main>div.card.wide>figure>a>img',
    state: 'silent',
    control: { kind: 'link', name: 'Zum Boot', href: '/boot.html', text: 'Zum Boot', first: true },
  });
});

test.each([
  ['<img src=a alt="Boat">', 'said'],
  ['<img src=a alt="">', 'silent'],
  ['<img src=a>', 'unsaid'],
  ['<img src=a alt="&nbsp;">', 'unsaid'],
  ['<input type=image src=a>', 'unsaid'],
  ['<img src=a role=presentation>', 'silent'],
  ['<svg aria-hidden=true></svg>', 'silent'],
  ['<img src=a alt=Boat hidden>', 'said'],
])('%s is %s', (html, state) => expect(read(html)[0]!.state).toBe(state));

// The examples of the HTML Living Standard, 4.8.4.2 and 4.8.4.3.3 (from memory).
test.each([
  [
    'image.png 1x, image@2x.png 2x',
    [
      ['image.png', '1x'],
      ['image@2x.png', '2x'],
    ],
  ],
  [
    'a.jpg 320w,b.jpg 640w',
    [
      ['a.jpg', '320w'],
      ['b.jpg', '640w'],
    ],
  ],
  ['data:image/png;base64,AAAA 1x', [['data:image/png;base64,AAAA', '1x']]],
  [
    'one.png, two.png',
    [
      ['one.png', ''],
      ['two.png', ''],
    ],
  ],
  [' , ', []],
])('srcset %s', (srcset, want) => expect(parseSrcset(srcset).map((c) => [c.src, c.descriptor])).toEqual(want));
