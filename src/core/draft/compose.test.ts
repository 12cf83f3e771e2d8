import { strings } from '@/ui/strings';
import { readSource } from '../formats/html/read-page';
import type { Picture } from '../model/picture';
import { NOT_ANALYSED, type PictureAnalysis } from '../model/picture-analysis';
import { composeDraft, NOTHING_KNOWN, type DraftInput } from './compose';
import { gapsIn } from './draft';

const draft = (html: string, more: Partial<DraftInput> = {}) =>
  composeDraft({ ...NOTHING_KNOWN, appearance: readSource(html).appearances[0]!, language: 'en', ...more });

const seen = (analysis: Partial<PictureAnalysis>): Picture => ({
  ...{ id: '1', sha256: 'a', type: 'image/png', bytes: 1, width: 600, height: 400, src: null, broken: null },
  ...{ unread: null, smallerCopyBytes: null },
  analysis: { ...NOT_ANALYSED, ...analysis },
});

describe('a link, a button, an area: what it leads to or does (W3C Images Tutorial, functional images, from memory)', () => {
  test('the title of the page that a link leads to, its own title, its address', () => {
    expect(
      draft('<a href=/fares><img src=t.svg></a>', { purpose: 'functional', targetTitle: 'Fares and tickets' }),
    ).toMatchObject({
      text: 'Fares and tickets',
      missing: null,
    });
    expect(draft('<a href=/x><img src=1.svg title="Print this page"></a>', { purpose: 'functional' }).text).toBe(
      'Print this page',
    );
    expect(draft('<a href="/fares/day-tickets.html"><img src=1.svg></a>', { purpose: 'functional' }).text).toBe(
      'Day tickets',
    );
  });

  test('where nothing says it, it is asked, and nothing of what it looks like is said', () => {
    expect(draft('<a href=/x7><img src=1.svg></a>', { purpose: 'functional' })).toMatchObject({
      text: null,
      missing: { id: 'question.target' },
    });
    const button = draft('<button><img src=blue-arrow.svg></button>', { purpose: 'functional' });
    expect(button.text).toBe('Blue arrow: ‹what does it do?›');
  });

  test('a link to the larger file of the same picture describes it', () => {
    const html =
      '<h1>Puffins</h1><p>Puffins on the cliff.</p><a href=puffins-on-cliff-large.jpg><img src=puffins-on-cliff.jpg></a>';
    expect(draft(html).text).toBe('Puffins on cliff');
  });
});

test('what decorates gets no words, with the reason', () => {
  const d = draft('<img src=wave.svg>', {
    purpose: 'decorative',
    purposeSure: 0.9,
    purposeEvidence: [{ id: 'evidence.bullet' }],
  });
  expect(d).toMatchObject({ text: null, decorative: true, confidence: 0.9, missing: { id: 'question.decorative' } });
  expect(d.evidence).toEqual([{ from: 'purpose', text: { id: 'evidence.bullet' } }]);
  expect(draft('<img src=wave.svg>', { purpose: 'decorative', purposeIsSure: false }).decorative).toBe(false);
});

test('words from another place of the same picture come first; a formula is said', () => {
  const html = '<h1>The Holm</h1><img src=a.jpg>';
  expect(draft(html, { elsewhere: ['Two puffins on a cliff'] })).toMatchObject({
    text: 'Two puffins on a cliff',
    confidence: 0.85,
  });
  expect(draft('<img src=a.png alt="\\frac{a}{b}">', { formula: 'a over b' }).text).toBe('a over b');
});

test('a look-alike’s wording is adapted by a person', () => {
  const d = draft('<img src=IMG_0042.jpg>', { lookAlike: 'Three puffins in a row, the middle one bowing' });
  // How many there are may be another number here, and what they do is of the other picture.
  expect(d.text).toBe('‹how many?› puffins, ‹what is different here?›');
  expect(gapsIn(d.text!)).toEqual([
    { start: 0, end: 11, question: 'how many?' },
    { start: 21, end: 46, question: 'what is different here?' },
  ]);
  expect(draft('<img src=IMG_0042.jpg>', { lookAlike: 'boat sea sky sunset' }).text).toBeNull();
  expect(draft('<img src=IMG_0042.jpg>', { lookAlike: 'Isla Marr in her cap' }).text).toBeNull();
});

