import { charsetOf, decodeHtml, decodeText, encodeText, isAsciiTransparent } from './charset';

/** HTML Living Standard 13.2.3.2, determining the character encoding. */
describe('which encoding a page has', () => {
  const page = (head: string, body = 'caf\u00e9') => Buffer.from(`<html><head>${head}</head><body>${body}`, 'latin1');

  test.each([
    ['a byte order mark before all else', Buffer.from('\ufeff<meta charset="koi8-r">caf\u00e9'), 'iso-8859-2', 'utf-8'],
    ['what the server says before the declaration', page('<meta charset="koi8-r">'), 'ISO-8859-2', 'iso-8859-2'],
    ['the declaration where the server says what is no encoding', page('<meta charset=koi8-r>'), 'x-isle', 'koi8-r'],
    ['the declaration', page('<meta charset=KOI8-R>'), undefined, 'koi8-r'],
    [
      'the declaration in its long form',
      page('<meta http-equiv="Content-Type" content="text/html; charset=shift_jis">'),
      undefined,
      'shift_jis',
    ],
    ['Latin 1, which on the web is windows-1252', page('<meta charset="iso-8859-1">'), undefined, 'windows-1252'],
    ['valid UTF-8 where nothing is said', Buffer.from('<title>caf\u00e9</title>'), undefined, 'utf-8'],
    ['windows-1252 for other bytes where nothing is said', page(''), undefined, 'windows-1252'],
    [
      'a declaration after a long comment',
      page(`<!--${'x'.repeat(5000)}--><meta charset="koi8-r">`),
      undefined,
      'koi8-r',
    ],
  ])('%s', (_, bytes, transport, charset) => expect(charsetOf(bytes, transport)).toBe(charset));

  test('the mark is no part of the text', () => {
    expect(decodeHtml(Buffer.from('\ufeff<p>a'))).toEqual({ charset: 'utf-8', text: '<p>a' });
    const wide = Buffer.from('\ufeff<p>\u00e9', 'utf16le');
    expect(decodeHtml(wide)).toEqual({ charset: 'utf-16le', text: '<p>\u00e9' });
  });
});

/** The second opinion is the decoder of ICU, as `TextDecoder` has it. */
describe('every byte of the one-byte encodings of the Encoding Standard', () => {
  test.each(['iso-8859-2', 'iso-8859-5', 'iso-8859-7', 'iso-8859-15', 'koi8-r', 'windows-1250', 'windows-1251'])(
    '%s is read as ICU reads it, and written back as it was',
    (label) => {
      const bytes = Buffer.from(Array.from({ length: 95 }, (_, i) => 161 + i));
      const text = new TextDecoder(label).decode(bytes);
      const { text: own } = decodeHtml(Buffer.concat([Buffer.from(`<meta charset="${label}">`), bytes]));
      expect(own.slice(own.indexOf('>') + 1)).toBe(text);
      const known = [...text].filter((c) => c !== '\ufffd').join('');
      expect(new TextDecoder(label).decode(encodeText(known, label))).toBe(known);
    },
  );

  // Encoding Standard, index-koi8-u: what differs from KOI8-R. ICU before version 76 has no short u in it.
  test('koi8-u has the letters of Ukrainian and Belarusian, whatever the engine has', () => {
    const letters = {
      0xa4: 'є',
      0xa6: 'і',
      0xa7: 'ї',
      0xad: 'ґ',
      0xae: 'ў',
      0xb4: 'Є',
      0xb6: 'І',
      0xb7: 'Ї',
      0xbd: 'Ґ',
      0xbe: 'Ў',
    };
    const bytes = Buffer.from(Object.keys(letters).map(Number));
    const text = Object.values(letters).join('');
    expect(decodeText(bytes, 'koi8-u', { keepMark: false })).toBe(text);
    expect(encodeText(text, 'koi8-u')).toEqual(bytes);
  });

  test.each(['shift_jis', 'euc-jp', 'euc-kr', 'gbk', 'big5'])('%s: words go through', (label) => {
    const words = {
      shift_jis: '灯台と港',
      'euc-jp': '灯台と港',
      'euc-kr': '등대와 항구',
      gbk: '灯塔和港口',
      big5: '燈塔和港口',
    }[label]!;
    const bytes = encodeText(words, label);
    expect(bytes).toHaveLength([...words].reduce((n, c) => n + (c === ' ' ? 1 : 2), 0));
    expect(new TextDecoder(label).decode(bytes)).toBe(words);
  });
});

test('what an encoding lacks becomes a numeric reference, also beyond the basic plane', () => {
  expect(encodeText('Leuchtturm \u2192 \u0416 \u{1F6A2}', 'iso-8859-15').toString('latin1')).toBe(
    'Leuchtturm &#8594; &#1046; &#128674;',
  );
  expect(encodeText('\u20ac', 'windows-1252')).toEqual(Buffer.from([0x80]));
  expect(encodeText('\u0416', 'koi8-r')).toEqual(Buffer.from([0xf6]));
});

test('markup can be patched in place where its bytes mean themselves', () => {
  for (const charset of ['utf-8', 'windows-1252', 'koi8-r', 'euc-kr', 'big5'])
    expect(isAsciiTransparent(charset)).toBe(true);
  for (const charset of ['utf-16le', 'utf-16be', 'iso-2022-jp']) expect(isAsciiTransparent(charset)).toBe(false);
});
