import MarkdownIt from 'markdown-it';
import type { DocumentError } from '../document-error';
import { appearancesOf, shown, writeTexts } from '../testing/round-trip';
import { markdown } from './index';

/** Markdown (CommonMark 0.31) and MDX; what is written is read again by markdown-it, a reader that is not ours. */
const SOURCE = `\ufeff---\r\ntitle: Isle\r\nlang: en\r\nimage: cover.png\r\n---\r\n# Harbour\r\n\r\nBefore ![The *quay*](quay.png "t") after.\r\n\r\n- ![][boat]\r\n- ![boat]\r\n- ![boat][]\r\n\r\n| a | b |\r\n| - | - |\r\n| ![x](x.png) | <img src="h.png"> |\r\n\r\n[![go](l.png)](https://isle.example/)\r\n\r\n\`\`\`\r\n![no](no.png)\r\n\`\`\`\r\n\r\n[boat]: boat.png\r\n`;

test('every way to write a picture is read, and none in code', async () => {
  expect(await shown(markdown, Buffer.from(SOURCE))).toEqual({
    '': [
      'front matter > image: missing “”',
      'paragraph > picture: described “The quay”',
      'list > item > paragraph > picture: decorative “”',
      'list > item > paragraph > picture (2): described “boat”',
      'list > item > paragraph > picture (3): described “boat”',
      'table > row > cell > picture: described “x”',
      'table > row > cell > html > img: missing “”',
      'paragraph > link > picture: described “go”',
    ],
  });
  const [, quay, , , , , , link] = await appearancesOf(markdown, Buffer.from(SOURCE));
  expect(quay!.context).toMatchObject({
    before: 'Before',
    after: expect.stringMatching(/^after\./),
    headings: ['Harbour'],
    lang: 'en',
  });
  expect(quay!.location).toMatchObject({ line: 8 });
  expect(link!.context.control?.href).toBe('https://isle.example/');
});

const TEXTS = ['a [b] *c* `d` <e> & \\f | g_h', 'Ünï 🐦', 'line\nbreak', 'plain', 'x (y)', 'a|b', 'A | B "q"', 'end'];

test('words come back from a second reader as they were written, and nothing else changes', async () => {
  const { bytes: after } = await writeTexts(markdown, Buffer.from(SOURCE), TEXTS);
  const source = Buffer.from(after).toString('utf8');
  expect((await appearancesOf(markdown, after)).map((a) => a.accessible.name)).toEqual(
    TEXTS.map((t) => t.replace('\n', ' ')),
  );
  const body = source.split('---\r\n')[2]!;
  const html = new MarkdownIt({ html: true }).render(body);
  const alts = [...html.matchAll(/alt="([^"]*)"/g)].map((m) =>
    m[1]!
      .replace(/&lt;/g, '<')
      .replace(/&gt;/g, '>')
      .replace(/&quot;/g, '"')
      .replace(/&#124;/g, '|')
      .replace(/&amp;/g, '&'),
  );
  expect(alts).toEqual(TEXTS.slice(1).map((t) => t.replace('\n', ' ')));
  expect(source).toContain('image: cover.png\r\nimageAlt: "a [b] *c* `d` <e> & \\\\f | g_h"\r\n---');
  // A name of a reference stays the way to its address.
  expect(source).toContain('- ![plain][boat]\r\n- ![x (y)][boat]');
  expect((await writeTexts(markdown, Buffer.from(SOURCE), [])).bytes.length).toBe(Buffer.byteLength(SOURCE));
});

test('front matter is read by the keys that are set, nested ones too, and a new key stands beside its picture', async () => {
  const frontMatter = [
    { picture: 'hero.src', words: 'hero.text' },
    { picture: 'cover', words: 'caption' },
    { picture: 'card', words: 'card_alt' },
    { picture: 'flow.src', words: 'flow.alt' },
  ];
  const source = Buffer.from(
    '---\nhero:\n  src: "a.png" # top\n  credit: me\ncover: b.png\ncaption: >-\n  The\n  quay\nimage: no.png\ncard: c.png\nflow: { src: d.png }\n---\n![x](e.png)\n',
  );
  const reading = await appearancesOf(markdown, source, { frontMatter });
  expect(reading.map((a) => [a.context.place, a.markup.src, a.accessible.name])).toEqual([
    ['front matter > hero.src', 'a.png', ''],
    ['front matter > cover', 'b.png', 'The quay'],
    ['front matter > card', 'c.png', ''],
    ['front matter > flow.src', 'd.png', ''],
    ['paragraph > picture', 'e.png', 'x'],
  ]);
  const { bytes, refusals } = await writeTexts(markdown, source, ['Seal', 'Pier', 'Card', 'Flow', null], {
    frontMatter,
  });
  expect(refusals.map((r) => [r.order, r.reason.id])).toEqual([[3, 'refusal.front-matter']]);
  const text = Buffer.from(bytes).toString('utf8');
  expect(text).toContain('hero:\n  src: "a.png" # top\n  text: "Seal"\n  credit: me\n');
  expect(text).toContain('card: c.png\ncard_alt: "Card"\nflow:');
  expect((await appearancesOf(markdown, bytes, { frontMatter })).map((a) => a.accessible.name)).toEqual([
    'Seal',
    'Pier',
    'Card',
    '',
    'x',
  ]);
});

test('MDX: attributes of elements are set, expressions are left alone', async () => {
  const source = Buffer.from(
    'import X from "x"\n\n# T\n\n<Image src="a.png" />\n\n<img src="b.png" alt="B"/>\n\n<Image {...p} src="c.png" />\n\n![{d}](d.png)\n\n<img src="e.png" alt={t}/>\n',
  );
  const name = 'a.mdx';
  const { bytes: after, refusals } = await writeTexts(markdown, source, ['A "q"', 'B2', 'C', 'D {x}', 'E'], { name });
  expect(refusals.map((r) => [r.order, r.reason.id])).toEqual([
    [2, 'refusal.expression'],
    [4, 'refusal.expression'],
  ]);
  const text = Buffer.from(after).toString('utf8');
  expect(text).toContain('<Image alt="A &quot;q&quot;" src="a.png" />');
  expect(text).toContain('![D \\{x\\}](d.png)');
  const broken = await markdown.read(Buffer.from('<Image'), { name }).catch((error: unknown) => error);
  expect((broken as DocumentError).reason.id).toBe('document.markdown');
});

test('a file that is not UTF-8 is refused', async () => {
  const failed = await markdown.read(Buffer.from([0x21, 0xff])).catch((error: unknown) => error);
  expect((failed as DocumentError).reason.id).toBe('document.encoding');
});
