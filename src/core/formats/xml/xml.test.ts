import { DocumentError } from '../document-error';
import { spliced } from '../splice';
import { append, attributeRange, setAttribute, setContent, xmlText } from './edit-xml';
import { decodeXml } from './xml-part';
import { attributeOf, childOf, descendantsOf, findBelow, parseXml, rootOf, textBelow } from './xml-tree';

/** XML parts are read with exact offsets and spliced, never rewritten as a whole (XML 1.0, Namespaces in XML 1.0). */
const rootIn = (source: string) => rootOf(parseXml(source, 'a.xml'));
const reasonOf = (work: () => unknown): string => {
  try {
    work();
    return 'read';
  } catch (error) {
    return error instanceof DocumentError ? error.reason.id : String(error);
  }
};

test('each element knows where its tags stand, whatever stands around', () => {
  const source =
    '\ufeff<?xml version="1.0"?>\r\n<!-- <b> -->\r\n<a x="1 > 0"\r\n y=\'2\'>\u{1F426} <b/>&amp;<![CDATA[<b>]]><c>t</c ></a>';
  const root = rootIn(source);
  expect(source.slice(root.start, root.end)).toBe('<a x="1 > 0"\r\n y=\'2\'>');
  expect(source.slice(root.closeStart, root.closeEnd)).toBe('</a>');
  const [b, c] = [findBelow(root, 'b')!, findBelow(root, 'c')!];
  expect([source.slice(b.start, b.end), b.isEmpty]).toEqual(['<b/>', true]);
  expect(source.slice(c.closeStart, c.closeEnd)).toBe('</c >');
  expect(textBelow(root)).toBe('\u{1F426} &<b>t');
  expect([...descendantsOf(root)].map((e) => e.local)).toEqual(['b', 'c']);
});

test('names are those of their namespaces, whatever the prefix', () => {
  const root = rootIn('<x:a xmlns:x="urn:1" xmlns="urn:2"><b x:id="7"/></x:a>');
  expect([root.local, root.namespace, root.prefix]).toEqual(['a', 'urn:1', 'x']);
  const b = childOf(root, 'b', 'urn:2')!;
  expect(attributeOf(b, 'id')).toBe('7');
  expect(childOf(root, 'b', 'urn:1')).toBeUndefined();
});

test.each([
  ['an unclosed element', '<a><b></a>', 'document.malformed'],
  ['no element', '<?xml version="1.0"?>', 'document.malformed'],
  ['an entity that nobody declared', '<a>&nbsp;</a>', 'document.malformed'],
  ['entities of its own', '<!DOCTYPE a [<!ENTITY x "y">]><a>&x;</a>', 'document.dtd'],
  ['a file from outside', '<!DOCTYPE a [<!ENTITY x SYSTEM "file:///etc/passwd">]><a>&x;</a>', 'document.dtd'],
  [
    'entities in entities',
    `<!DOCTYPE a [<!ENTITY l "lol"><!ENTITY m "${'&l;'.repeat(10)}">]><a>&m;</a>`,
    'document.dtd',
  ],
  ['too deep a nesting', `${'<a>'.repeat(600)}${'</a>'.repeat(600)}`, 'document.too-deep'],
  ['a doctype without a subset', '<!DOCTYPE html PUBLIC "-//W3C//DTD XHTML 1.1//EN" "x.dtd"><html/>', 'read'],
])('%s', (_, source, reason) => expect(reasonOf(() => parseXml(source, 'a.xml'))).toBe(reason));

test.each(['utf-16le', 'utf-16be', 'utf-8', 'iso-8859-1'])('a part in %s comes back as it was', (encoding) => {
  const wide = encoding.startsWith('utf-16');
  const source = `${wide ? '\ufeff' : ''}<?xml version="1.0" encoding="${wide ? 'UTF-16' : encoding}"?><a>é</a>`;
  const bytes =
    encoding === 'utf-16be'
      ? Buffer.from(source, 'utf16le').swap16()
      : Buffer.from(source, wide ? 'utf16le' : encoding === 'utf-8' ? 'utf8' : 'latin1');
  const part = decodeXml(bytes, 'a.xml');
  expect(part.text).toBe(source);
  expect(part.encode(part.text).equals(bytes)).toBe(true);
});

test('a character that an encoding lacks becomes a reference; a part that lies about its encoding is refused', () => {
  const latin = decodeXml(Buffer.from('<?xml version="1.0" encoding="iso-8859-1"?><a/>', 'latin1'), 'a.xml');
  expect(latin.encode('<a>Ω</a>').toString('latin1')).toBe('<a>&#937;</a>');
  expect(reasonOf(() => decodeXml(Buffer.from([0x3c, 0x61, 0xff, 0x2f, 0x3e]), 'a.xml'))).toBe('document.encoding');
  expect(reasonOf(() => decodeXml(Buffer.from('<?xml version="1.0" encoding="klingon"?><a/>'), 'a.xml'))).toBe(
    'document.encoding',
  );
});

test('attributes are set in their own quotes, put in behind another one, and removed', () => {
  const source = '<a one=\'x\' two="y"/>';
  const root = rootIn(source);
  const after = (splices: ReturnType<typeof setAttribute>) => spliced(source, splices);
  expect(after(setAttribute(source, root, 'one', 'a\'b"c<&\n'))).toBe('<a one=\'a&apos;b"c&lt;&amp;&#10;\' two="y"/>');
  expect(after(setAttribute(source, root, 'new', 'n\u0000', 'one'))).toBe('<a one=\'x\' new="n" two="y"/>');
  expect(after(setAttribute(source, root, 'new', 'n'))).toBe('<a new="n" one=\'x\' two="y"/>');
  expect(after(setAttribute(source, root, 'two', null))).toBe("<a one='x'/>");
  expect(setAttribute(source, root, 'no', null)).toEqual([]);
  // A name within a value is no attribute.
  const tricky = '<a x=" y=\'1\'"/>';
  expect(attributeRange(tricky, rootIn(tricky), 'y')).toBeNull();
});

test('content is set in full and in empty elements, and added at the end', () => {
  for (const [source, expected] of [
    ['<a>old</a>', '<a>n&amp;w</a>'],
    ['<a/>', '<a>n&amp;w</a>'],
    ['<a x="1" />', '<a x="1" >n&amp;w</a>'],
  ] as const)
    expect(spliced(source, [setContent(rootIn(source), xmlText('n&w'), source)])).toBe(expected);
  expect(spliced('<a><b/></a>', [append(rootIn('<a><b/></a>'), '<c/>', '<a><b/></a>')])).toBe('<a><b/><c/></a>');
  expect(() =>
    spliced('abcd', [
      { start: 0, end: 2, text: '' },
      { start: 1, end: 3, text: '' },
    ]),
  ).toThrow(RangeError);
});
