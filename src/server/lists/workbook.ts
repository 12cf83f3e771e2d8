import type { Cell, CellStyle, CellValue, ColumnDef, SheetImage } from 'hucre';
import { imageSize } from 'image-size';
import { ZipFile } from '@/core/formats/zip/zip-file';
import { COLUMNS, neutralCell, type ListRow } from '@/core/lists/list-table';
import type { ShownRow } from './write-list';

/** The words of a workbook that are not in its rows. */
export interface WorkbookWords {
  /** Names of the two sheets, and of the column with the pictures. */
  texts: string;
  help: string;
  preview: string;
  /** What the second sheet says, a paragraph each. */
  instructions: readonly string[];
}

/** Widths in characters, in the order in which one works: what is read and written stands side by side, the rest behind it. */
const WIDTHS: readonly (readonly [keyof ListRow, number])[] = [
  ['picture', 26],
  ['state', 14],
  ['alt', 46],
  ['newAlt', 46],
  ['findings', 46],
  ['page', 30],
  ['places', 8],
  ['uses', 8],
  ['purpose', 14],
  ['caption', 30],
  ['title', 20],
  ['writtenBy', 18],
  ['pageTitle', 26],
  ['line', 8],
  ['width', 8],
  ['height', 8],
  ['bytes', 10],
  ['appearance', 12],
];
const NAMES = new Map(COLUMNS);
const PREVIEW_WIDTH = 14;

/** Pixels that a picture has at most in its row, and points that such a row is high. */
const SHOWN_PIXELS = 84;
const ROW_POINTS = 66;

const WRAPPED = { vertical: 'top', wrapText: true } as const;
const HEAD: CellStyle = {
  font: { bold: true, color: { rgb: 'FFFFFF' } },
  fill: { type: 'pattern', pattern: 'solid', fgColor: { rgb: '2F3A46' } },
  alignment: WRAPPED,
};
const PLAIN: CellStyle = { alignment: WRAPPED };
/** What may be edited stands out, and is the only thing that is not locked. */
const EDITED: CellStyle = {
  fill: { type: 'pattern', pattern: 'solid', fgColor: { rgb: 'FFF6D6' } },
  border: { bottom: { style: 'hair' }, top: { style: 'hair' } },
  alignment: WRAPPED,
  protection: { locked: false },
};

/** Rows as a workbook that one can work in: pictures, a head that stays, a filter, one column to write in, and a sheet that says how. */
export async function writeWorkbook(
  rows: AsyncIterable<readonly ShownRow[]>,
  words: WorkbookWords,
): Promise<Uint8Array> {
  const { writeXlsx } = await import('hucre/xlsx');
  const table: CellValue[][] = [[words.preview, ...WIDTHS.map(([key]) => NAMES.get(key)!)]];
  const images: SheetImage[] = [];
  const heights = new Map<number, { height: number }>();
  for await (const some of rows)
    for (const { thumb, ...row } of some) {
      const at = table.length;
      if (thumb) {
        images.push(imageAt(at, thumb, row));
        heights.set(at, { height: ROW_POINTS });
      }
      table.push(['', ...WIDTHS.map(([key]) => cellOf(row[key]))]);
    }
  const columns: ColumnDef[] = [
    { width: PREVIEW_WIDTH, style: PLAIN },
    ...WIDTHS.map(([key, width]) => ({ width, style: key === 'newAlt' ? EDITED : PLAIN })),
  ];
  const head = new Map<string, Partial<Cell>>(
    table[0]!.map((value, i) => [`0,${i}`, { value, type: 'string', style: HEAD }]),
  );
  const workbook = await writeXlsx({
    sheets: [
      {
        ...{ name: words.texts, rows: table, columns, images },
        cells: head,
        rowDefs: heights,
        freezePane: { rows: 1, columns: 1 },
        autoFilter: { range: `A1:${letter(WIDTHS.length)}${Math.max(2, table.length)}` },
        protection: {
          sheet: true,
          autoFilter: true,
          sort: true,
          formatColumns: true,
          formatRows: true,
          formatCells: true,
        },
      },
      {
        name: words.help,
        columns: [{ width: 96, style: PLAIN }],
        rows: words.instructions.map((line) => [line]),
      },
    ],
  });
  return withOwnSizes(Buffer.from(workbook));
}

/** An anchor between two cells, as the library writes it, with the size that its picture should have. */
const ANCHOR =
  /<xdr:twoCellAnchor>(<xdr:from>.*?<\/xdr:from>)<xdr:to>.*?<\/xdr:to>(.*?<a:ext (cx="\d+" cy="\d+")\/>.*?)<\/xdr:twoCellAnchor>/gs;

/** Anchors pictures by one cell and their own size: between two cells, programs stretch them to whatever these measure. */
async function withOwnSizes(workbook: Buffer): Promise<Uint8Array> {
  const zip = await ZipFile.open(workbook);
  const drawings = zip.names.filter((name) => /^xl\/drawings\/[^/]+\.xml$/.test(name));
  return zip.withEntries(
    new Map(
      drawings.map((name) => {
        const xml = zip.read(name).toString('utf8');
        const anchored = xml.replace(ANCHOR, '<xdr:oneCellAnchor>$1<xdr:ext $3/>$2</xdr:oneCellAnchor>');
        return [name, Buffer.from(anchored)];
      }),
    ),
  );
}

const cellOf = (value: ListRow[keyof ListRow]): CellValue => (typeof value === 'string' ? neutralCell(value) : value);

/** The name of a column by its number from 0. */
const letter = (column: number): string => String.fromCharCode(65 + column);

function imageAt(row: number, data: Uint8Array, { alt, picture }: ListRow): SheetImage {
  const { width = SHOWN_PIXELS, height = SHOWN_PIXELS, type } = imageSize(data);
  const scale = Math.min(1, SHOWN_PIXELS / Math.max(width, height));
  return {
    data,
    type: type === 'png' ? 'png' : type === 'gif' ? 'gif' : 'jpeg',
    anchor: { from: { row, col: 0 } },
    width: Math.max(1, Math.round(width * scale)),
    height: Math.max(1, Math.round(height * scale)),
    altText: alt || picture || '',
  };
}
