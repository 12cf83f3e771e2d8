import { mergeMetadata, readExif, readIptc, readPngText, readSvg, readXmp, rightsIn, wordsIn } from './metadata';

/** What ExifTool reads in the same files is compared in server/analysis/look.test.ts; here stands what no file of ours holds. */
const said = (text: string) => ({ text, by: 'XMP' as const });

describe('words in a file', () => {
  test('the alt text goes before the description, the description before the title', () => {
    const title = said('Kittiwakes');
    const description = said('Kittiwakes on the ledge');
    expect(wordsIn({ title, description, alt: said('Two kittiwakes') })).toEqual({
      words: 'Two kittiwakes',
      from: 'alt',
    });
    expect(wordsIn({ title, description })).toEqual({ words: 'Kittiwakes on the ledge', from: 'description' });
    expect(wordsIn({ title })).toEqual({ words: 'Kittiwakes', from: 'title' });
    expect(wordsIn({})).toBeNull();
  });

  // Facts of the trade: what cameras and programs leave there by themselves.
  test.each([
    'OLYMPUS DIGITAL CAMERA',
    'SONY DSC',
    'Created with GIMP',
    'Screenshot',
    'Window Class: python',
    'Plotter (window id : 0)',
    'Icon theme 0.1',
    'https://isle.example/icons',
    'www.isle.example',
    'ann@isle.example',
    '2024-05-14',
    '17',
  ])('“%s” describes nothing, so the title is asked', (text) => {
    expect(wordsIn({ description: said(text) })).toBeNull();
    expect(wordsIn({ description: said(text), title: said('Quay') })).toEqual({ words: 'Quay', from: 'title' });
  });

  test('a description that merely holds an address is one', () => {
    const text = 'The quay, from https://isle.example/quay';
    expect(wordsIn({ description: said(text) })?.words).toBe(text);
  });
});

describe('rights in a file', () => {
  test('the licence goes before the statement; nothing said is no right', () => {
    const statement = said('https://isle.example/rights');
    expect(rightsIn({ statement })).toEqual({ creator: null, credit: null, copyright: null, licence: statement.text });
    expect(rightsIn({ statement, licence: said('CC BY 4.0') })?.licence).toBe('CC BY 4.0');
    expect(rightsIn({ title: said('Quay') })).toBeNull();
  });
});

describe('several standards in one file', () => {
  test('the first one given is kept', () => {
    const merged = mergeMetadata(
      { title: said('from XMP') },
      { title: { text: 'from IPTC', by: 'IPTC' }, credit: said('Ann') },
    );
    expect(merged).toEqual({ title: said('from XMP'), credit: said('Ann') });
  });

  test('an extended description keeps its lines, every other text is one', () => {
    const packet = (name: string) =>
      `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
        <rdf:Description xmlns:i="http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/"><i:${name}><rdf:Alt>
          <rdf:li xml:lang="x-default">High   water:&#13;&#10;  May 3.1 m&#10;&#10;&#10;&#10;June 3.4 m </rdf:li>
        </rdf:Alt></i:${name}></rdf:Description></rdf:RDF></x:xmpmeta>`;
    expect(readXmp(packet('ExtDescrAccessibility')).extended?.text).toBe('High water:\nMay 3.1 m\n\nJune 3.4 m');
    expect(readXmp(packet('AltTextAccessibility')).alt?.text).toBe('High water: May 3.1 m June 3.4 m');
  });

  test('PNG keywords are those of the PNG specification, 11.3.3.2, in any case', () => {
    expect(
      readPngText([
        { keyword: 'Title', text: ' The  quay\n' },
        { keyword: 'Software', text: 'gnome-screenshot' },
        { keyword: 'Author', text: 'Ann' },
      ]),
    ).toMatchObject({ title: { text: 'The quay', by: 'PNG' }, creator: { text: 'Ann', by: 'PNG' } });
  });
});

describe('hostile and damaged blocks', () => {
  test('entities of an XMP packet are not expanded, and what was read before stays', () => {
    const packet = `<!DOCTYPE x [<!ENTITY boom "expanded">]><x:xmpmeta xmlns:x="adobe:ns:meta/">
      <rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about=""
      xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/" photoshop:Credit="Ann"/>
      <rdf:Description xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title>&boom;</dc:title>`;
    const read = readXmp(packet);
    expect(read.credit?.text).toBe('Ann');
    expect([undefined, '&boom;']).toContain(read.title?.text);
  });

  test('nothing is read in what is no block', () => {
    expect(readXmp('')).toEqual({});
    expect(readXmp('<<<<')).toEqual({});
    expect(readIptc(Uint8Array.of(0x1c, 2, 5, 0xff, 0xff))).toEqual({});
    expect(readExif({})).toEqual({});
    expect(readSvg('<svg')).toEqual({});
  });

  test('of an SVG only its own title and description count, not those of its parts', () => {
    const source =
      '<svg xmlns="http://www.w3.org/2000/svg"><title>Harbour</title><g><title>Pier</title></g><desc>From the hill</desc></svg>';
    expect(readSvg(source)).toEqual({
      title: { text: 'Harbour', by: 'SVG' },
      description: { text: 'From the hill', by: 'SVG' },
    });
  });
});

test('of an object in a museum, the title is what is said, not its measures', () => {
  const title = said('Two Fishermen at Brannoch');
  expect(wordsIn({ title, description: said('Oil on canvas, 60 x 80 cm, inv. no. 1931.7') })?.from).toBe('title');
  expect(wordsIn({ title, description: said('Öl auf Leinwand') })?.from).toBe('title');
  expect(wordsIn({ title, description: said('Two men mend a net on the quay') })?.from).toBe('description');
  expect(wordsIn({ description: said('Oil on canvas, 60 x 80 cm') })?.from).toBe('description');
});
