import { heldAddress, heldName, isHeld, isNumbered } from './held-address';

const report = 'file:///in/report.docx';

test('a picture in a document is known by the document and its name there', () => {
  const address = heldAddress(report, 'word/media/image1.png');
  expect(heldName(address, report)).toBe('word/media/image1.png');
  expect(isHeld(address)).toBe(true);
});

test('a picture elsewhere is no part of the document', () => {
  expect(heldName('file:///in/photo.png', report)).toBeNull();
  expect(heldName(heldAddress('file:///in/other.docx', 'word/media/image1.png'), report)).toBeNull();
  expect(isHeld('file:///in/photo.png')).toBe(false);
});

// The names that word processors, slide programs, spreadsheets, mail programs and PDF readers give: common practice.
test.each([
  ['word/media/image12.jpeg'],
  ['Pictures/10000000000004B0000003206A1BC2D3.png'],
  ['cid:part1.0A1B2C3D@example.org'],
  ['page 3, picture 2'],
])('%s is a name that a program has given', (name) => {
  expect(isNumbered(heldAddress(report, name))).toBe(true);
});

test.each([['OEBPS/images/harbour-at-dawn.jpg'], ['Pictures/old-ferry.png'], ['images/fab4.png']])(
  '%s is a name that a person has given',
  (name) => {
    expect(isNumbered(heldAddress(report, name))).toBe(false);
  },
);

test('a file of its own is judged by other rules, whatever it is called', () => {
  expect(isNumbered('https://example.org/image12.jpeg')).toBe(false);
});
