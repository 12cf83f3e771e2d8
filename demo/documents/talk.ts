import {
  barChart,
  contentTypes,
  coreProperties,
  escaped,
  properties,
  relationships,
  XML,
  zipped,
  type Words,
} from './package';

const P =
  'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" xmlns:p="http://schemas.openxmlformats.org/presentationml/2006/main"';
const [WIDTH, HEIGHT] = [9_144_000, 5_143_500];

/** A box in hundredths of the slide. */
type At = readonly [left: number, top: number, width: number, height: number];
const frame = ([l, t, w, h]: At, prefix = 'a') =>
  `<${prefix}:xfrm><a:off x="${Math.round((l * WIDTH) / 100)}" y="${Math.round((t * HEIGHT) / 100)}"/><a:ext cx="${Math.round((w * WIDTH) / 100)}" cy="${Math.round((h * HEIGHT) / 100)}"/></${prefix}:xfrm>`;

const text = (id: number, at: At, words: string, type?: 'title') =>
  `<p:sp><p:nvSpPr><p:cNvPr id="${id}" name="${type ? 'Title' : 'Text'} ${id}"/><p:cNvSpPr/><p:nvPr>${type ? '<p:ph type="title"/>' : ''}</p:nvPr></p:nvSpPr><p:spPr>${frame(at)}<a:prstGeom prst="rect"><a:avLst/></a:prstGeom></p:spPr><p:txBody><a:bodyPr/><a:p><a:r><a:rPr lang="en-GB" sz="${type ? 3200 : 2000}"/><a:t>${escaped(words)}</a:t></a:r></a:p></p:txBody></p:sp>`;

const picture = (id: number, at: At, relation: string, words: Words) =>
  `<p:pic><p:nvPicPr>${properties('p:cNvPr', id, `Picture ${id}`, words)}<p:cNvPicPr/><p:nvPr/></p:nvPicPr><p:blipFill><a:blip r:embed="${relation}"/><a:stretch><a:fillRect/></a:stretch></p:blipFill><p:spPr>${frame(at)}<a:prstGeom prst="rect"><a:avLst/></a:prstGeom></p:spPr></p:pic>`;

const group = (id: number, at: At, words: Words, inner: string) =>
  `<p:grpSp><p:nvGrpSpPr>${properties('p:cNvPr', id, `Group ${id}`, words)}<p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr>${frame(
    at,
  ).replace(
    '</a:xfrm>',
    `${frame(at)
      .replace(/^<a:xfrm>|<\/a:xfrm>$/g, '')
      .replace('a:off', 'a:chOff')
      .replace('a:ext', 'a:chExt')}</a:xfrm>`,
  )}</p:grpSpPr>${inner}</p:grpSp>`;

const chart = (id: number, at: At, relation: string, words: Words) =>
  `<p:graphicFrame><p:nvGraphicFramePr>${properties('p:cNvPr', id, `Chart ${id}`, words)}<p:cNvGraphicFramePr/><p:nvPr/></p:nvGraphicFramePr>${frame(at, 'p')}<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/chart"><c:chart xmlns:c="http://schemas.openxmlformats.org/drawingml/2006/chart" r:id="${relation}"/></a:graphicData></a:graphic></p:graphicFrame>`;

const tree = (inner: string, name = '') =>
  `<p:cSld${name ? ` name="${name}"` : ''}><p:spTree><p:nvGrpSpPr><p:cNvPr id="1" name=""/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr/>${inner}</p:spTree></p:cSld>`;

interface Slide {
  content: string;
  relations: [id: string, type: string, target: string][];
  hidden?: boolean;
}

