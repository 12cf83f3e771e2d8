/** One object of a PDF, by its number. */
interface PdfObject {
  number: number;
  body: string | Buffer;
}

const stream = (dictionary: string, data: Buffer): Buffer =>
  Buffer.concat([
    Buffer.from(`<< ${dictionary} /Length ${data.length} >>\nstream\n`, 'latin1'),
    data,
    Buffer.from('\nendstream', 'latin1'),
  ]);

/** A text string in UTF-16, as the structure wants it (ISO 32000-1, 7.9.2.2). */
const words = (text: string) => `<FEFF${Buffer.from(text, 'utf16le').swap16().toString('hex').toUpperCase()}>`;
const line = (id: number, tag: string, size: number, y: number, text: string) =>
  `/${tag} << /MCID ${id} >> BDC BT /F1 ${size} Tf 56 ${y} Td (${text.replace(/[\\()]/g, '\\$&')}) Tj ET EMC\n`;
const image = (tag: string, name: string, x: number, y: number, width: number, height: number) =>
  `${tag} q ${width} 0 0 ${height} ${x} ${y} cm /${name} Do Q EMC\n`;

/** Size of a JPEG by its frame header. */
function sizeOf(jpeg: Buffer): { width: number; height: number } {
  for (let at = 2; at < jpeg.length; at += 2 + jpeg.readUInt16BE(at + 2)) {
    const marker = jpeg[at + 1]!;
    if (marker >= 0xc0 && marker <= 0xc2)
      return { width: jpeg.readUInt16BE(at + 7), height: jpeg.readUInt16BE(at + 5) };
  }
  throw new Error('the picture has no frame');
}

function picture(jpeg: Buffer): Buffer {
  const { width, height } = sizeOf(jpeg);
  return stream(
    `/Type /XObject /Subtype /Image /Width ${width} /Height ${height} /ColorSpace /DeviceRGB /BitsPerComponent 8 /Filter /DCTDecode`,
    jpeg,
  );
}

/** The notice at the harbour: a tagged PDF of two pages, one figure without words and a picture outside of the tags. */
export async function harbourNotice(picturesAt: (file: string) => Buffer): Promise<Buffer> {
  const first =
    line(0, 'H1', 22, 770, 'Works at the harbour of Brannoch') +
    line(1, 'P', 12, 735, 'The west quay is closed from 4 to 15 May. Boats leave from the east quay.') +
    image('/Figure << /MCID 2 >> BDC', 'Im1', 56, 480, 330, 220) +
    line(3, 'Caption', 10, 462, 'The east quay, seen from the ticket hut') +
    line(4, 'P', 12, 420, 'Follow the yellow signs from the car park.') +
    image('/Figure << /MCID 5 >> BDC', 'Im2', 56, 180, 330, 220) +
    image('/Artifact BMC', 'Im3', 0, 20, 595, 30);
  const second = line(0, 'P', 12, 770, 'The lighthouse stays open.') + image('/Span BMC', 'Im4', 56, 520, 330, 220);
  const content = (text: string) => stream('', Buffer.from(text, 'latin1'));
  const page = (contents: number, key: number, images: string) =>
    `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents ${contents} 0 R /StructParents ${key} /Tabs /S /Resources << /Font << /F1 5 0 R >> /XObject << ${images} >> >> >>`;
  const element = (role: string, on: number, kids: string, more = '') =>
    `<< /Type /StructElem /S /${role} /P 12 0 R /Pg ${on} 0 R /K ${kids} ${more}>>`;
  const objects: PdfObject[] = [
    {
      number: 1,
      body: `<< /Type /Catalog /Pages 2 0 R /Lang (en-GB) /MarkInfo << /Marked true >> /StructTreeRoot 11 0 R /ViewerPreferences << /DisplayDocTitle true >> >>`,
    },
    { number: 2, body: '<< /Type /Pages /Kids [3 0 R 4 0 R] /Count 2 >>' },
    { number: 3, body: page(6, 0, '/Im1 7 0 R /Im2 8 0 R /Im3 9 0 R') },
    { number: 4, body: page(10, 1, '/Im4 21 0 R') },
    { number: 5, body: '<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>' },
    { number: 6, body: content(first) },
    { number: 7, body: picture(picturesAt('skerry-lass.jpg')) },
    { number: 8, body: picture(picturesAt('IMG_2044.jpg')) },
    { number: 9, body: picture(picturesAt('wave.jpg')) },
    { number: 10, body: content(second) },
    { number: 11, body: '<< /Type /StructTreeRoot /K 12 0 R /ParentTree 20 0 R >>' },
    {
      number: 12,
      body: '<< /Type /StructElem /S /Document /P 11 0 R /K [13 0 R 14 0 R 15 0 R 16 0 R 17 0 R 18 0 R 19 0 R] >>',
    },
    { number: 13, body: element('H1', 3, '0') },
    { number: 14, body: element('P', 3, '1') },
    {
      number: 15,
      body: element(
        'Figure',
        3,
        '2',
        `/Alt ${words('The east quay with the white ferry, and room for two more boats')} `,
      ),
    },
    { number: 16, body: element('Caption', 3, '3') },
    { number: 17, body: element('P', 3, '4') },
    { number: 18, body: element('Figure', 3, '5') },
    { number: 19, body: element('P', 4, '0') },
    {
      number: 20,
      body: '<< /Nums [0 [13 0 R 14 0 R 15 0 R 16 0 R 17 0 R 18 0 R] 1 [19 0 R]] >>',
    },
    { number: 21, body: picture(picturesAt('lighthouse-1862.jpg')) },
    { number: 22, body: `<< /Title ${words('Works at the harbour of Brannoch')} /Producer (Skerry Sound) >>` },
  ];
  const out: Buffer[] = [Buffer.from('%PDF-1.7\n%\u00e2\u00e3\u00cf\u00d3\n', 'latin1')];
  let at = out[0]!.length;
  const offsets: number[] = [];
  for (const { number, body } of objects) {
    offsets[number] = at;
    const piece = Buffer.concat([
      Buffer.from(`${number} 0 obj\n`, 'latin1'),
      Buffer.from(body as string, 'latin1'),
      Buffer.from('\nendobj\n', 'latin1'),
    ]);
    out.push(piece);
    at += piece.length;
  }
  const rows = objects.map(({ number }) => `${String(offsets[number]).padStart(10, '0')} 00000 n \n`).join('');
  const id = '<5C3F0F0E8A514D0B9A5E2F4F2F0D1A12>';
  out.push(
    Buffer.from(
      `xref\n0 ${objects.length + 1}\n0000000000 65535 f \n${rows}trailer\n<< /Size ${objects.length + 1} /Root 1 0 R /Info 22 0 R /ID [${id} ${id}] >>\nstartxref\n${at}\n%%EOF\n`,
      'latin1',
    ),
  );
  return Buffer.concat(out);
}
