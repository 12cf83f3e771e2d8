import type { Edit, LongDescriptionEdit } from '../../model/document';
import { saysCredit } from '../../model/says-credit';
import { creditLine } from '../../model/credit';
import { textById } from './beside';
import { LocatedPage } from './located-page';
import { patchPage } from './patch';
import { readPage } from './read-page';

const patch = (html: string, edit: Partial<Edit>, order = 0) =>
  patchPage(Buffer.from(html), [{ order, id: 'tides', ...edit }]);
const patched = (html: string, edit: Partial<Edit>) => patch(html, edit).bytes.toString();
const long = (more: Partial<LongDescriptionEdit> = {}): LongDescriptionEdit => ({
  ...{ text: 'High at *7*.', name: 'Tide chart', stand: 'details', tie: 'aria-details', href: null },
  ...more,
});
const DETAILS =
  '<details id="tides" class="long-description"><summary>Long description: Tide chart</summary>\n<p>High at <em>7</em>.</p>\n</details>';

describe('a title', () => {
  it.each([
    ['<img src=a alt=x>', 'Quay', '<img src=a title="Quay" alt=x>'],
    ['<img src=a title="Old">', 'New', '<img src=a title="New">'],
    ['<img src=a title="Old" alt=x>', '', '<img src=a alt=x>'],
  ])('%s with %j', (html, title, want) => expect(patched(html, { title })).toBe(want));

  it('goes with what becomes decorative: it would be heard all the same', () => {
    expect(patched('<img src=a alt=x title=t>', { text: '', title: 'Quay' })).toBe('<img src=a alt="">');
  });

  it('is refused where the element has no such attribute', () => {
    expect(patch('<svg role="img"><path/></svg>', { title: 'Quay' }).refusals[0]!.reason.id).toBe('refusal.no-title');
  });
});

describe('a caption', () => {
  const figure = (inner: string) => `<figure>\n  <img src=a>\n${inner}</figure><p>after`;

  it.each([
    ['  <figcaption>Old</figcaption>\n', 'A < B', '  <figcaption>A &lt; B</figcaption>\n'],
    ['  <figcaption><p>Old</p></figcaption>\n', 'New', '  <figcaption><p>New</p></figcaption>\n'],
    ['  <figcaption>Old</figcaption>\n', '', '  \n'],
    ['', 'New', '  <figcaption>New</figcaption>\n'],
  ])('in a figure: %j with %j', (inner, caption, want) =>
    expect(patched(figure(inner), { caption })).toBe(figure(want)),
  );

  it('of a table that shows the picture and nothing else is its own', () => {
    const table = (caption: string) => `<table><caption>${caption}</caption><tr><td><img src=a></table>`;
    expect(patched(table('Old'), { caption: 'New' })).toBe(table('New'));
    expect(readPage(Buffer.from(table('Old'))).appearances[0]!.context.caption).toBe('Old');
  });

  it.each([
    ['<figure><img src=a><figcaption>See <a href=b>the pier</a></figcaption></figure>', 'refusal.caption-markup'],
    ['<p><img src=a> text</p>', 'refusal.no-figure'],
  ])('is refused where it would lose something, or has no place: %s', (html, id) =>
    expect(patch(html, { caption: 'New' }).refusals[0]!.reason.id).toBe(id),
  );

  it('of two pictures in one figure is written once, and never two ways', () => {
    const html = '<figure><img src=a><img src=b><figcaption>Old</figcaption></figure>';
    const both = (second: string) =>
      patchPage(Buffer.from(html), [
        { order: 0, caption: 'New' },
        { order: 1, caption: second },
      ]);
    expect(both('New').bytes.toString()).toContain('<figcaption>New</figcaption>');
    expect(both('New').refusals).toEqual([]);
    expect(both('Other').refusals.map((r) => [r.order, r.reason.id])).toEqual([[1, 'refusal.shared']]);
  });
});

