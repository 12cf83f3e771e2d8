import { byteOffsets } from './byte-offsets';
import { decodeText } from './charset';

/** Places of a text in its bytes; what the engine itself encodes is the check value. */
test.each(['<img>', 'Fähre', '\ufeffFähre <p>', '𝄞 and 👩‍👩‍👧', 'é\u0301\0x', '日本\r\n語', ''])(
  'every character of “%s” is where the engine puts it (Encoding Standard, UTF-8 encode)',
  (text) => {
    const bytes = Buffer.from(text, 'utf8');
    const decoded = decodeText(bytes, 'utf-8', { keepMark: true });
    const ends = [0];
    for (const character of decoded) ends.push(ends.at(-1)! + character.length);
    const found = byteOffsets(decoded, bytes, 'utf-8', ends)!;
    for (const end of ends) expect(found.get(end)).toBe(Buffer.byteLength(decoded.slice(0, end)));
  },
);

test('an encoding with one byte for each character needs no counting', () => {
  const bytes = Buffer.from('Fähre <img>', 'latin1');
  const text = decodeText(bytes, 'windows-1252', { keepMark: true });
  expect(byteOffsets(text, bytes, 'windows-1252', [6])).toEqual(new Map([[6, 6]]));
});

test('bytes that are not what they say they are, and encodings of two bytes, have to be read again', () => {
  const broken = Buffer.from('é\xff\xc3\xa9<img>', 'latin1');
  expect(byteOffsets(decodeText(broken, 'utf-8', { keepMark: true }), broken, 'utf-8', [3])).toBeNull();
  const japanese = Buffer.from([0x82, 0xa0, 0x3c]);
  expect(byteOffsets(decodeText(japanese, 'shift_jis', { keepMark: true }), japanese, 'shift_jis', [1])).toBeNull();
});
