import { PageBuilder, isCaptionStyle, type PlacedObject } from './page-builder';
import { MOST_APPEARANCES } from '../model/page';

const object = (more: Partial<PlacedObject> = {}): PlacedObject => ({
  element: 'img',
  alt: null,
  title: null,
  isDecorative: false,
  src: 'media/image1.png',
  place: 'picture 1',
  location: { kind: 'html', start: 0, end: 0, line: 1, column: 1 } as unknown as PlacedObject['location'],
  ...more,
});
const built = (fill: (page: PageBuilder) => void) => {
  const page = new PageBuilder();
  fill(page);
  return page.build({ title: ' Annual  report ', lang: 'en' });
};
const only = (more: Partial<PlacedObject>) => built((p) => p.add(object(more))).appearances[0]!;

test('an alt text is heard before a title', () => {
  expect(only({ alt: 'A ferry', title: 'Ferry' }).accessible).toMatchObject({ name: 'A ferry', nameSource: 'alt' });
  expect(only({ title: 'Ferry' }).accessible).toMatchObject({ name: 'Ferry', nameSource: 'title' });
});

test('an empty alt text is none unless the object is marked as decorative', () => {
  expect(only({ alt: '' })).toMatchObject({ state: 'missing', markup: { alt: null } });
  expect(only({ alt: '', isDecorative: true })).toMatchObject({ state: 'decorative', markup: { alt: '' } });
});

test('headings above an object are its own; a heading of the same level ends the earlier one', () => {
  const page = built((p) => {
    p.addHeading('Fleet', 1);
    p.addHeading('Ferries', 2);
    p.add(object());
    p.addHeading('Trams', 2);
    p.add(object());
  });
  expect(page.appearances.map((a) => a.context.headings)).toEqual([
    ['Fleet', 'Ferries'],
    ['Fleet', 'Trams'],
  ]);
  expect(page.title).toBe('Annual report');
});

const paragraph = (p: PageBuilder, text: string, isCaption = false, holds = 0) => {
  p.startBlock();
  p.addText(text);
  for (let i = 0; i < holds; i++) p.add(object());
  p.endParagraph(isCaption);
};

test('a caption below belongs to the object just above it', () => {
  const page = built((p) => {
    paragraph(p, '', false, 1);
    paragraph(p, 'Figure 1: The old pier', true);
  });
  expect(page.appearances[0]!.context.caption).toBe('Figure 1: The old pier');
});

test('a caption above belongs to the object that comes next', () => {
  const page = built((p) => {
    paragraph(p, 'Table 1: Fares', true);
    paragraph(p, '', false, 1);
  });
  expect(page.appearances[0]!.context.caption).toBe('Table 1: Fares');
});

test('a paragraph between an object and a caption parts them', () => {
  const page = built((p) => {
    paragraph(p, '', false, 1);
    paragraph(p, 'The pier was built in 1902.');
    paragraph(p, 'Figure 2: The new pier', true);
  });
  expect(page.appearances[0]!.context.caption).toBeNull();
});

test('below an object, what begins with the number of a figure is its caption without a style; a sentence is not', () => {
  const below = (text: string) =>
    built((p) => {
      paragraph(p, '', false, 1);
      paragraph(p, text);
    }).appearances[0]!.context.caption;
  expect(['Figure 3: The quay', 'Abb. 4.2 – Der Kai', 'Fig. 1a. The slip'].map(below)).not.toContain(null);
  expect(['Figure 3 shows the quay.', 'Figures of speech', 'Ill.'].map(below)).toEqual([null, null, null]);
});

test.each([
  ['Caption', true],
  ['Image_20_Caption', true],
  ['FigureCaption', true],
  ['Illustration', true],
  ['Captions below', false],
  ['Text body', false],
])('the style %s is that of a caption: %s', (name, is) => {
  expect(isCaptionStyle(name)).toBe(is);
});

test('objects at one place get numbers', () => {
  const page = built((p) => [1, 2, 3].forEach(() => p.add(object())));
  expect(page.appearances.map((a) => a.context.place)).toEqual(['picture 1', 'picture 1 (2)', 'picture 1 (3)']);
});

test('an object is alone where nothing else stands in its paragraph', () => {
  const page = built((p) => {
    paragraph(p, '', false, 1);
    paragraph(p, 'See ', false, 1);
    paragraph(p, '', false, 2);
  });
  expect(page.appearances.map((a) => a.context.isAlone)).toEqual([true, false, false, false]);
});

test('objects beyond the limit are counted, not read', () => {
  const page = built((p) => {
    for (let i = 0; i < MOST_APPEARANCES + 2; i++) p.add(object({ place: `picture ${i}` }));
  });
  expect([page.appearances.length, page.leftOut]).toEqual([MOST_APPEARANCES, 2]);
});
