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

const S =
  'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"';
const D =
  'xmlns:xdr="http://schemas.openxmlformats.org/drawingml/2006/spreadsheetDrawing" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"';

/** Columns and rows from 0, the second pair included. */
type Cells = readonly [column: number, row: number, toColumn: number, toRow: number];
const corner = (name: string, column: number, row: number) =>
  `<xdr:${name}><xdr:col>${column}</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>${row}</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:${name}>`;
const anchored = ([column, row, toColumn, toRow]: Cells, inner: string) =>
  `<xdr:twoCellAnchor>${corner('from', column, row)}${corner('to', toColumn, toRow)}${inner}<xdr:clientData/></xdr:twoCellAnchor>`;

const chart = (id: number, at: Cells, relation: string, words: Words) =>
  anchored(
    at,
    `<xdr:graphicFrame macro=""><xdr:nvGraphicFramePr>${properties('xdr:cNvPr', id, `Chart ${id}`, words)}<xdr:cNvGraphicFramePr/></xdr:nvGraphicFramePr><xdr:xfrm><a:off x="0" y="0"/><a:ext cx="0" cy="0"/></xdr:xfrm><a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/chart"><c:chart xmlns:c="http://schemas.openxmlformats.org/drawingml/2006/chart" r:id="${relation}"/></a:graphicData></a:graphic></xdr:graphicFrame>`,
  );
const picture = (id: number, at: Cells, relation: string, words: Words) =>
  anchored(
    at,
    `<xdr:pic><xdr:nvPicPr>${properties('xdr:cNvPr', id, `Picture ${id}`, words)}<xdr:cNvPicPr/></xdr:nvPicPr><xdr:blipFill><a:blip r:embed="${relation}"/><a:stretch><a:fillRect/></a:stretch></xdr:blipFill><xdr:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="0" cy="0"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></xdr:spPr></xdr:pic>`,
  );

const sheet = (rows: readonly (readonly (string | number)[])[]) =>
  `${XML}<worksheet ${S}><sheetData>${rows
    .map(
      (row, r) =>
        `<row r="${r + 1}">${row
          .map((value, c) => {
            const at = `${String.fromCharCode(65 + c)}${r + 1}`;
            return typeof value === 'number'
              ? `<c r="${at}"><v>${value}</v></c>`
              : `<c r="${at}" t="inlineStr"><is><t>${escaped(value)}</t></is></c>`;
          })
          .join('')}</row>`,
    )
    .join('')}</sheetData><drawing r:id="rId1"/></worksheet>`;

const FARES = [
  ['Journey', 'Adult', 'Child'],
  ['Brannoch to Inner Skerry', 6.5, 3],
  ['Brannoch to the Holm', 9, 4.5],
  ['Round the islands', 14, 7],
] as const;

/** The fares as a workbook: a sheet with a chart, and one with the tickets. */
export function fares(picturesAt: (file: string) => Buffer): Promise<Buffer> {
  const types = 'officedocument.spreadsheetml';
  const journeys = FARES.slice(1);
  const data = barChart(
    'Fares in 2026',
    'Journeys!$A$2:$A$4',
    journeys.map(([name]) => name),
    [
      ['Adult', 'Journeys!$B$2:$B$4', journeys.map(([, adult]) => Number(adult))],
      ['Child', 'Journeys!$C$2:$C$4', journeys.map(([, , child]) => Number(child))],
    ],
  );
  return zipped([
    [
      '[Content_Types].xml',
      contentTypes({
        'xl/workbook.xml': `${types}.sheet.main`,
        'xl/worksheets/sheet1.xml': `${types}.worksheet`,
        'xl/worksheets/sheet2.xml': `${types}.worksheet`,
        'xl/drawings/drawing1.xml': 'officedocument.drawing',
        'xl/drawings/drawing2.xml': 'officedocument.drawing',
        'xl/charts/chart1.xml': 'officedocument.drawingml.chart',
        'docProps/core.xml': 'package.core-properties',
      }),
    ],
    [
      '_rels/.rels',
      relationships([
        ['rId1', 'officeDocument', 'xl/workbook.xml'],
        ['rId2', 'core-properties', 'docProps/core.xml'],
      ]),
    ],
    ['docProps/core.xml', coreProperties('Fares 2026')],
    [
      'xl/workbook.xml',
      `${XML}<workbook ${S}><sheets><sheet name="Journeys" sheetId="1" r:id="rId1"/><sheet name="Tickets" sheetId="2" r:id="rId2"/></sheets></workbook>`,
    ],
    [
      'xl/_rels/workbook.xml.rels',
      relationships([
        ['rId1', 'worksheet', 'worksheets/sheet1.xml'],
        ['rId2', 'worksheet', 'worksheets/sheet2.xml'],
      ]),
    ],
    ['xl/worksheets/sheet1.xml', sheet(FARES)],
    ['xl/worksheets/_rels/sheet1.xml.rels', relationships([['rId1', 'drawing', '../drawings/drawing1.xml']])],
    [
      'xl/worksheets/sheet2.xml',
      sheet([
        ['Ticket', 'Good for'],
        ['Day ticket', 'all boats on one day'],
      ]),
    ],
    ['xl/worksheets/_rels/sheet2.xml.rels', relationships([['rId1', 'drawing', '../drawings/drawing2.xml']])],
    ['xl/drawings/drawing1.xml', `${XML}<xdr:wsDr ${D}>${chart(2, [0, 6, 6, 22], 'rId1', {})}</xdr:wsDr>`],
    ['xl/drawings/_rels/drawing1.xml.rels', relationships([['rId1', 'chart', '../charts/chart1.xml']])],
    [
      'xl/drawings/drawing2.xml',
      `${XML}<xdr:wsDr ${D}>${picture(2, [3, 1, 6, 9], 'rId1', { alt: 'A day ticket: good for all boats, with a hole where it was punched' })}</xdr:wsDr>`,
    ],
    ['xl/drawings/_rels/drawing2.xml.rels', relationships([['rId1', 'image', '../media/image1.png']])],
    ['xl/charts/chart1.xml', data],
    ['xl/media/image1.png', picturesAt('day-ticket.png')],
  ]);
}