const SLIDES: Slide[] = [
  {
    content:
      text(2, [8, 8, 84, 16], 'Skerry Sound, from April to July', 'title') +
      picture(3, [8, 30, 84, 62], 'rId2', {
        alt: 'The Holm from above: a green island with a white lighthouse at its western end',
      }),
    relations: [['rId2', 'image', '../media/image1.jpg']],
  },
  {
    content:
      text(2, [8, 6, 84, 14], 'Puffin week', 'title') +
      text(3, [8, 22, 84, 12], 'Two birds, one burrow: they take turns at the egg.') +
      group(
        4,
        [8, 38, 84, 54],
        {},
        picture(5, [8, 38, 40, 54], 'rId2', { alt: 'A puffin stands on the grass of the cliff top' }) +
          picture(6, [52, 38, 40, 54], 'rId3', { alt: 'A puffin flies in over the sea, wings spread' }),
      ),
    relations: [
      ['rId2', 'image', '../media/image2.jpg'],
      ['rId3', 'image', '../media/image3.jpg'],
    ],
  },
  {
    content:
      text(2, [8, 6, 84, 14], 'Passengers', 'title') +
      text(3, [8, 20, 84, 10], 'July carries a third of the year.') +
      chart(4, [8, 32, 84, 60], 'rId2', {}),
    relations: [['rId2', 'chart', '../charts/chart1.xml']],
  },
  {
    content:
      text(2, [8, 6, 84, 14], 'The boats', 'title') +
      picture(3, [4, 28, 44, 60], 'rId2', { alt: 'The blue ferry Brannoch Belle at anchor' }) +
      picture(4, [52, 28, 44, 60], 'rId3', { alt: 'Picture of the red ferry Margaret Ann under way' }),
    relations: [
      ['rId2', 'image', '../media/image4.jpg'],
      ['rId3', 'image', '../media/image5.jpg'],
    ],
  },
  {
    content: text(2, [8, 6, 84, 14], 'Spare slide', 'title') + picture(3, [20, 28, 60, 60], 'rId2', {}),
    relations: [['rId2', 'image', '../media/image6.jpg']],
    hidden: true,
  },
];

const THEME = `${XML}<a:theme xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" name="Skerry"><a:themeElements><a:clrScheme name="Skerry"><a:dk1><a:srgbClr val="1F2430"/></a:dk1><a:lt1><a:srgbClr val="FFFFFF"/></a:lt1><a:dk2><a:srgbClr val="325D73"/></a:dk2><a:lt2><a:srgbClr val="EEF3F4"/></a:lt2>${[1, 2, 3, 4, 5, 6].map((i) => `<a:accent${i}><a:srgbClr val="${['3F6F86', 'B07A1E', '3F2E56', '7D8F69', '8C4A4A', '5B5B5B'][i - 1]}"/></a:accent${i}>`).join('')}<a:hlink><a:srgbClr val="325D73"/></a:hlink><a:folHlink><a:srgbClr val="3F2E56"/></a:folHlink></a:clrScheme><a:fontScheme name="Skerry"><a:majorFont><a:latin typeface="Arial"/><a:ea typeface=""/><a:cs typeface=""/></a:majorFont><a:minorFont><a:latin typeface="Arial"/><a:ea typeface=""/><a:cs typeface=""/></a:minorFont></a:fontScheme><a:fmtScheme name="Skerry"><a:fillStyleLst>${'<a:solidFill><a:schemeClr val="phClr"/></a:solidFill>'.repeat(3)}</a:fillStyleLst><a:lnStyleLst>${'<a:ln w="6350"><a:solidFill><a:schemeClr val="phClr"/></a:solidFill></a:ln>'.repeat(3)}</a:lnStyleLst><a:effectStyleLst>${'<a:effectStyle><a:effectLst/></a:effectStyle>'.repeat(3)}</a:effectStyleLst><a:bgFillStyleLst>${'<a:solidFill><a:schemeClr val="phClr"/></a:solidFill>'.repeat(3)}</a:bgFillStyleLst></a:fmtScheme></a:themeElements></a:theme>`;

const MAP =
  '<p:clrMap bg1="lt1" tx1="dk1" bg2="lt2" tx2="dk2" accent1="accent1" accent2="accent2" accent3="accent3" accent4="accent4" accent5="accent5" accent6="accent6" hlink="hlink" folHlink="folHlink"/>';

