import { contentTypes, coreProperties, escaped, properties, relationships, XML, zipped, type Words } from './package';

const EMU = 9525;
const W =
  'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture"';

const paragraph = (text: string, style?: string) =>
  `<w:p>${style ? `<w:pPr><w:pStyle w:val="${style}"/></w:pPr>` : ''}<w:r><w:t xml:space="preserve">${escaped(text)}</w:t></w:r></w:p>`;

/** A picture in the line, of this size in CSS pixels; with its words on the frame, as Word writes them. */
function picture(id: number, relation: string, name: string, width: number, height: number, words: Words): string {
  const [cx, cy] = [width * EMU, height * EMU];
  return `<w:r><w:drawing><wp:inline distT="0" distB="0" distL="0" distR="0"><wp:extent cx="${cx}" cy="${cy}"/>${properties('wp:docPr', id, name, words)}<wp:cNvGraphicFramePr/><a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/picture"><pic:pic><pic:nvPicPr>${properties('pic:cNvPr', id, name, {})}<pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip r:embed="${relation}"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill><pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="${cx}" cy="${cy}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing></w:r>`;
}

const style = (id: string, name: string, size: number, level?: number) =>
  `<w:style w:type="paragraph" w:styleId="${id}"><w:name w:val="${name}"/><w:basedOn w:val="Normal"/><w:pPr><w:spacing w:before="120" w:after="120"/>${level === undefined ? '' : `<w:outlineLvl w:val="${level}"/>`}</w:pPr><w:rPr>${level === undefined ? '<w:i/>' : '<w:b/>'}<w:sz w:val="${size}"/></w:rPr></w:style>`;

const STYLES = `${XML}<w:styles ${W}><w:docDefaults><w:rPrDefault><w:rPr><w:sz w:val="22"/><w:lang w:val="en-GB"/></w:rPr></w:rPrDefault></w:docDefaults><w:style w:type="paragraph" w:default="1" w:styleId="Normal"><w:name w:val="Normal"/></w:style>${style('Heading1', 'heading 1', 36, 0)}${style('Heading2', 'heading 2', 28, 1)}${style('Caption', 'caption', 18)}</w:styles>`;

/** The leaflet that lies at the quay: one page, with a header. */
export function leaflet(picturesAt: (file: string) => Buffer): Promise<Buffer> {
  const body = [
    paragraph('A day on the islands', 'Heading1'),
    paragraph('The first boat leaves Brannoch at a quarter past seven. You are back for tea.'),
    `<w:p>${picture(1, 'rId1', 'Picture 1', 320, 213, { alt: 'The white ferry Skerry Lass leaves the quay on a calm morning' })}</w:p>`,
    paragraph('The Skerry Lass takes sixty passengers and ten bicycles.'),
    paragraph('Puffins', 'Heading2'),
    paragraph('From April to July the birds stand at their burrows, a few steps from the path.'),
    `<w:p>${picture(2, 'rId2', 'IMG_2041.jpg', 320, 213, { alt: 'IMG_2041.jpg' })}</w:p>`,
    paragraph('Figure 1. Two puffins above the cliff', 'Caption'),
    `<w:p>${picture(3, 'rId3', 'Picture 3', 320, 213, {})}</w:p>`,
    paragraph('Figure 2. The lighthouse of 1862', 'Caption'),
    paragraph('How to find us', 'Heading2'),
    paragraph('Follow the signs to the harbour. The ticket hut is the green one.'),
    `<w:p>${picture(4, 'rId4', 'Picture 4', 320, 213, { alt: 'image' })}</w:p>`,
    `<w:p>${picture(5, 'rId5', 'Wave', 320, 16, { decorative: true })}</w:p>`,
    paragraph('Ask on board if you need a hand. The crew knows the islands, and helps with prams and wheelchairs.'),
  ];
  const document = `${XML}<w:document ${W}><w:body>${body.join('')}<w:sectPr><w:headerReference w:type="default" r:id="rId9"/><w:pgSz w:w="11906" w:h="16838"/><w:pgMar w:top="1134" w:right="1134" w:bottom="1134" w:left="1134" w:header="567" w:footer="567" w:gutter="0"/></w:sectPr></w:body></w:document>`;
  const header = `${XML}<w:hdr ${W}><w:p>${picture(6, 'rId1', 'Logo', 96, 32, { alt: 'Skerry Sound Ferries' })}</w:p></w:hdr>`;
  const types = 'officedocument.wordprocessingml';
  return zipped([
    [
      '[Content_Types].xml',
      contentTypes({
        'word/document.xml': `${types}.document.main`,
        'word/styles.xml': `${types}.styles`,
        'word/header1.xml': `${types}.header`,
        'docProps/core.xml': 'package.core-properties',
      }),
    ],
    [
      '_rels/.rels',
      relationships([
        ['rId1', 'officeDocument', 'word/document.xml'],
        ['rId2', 'core-properties', 'docProps/core.xml'],
      ]),
    ],
    ['docProps/core.xml', coreProperties('A day on the islands')],
    ['word/document.xml', document],
    [
      'word/_rels/document.xml.rels',
      relationships([
        ['rId1', 'image', 'media/image1.jpg'],
        ['rId2', 'image', 'media/image2.jpg'],
        ['rId3', 'image', 'media/image3.jpg'],
        ['rId4', 'image', 'media/image4.png'],
        ['rId5', 'image', 'media/image5.png'],
        ['rId8', 'styles', 'styles.xml'],
        ['rId9', 'header', 'header1.xml'],
      ]),
    ],
    ['word/styles.xml', STYLES],
    ['word/header1.xml', header],
    ['word/_rels/header1.xml.rels', relationships([['rId1', 'image', 'media/image6.png']])],
    ['word/media/image1.jpg', picturesAt('skerry-lass.jpg')],
    ['word/media/image2.jpg', picturesAt('IMG_2041.jpg')],
    ['word/media/image3.jpg', picturesAt('lighthouse-1862.jpg')],
    ['word/media/image4.png', picturesAt('harbour-map.png')],
    ['word/media/image5.png', picturesAt('wave.png')],
    ['word/media/image6.png', picturesAt('logo.png')],
  ]);
}