describe('a long description', () => {
  // Where blocks of text may stand: HTML Living Standard 3.2.5.2.2 (flow content), 13.1.2.4 (optional end tags).
  it.each([
    ['a picture in a paragraph', '<p>One <img src=a> two</p><p>three', '<p>One IMG two</p>BLOCK<p>three'],
    ['a paragraph without an end tag', '<p>One <img src=a>\n<p>two', '<p>One IMG\nBLOCK<p>two'],
    ['a link', '<li><a href=b><img src=a></a> text</li>', '<li><a href=b>IMG</a>BLOCK text</li>'],
    ['a link around blocks', '<a href=b><div><img src=a></div></a>', '<a href=b><div>IMG</div></a>BLOCK'],
    [
      'a figure',
      '<figure><img src=a><figcaption>C</figcaption></figure>',
      '<figure>IMGBLOCK<figcaption>C</figcaption></figure>',
    ],
    ['a cell', '<table><tr><td><img src=a></td></tr></table>', '<table><tr><td>IMGBLOCK</td></tr></table>'],
    ['a heading', '<h2><img src=a> Tides</h2>', '<h2>IMG Tides</h2>BLOCK'],
    [
      'a picture element',
      '<div><picture><source srcset=b><img src=a></picture></div>',
      '<div><picture><source srcset=b>IMG</picture>BLOCK</div>',
    ],
  ])('stands behind what takes no blocks: %s', (_, html, want) => {
    // Of a `picture`, the sources come before the image.
    const order = html.includes('<source') ? 1 : 0;
    expect(patch(`<body>${html}`, { longDescription: long() }, order).bytes.toString()).toBe(
      `<body>${want}`.replace('IMG', '<img src=a aria-details="tides">').replace('BLOCK', DETAILS),
    );
  });

  it('is on a line of its own where the picture is, in line with it', () => {
    expect(patched('<div>\r\n  <img src=a>\r\n</div>', { longDescription: long({ stand: 'below' }) })).toBe(
      '<div>\r\n  <img src=a aria-details="tides">\r\n  <div id="tides" class="long-description">\n<p>High at <em>7</em>.</p>\n</div>\r\n</div>',
    );
  });

  it.each([
    ['details', 'aria-details', 'details'],
    ['below', 'aria-describedby', null],
  ] as const)('standing %s, tied by %s, is found again by whoever reads the page', (stand, tie, also) => {
    const { bytes } = patch('<img src=a alt="Tides">', { longDescription: long({ stand, tie }) });
    const [read] = readPage(bytes).appearances;
    expect(read!.accessible.descriptions.map((d) => [d.by, d.leads])).toEqual([
      [tie, 'to text'],
      ...(also === null ? [] : [[also, 'to text']]),
    ]);
    expect(textById(new LocatedPage(bytes.toString()), 'tides')).toContain('High at 7.');
  });

  it('that is folded is never tied by aria-describedby, which browsers would compute nothing from', () => {
    expect(patched('<img src=a>', { longDescription: long({ tie: 'aria-describedby' }) })).not.toContain('describedby');
  });

  it('on a page of its own is led to by a link that says what it is, in the language of the place', () => {
    const html = '<html lang=de><p><img src=a alt="Gezeiten"></p>';
    const { bytes } = patch(html, {
      longDescription: long({ stand: 'page', href: 'tides-description.html', name: 'Gezeiten' }),
    });
    expect(bytes.toString()).toBe(
      `${html.replace('src=a', 'src=a aria-details="tides"')}<p id="tides" class="long-description"><a href="tides-description.html">Ausführliche Beschreibung: Gezeiten</a></p>`,
    );
    expect(readPage(bytes).appearances[0]!.accessible.descriptions).toEqual([
      { by: 'aria-details', target: 'tides', leads: 'to text' },
      { by: 'link', target: 'tides-description.html', leads: 'elsewhere' },
    ]);
  });

  it('is replaced, moved and removed where it was delivered, and nothing else is touched', () => {
    const html = '<h3>Tides</h3><p><img src=a alt=x aria-describedby="note"></p><p id=note>Note</p>';
    const first = patched(html, { longDescription: long({ stand: 'below', tie: 'aria-describedby' }) });
    expect(first).toContain('aria-describedby="note tides"');
    const second = patched(first, { longDescription: long({ text: '# Low\n\nat 13' }) });
    expect(second).toContain('aria-describedby="note"');
    expect(second).toContain('aria-details="tides"');
    // Its headings come under the one before the picture.
    expect(second).toContain('</summary>\n<h4>Low</h4>\n<p>at 13</p>\n</details>');
    expect(second).not.toContain('<div');
    expect(patched(second, { longDescription: null })).toBe(html);
    expect(patch(second, { longDescription: long({ text: '# Low\n\nat 13' }) }).changes).toEqual([]);
  });

  it('never replaces an element of the page that happens to have its id', () => {
    const html = '<div><img src=a></div><p id=tides>The page’s own</p>';
    expect(patched(html, { longDescription: null })).toBe(html);
  });

  it('keeps every other byte of a page in another encoding', () => {
    const head = Buffer.from('<meta charset=windows-1252><p>F\xe4hre <img src=a></p>', 'latin1');
    const { bytes } = patchPage(head, [{ order: 0, id: 'tides', longDescription: long({ text: 'Fähre ☂' }) }]);
    expect(bytes.includes(Buffer.from('F\xe4hre &#9730;', 'latin1'))).toBe(true);
    expect(bytes.subarray(0, 30).equals(head.subarray(0, 30))).toBe(true);
  });
});

describe('a credit line', () => {
  const credit = {
    credit: 'Ann Roe',
    licence: 'https://creativecommons.org/licenses/by/4.0/',
    source: 'https://www.isle.example/p',
  };
  const line =
    '<p class="picture-credit"><small>Photo: Ann Roe, <a href="https://www.isle.example/p">isle.example</a>, ' +
    '<a rel="license" href="https://creativecommons.org/licenses/by/4.0/">CC BY 4.0</a></small></p>';

  it('stands below the picture, before its long description', () => {
    expect(patched('<body><p><img src=a></p>', { credit, longDescription: long() })).toBe(
      `<body><p><img src=a aria-details="tides"></p>${line}${DETAILS}`,
    );
  });

  it('is read again, whatever text follows', () => {
    const after = '<p>We sail to Brannoch daily, and twice in summer.</p>'.repeat(20);
    const { bytes } = patch(`<p>One <img src=a> two</p>${after}`, { credit, longDescription: long() });
    const [read] = readPage(bytes).appearances;
    expect(read!.context.creditLine).toBe('Photo: Ann Roe, isle.example, CC BY 4.0');
    expect(saysCredit(read!, creditLine(credit))).toBe(true);
  });

  it('is changed and removed where it was delivered', () => {
    const html = '<div><img src=a></div>';
    const first = patched(html, { credit });
    expect(patched(first, { credit: { ...credit, credit: 'Bo Lind' } })).toBe(
      `<div><img src=a>${line.replace('Ann Roe', 'Bo Lind')}</div>`,
    );
    expect(patched(first, { credit: null })).toBe(html);
  });
});

test('what ties a picture to its description is shown as one change with it', () => {
  const { changes } = patch('<body><p><img src=a></p>', { longDescription: long() });
  expect(changes).toEqual([
    {
      ...{ order: 0, part: 'long-description', line: 1, before: '<img src=a>' },
      after: `<img src=a aria-details="tides">\n${DETAILS}`,
    },
  ]);
});