/** The talk of the harbour master: four slides and a hidden one, with a wave on the layout. */
export function talk(picturesAt: (file: string) => Buffer): Promise<Buffer> {
  const types = 'officedocument.presentationml';
  const slides = SLIDES.flatMap(({ content, relations, hidden }, i): [string, string][] => [
    [`ppt/slides/slide${i + 1}.xml`, `${XML}<p:sld ${P}${hidden ? ' show="0"' : ''}>${tree(content)}</p:sld>`],
    [
      `ppt/slides/_rels/slide${i + 1}.xml.rels`,
      relationships([['rId1', 'slideLayout', '../slideLayouts/slideLayout1.xml'], ...relations]),
    ],
  ]);
  const list = SLIDES.map((_, i) => `<p:sldId id="${256 + i}" r:id="rId${i + 2}"/>`).join('');
  return zipped([
    [
      '[Content_Types].xml',
      contentTypes({
        'ppt/presentation.xml': `${types}.presentation.main`,
        'ppt/slideMasters/slideMaster1.xml': `${types}.slideMaster`,
        'ppt/slideLayouts/slideLayout1.xml': `${types}.slideLayout`,
        'ppt/theme/theme1.xml': 'officedocument.theme',
        'ppt/charts/chart1.xml': 'officedocument.drawingml.chart',
        'docProps/core.xml': 'package.core-properties',
        ...Object.fromEntries(SLIDES.map((_, i) => [`ppt/slides/slide${i + 1}.xml`, `${types}.slide`])),
      }),
    ],
    [
      '_rels/.rels',
      relationships([
        ['rId1', 'officeDocument', 'ppt/presentation.xml'],
        ['rId2', 'core-properties', 'docProps/core.xml'],
      ]),
    ],
    ['docProps/core.xml', coreProperties('A summer at Skerry Sound')],
    [
      'ppt/presentation.xml',
      `${XML}<p:presentation ${P}><p:sldMasterIdLst><p:sldMasterId id="2147483648" r:id="rId1"/></p:sldMasterIdLst><p:sldIdLst>${list}</p:sldIdLst><p:sldSz cx="${WIDTH}" cy="${HEIGHT}"/><p:notesSz cx="6858000" cy="9144000"/></p:presentation>`,
    ],
    [
      'ppt/_rels/presentation.xml.rels',
      relationships([
        ['rId1', 'slideMaster', 'slideMasters/slideMaster1.xml'],
        ...SLIDES.map((_, i) => [`rId${i + 2}`, 'slide', `slides/slide${i + 1}.xml`] as const),
      ]),
    ],
    [
      'ppt/slideMasters/slideMaster1.xml',
      `${XML}<p:sldMaster ${P}>${tree('', 'Skerry')}${MAP}<p:sldLayoutIdLst><p:sldLayoutId id="2147483649" r:id="rId1"/></p:sldLayoutIdLst></p:sldMaster>`,
    ],
    [
      'ppt/slideMasters/_rels/slideMaster1.xml.rels',
      relationships([
        ['rId1', 'slideLayout', '../slideLayouts/slideLayout1.xml'],
        ['rId2', 'theme', '../theme/theme1.xml'],
      ]),
    ],
    [
      'ppt/slideLayouts/slideLayout1.xml',
      `${XML}<p:sldLayout ${P}>${tree(picture(2, [0, 96, 100, 4], 'rId2', { alt: 'Blue waves along the lower edge' }), 'Title and picture')}<p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:sldLayout>`,
    ],
    [
      'ppt/slideLayouts/_rels/slideLayout1.xml.rels',
      relationships([
        ['rId1', 'slideMaster', '../slideMasters/slideMaster1.xml'],
        ['rId2', 'image', '../media/image7.png'],
      ]),
    ],
    ['ppt/theme/theme1.xml', THEME],
    ...slides,
    [
      'ppt/charts/chart1.xml',
      barChart(
        'Passengers by month',
        'Passengers!$A$2:$A$5',
        ['April', 'May', 'June', 'July'],
        [['2025', 'Passengers!$B$2:$B$5', [2100, 3400, 5200, 8700]]],
      ),
    ],
    ['ppt/media/image1.jpg', picturesAt('holm-from-above.jpg')],
    ['ppt/media/image2.jpg', picturesAt('IMG_2042.jpg')],
    ['ppt/media/image3.jpg', picturesAt('IMG_2043.jpg')],
    ['ppt/media/image4.jpg', picturesAt('brannoch-belle.jpg')],
    ['ppt/media/image5.jpg', picturesAt('margaret-ann.jpg')],
    ['ppt/media/image6.jpg', picturesAt('inner-light.jpg')],
    ['ppt/media/image7.png', picturesAt('wave.png')],
  ]);
}