test('the words of a file’s name count where the page speaks of them; alone they say nothing', () => {
  const html = '<h1 lang=en>Puffins on the north cliff</h1><img lang=en src=puffins-on-cliff.jpg>';
  const d = draft(html, { colours: ['green', 'grey-blue'] });
  expect(d.text).toBe('Puffins on the north cliff');
  expect(strings.message(d.missing!)).toBe('What does the picture show, mostly in green and grey-blue?');
  expect(d.evidence.map((e) => e.from)).toEqual(['file name', 'heading', 'colours']);
  expect(draft('<p>Puffins breed on each cliff.</p><img src=puffins-on-cliff.jpg>').text).toBe('Puffins on cliff');
  // What the page does not speak of, and what is a code, says nothing.
  expect(draft('<h1>The Holm</h1><img src=puffins-on-cliff.jpg>').text).toBeNull();
  expect(draft('<p>The bus window of the program.</p><img src=bus-ar-sxn.png>').text).toBeNull();
  expect(draft('<img src=IMG_0001.jpg>').text).toBeNull();
});

test('a caption is heard anyway, so what it says is shown is only a beginning', () => {
  const html = '<figure><img src=IMG_1.jpg><figcaption>Figure 2: The boat at sea. Photo: A. Marr</figcaption></figure>';
  expect(draft(html).text).toBe('The boat at sea, ‹what else can be seen?›');
  // In another language than the page, it is a hint only.
  const german =
    '<figure><img src=IMG_1.jpg><figcaption>Das Schiff verlässt am frühen Morgen den kleinen Hafen</figcaption></figure>';
  const d = draft(german);
  expect(d.text).toBeNull();
  expect(d.evidence.map((e) => e.from)).toContain('caption');
});

test('a picture of text says its text; where that is longer than the limit, it begins it and asks', () => {
  const short = seen({ kind: 'poster', sure: 0.9, text: 'Day ticket\n£12', textShare: 0.3 });
  expect(draft('<img src=x.png>', { purpose: 'image of text', picture: short }).text).toBe('Day ticket £12');
  const lines = [
    'Winter sailings',
    ...Array.from({ length: 12 }, (_, i) => `Brannoch to Inner Skerry, boat number ${i}`),
  ];
  const long = draft('<img src=x.png>', {
    purpose: 'image of text',
    picture: seen({ kind: 'poster', sure: 0.9, text: lines.join('\n'), textShare: 0.3 }),
  });
  expect(long.text).toBe('Winter sailings, ‹what does it say?›');
  expect(long.other.longDescription).toContain('boat number 11');
});

test('a chart is named by its kind and its title, and what it says is asked', () => {
  const picture = seen({ kind: 'chart', sure: 0.9, text: 'Passengers a day, by month\n100\n200' });
  const of = (language: string) => draft('<img src=x.png>', { purpose: 'complex', picture, language }).text;
  expect(of('en')).toBe('Chart: Passengers a day, by month, ‹what does it say?›');
  expect(of('de')).toMatch(/^Diagramm: .*‹was sagt es aus\?›$/);
});

test('things are named in English only, as the interface is', () => {
  const things = [{ name: 'boat', count: 2 }];
  expect(draft('<img src=IMG_1.jpg>', { things }).text).toBe('2 × boat, ‹what else can be seen?›');
  expect(draft('<img src=IMG_1.jpg>', { things, language: 'fr' }).text).toBeNull();
});

test('a draft keeps the limit by whole words, its question with it', () => {
  const title =
    'The great ferry of the northern islands leaves the stone quay of Brannoch with forty passengers on board';
  const d = draft(`<img src=IMG_1.jpg title="${title}">`, { limit: 60 });
  expect(d.text).toBe('The great ferry of the northern islands leaves');
  const asked = draft(`<figure><img src=IMG_1.jpg><figcaption>${title}</figcaption></figure>`, { limit: 60 });
  expect(asked.text!.length).toBeLessThanOrEqual(60);
  expect(gapsIn(asked.text!)).toHaveLength(1);
});

test('names that office programs give to the pictures of a document say nothing of them', () => {
  const from = (src: string) =>
    JSON.stringify(draft('<img src="word/media/image4.jpg">', { picture: { ...seen({}), src } }).evidence);
  const named = draft('<img src="word/media/puffin-burrow.jpg">', {
    picture: { ...seen({}), src: 'a.docx!/puffin-burrow.jpg' },
  });
  expect(from('leaflet.docx!/word/media/image4.jpg')).not.toContain('image');
  expect(JSON.stringify(named.evidence)).toContain('puffin burrow');
});
