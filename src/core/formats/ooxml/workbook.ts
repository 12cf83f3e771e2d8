import { MOST_CATEGORIES } from '../chart/chart-data';
import {
  attributeOf,
  childOf,
  childrenOf,
  descendantsOf,
  findBelow,
  textBelow,
  type XmlElement,
} from '../xml/xml-tree';
import type { OoxmlPackage, Part } from './package';

const MOST_SHEETS = 2_000;
/** Rows of a sheet whose text is read, and cells of one. */
const MOST_ROWS = 2_000;
const MOST_CELLS = 60;

/** `Fares!$B$2:$B$4`, `'It''s'!B1` (ECMA-376, part 1, 18.17.2.3). */
const REFERENCE = /^(?:'((?:[^']|'')+)'|([^'!(),]+))!\$?([A-Z]{1,3})\$?(\d{1,7})(?::\$?([A-Z]{1,3})\$?(\d{1,7}))?$/;

/** The letters of a column, from 0 (ECMA-376, part 1, 18.17.2.3). */
export function columnName(index: number): string {
  let name = '';
  for (let i = index; i >= 0; i = Math.floor(i / 26) - 1) name = String.fromCharCode(65 + (i % 26)) + name;
  return name;
}

/** The number of a column, from 0. @param name its letters */
const columnIndex = (name: string): number => [...name].reduce((n, c) => n * 26 + c.charCodeAt(0) - 64, 0) - 1;

export interface Sheet {
  name: string;
  /** Null where the package lacks it. */
  part: Part | null;
}

/** The sheets of a workbook in their order, and the texts of their cells (ECMA-376, part 1, 12 and 18.3). */
export class Workbook {
  readonly sheets: Sheet[];
  private shared: string[] | null = null;

  constructor(private readonly pack: OoxmlPackage) {
    const main = pack.part(pack.main);
    const list = findBelow(main.root, 'sheets');
    this.sheets = (list ? childrenOf(list) : []).slice(0, MOST_SHEETS).map((e) => {
      const id = Object.entries(e.attributes).find(([attribute]) => /:id$/.test(attribute))?.[1] ?? null;
      return { name: attributeOf(e, 'name') ?? '', part: pack.optional(pack.target(main.name, id)?.target) };
    });
  }

  /** The texts of a sheet's rows, by their position. */
  rowsOf(sheet: Part): string[] {
    const rows: string[] = [];
    for (const [at, row] of rowElements(sheet)) {
      if (at >= MOST_ROWS) break;
      const texts = childrenOf(row)
        .slice(0, MOST_CELLS)
        .map((cell) => this.textOf(cell));
      while (rows.length < at) rows.push('');
      rows[at] = texts.filter(Boolean).join(' ');
    }
    return rows;
  }

  /** The texts of a row or column of cells, empty for those that have none; nothing where the reference is another formula. */
  cellsAt(reference: string): string[] {
    const [, quoted, plain, column = '', row = '', toColumn = column, toRow = row] =
      REFERENCE.exec(reference.trim()) ?? [];
    const name = quoted?.replace(/''/g, "'") ?? plain;
    const sheet = this.sheets.find((s) => s.name === name)?.part;
    if (!sheet) return [];
    const [left, right] = [columnIndex(column), columnIndex(toColumn)];
    const [top, bottom] = [Number(row) - 1, Number(toRow) - 1];
    const [width, height] = [right - left + 1, bottom - top + 1];
    if (width < 1 || height < 1 || width * height > MOST_CATEGORIES) return [];
    const out = Array.from({ length: width * height }, () => '');
    for (const [at, element] of rowElements(sheet)) {
      if (at < top) continue;
      if (at > bottom) break;
      for (const [i, cell] of childrenOf(element).entries()) {
        const letters = /^[A-Z]+/.exec(attributeOf(cell, 'r') ?? '')?.[0];
        const x = (letters ? columnIndex(letters) : i) - left;
        if (x >= 0 && x < width) out[(at - top) * width + x] = this.textOf(cell);
      }
    }
    return out;
  }

  private textOf(cell: XmlElement): string {
    const value = childOf(cell, 'v');
    if (attributeOf(cell, 't') === 's') return this.sharedStrings[Number(value && textBelow(value))] ?? '';
    const inline = childOf(cell, 'is');
    return inline ? textBelow(inline) : value ? textBelow(value) : '';
  }

  private get sharedStrings(): string[] {
    if (this.shared) return this.shared;
    const part = this.pack.optional(this.pack.related(this.pack.main, 'sharedStrings')[0]);
    this.shared = (part ? childrenOf(part.root) : []).map((si) =>
      [...descendantsOf(si)]
        .filter((t) => t.local === 't')
        .map(textBelow)
        .join(''),
    );
    return this.shared;
  }
}

/** The rows of a sheet that are written, with their positions from 0. */
function* rowElements(sheet: Part): Generator<[number, XmlElement]> {
  const data = findBelow(sheet.root, 'sheetData');
  let next = 0;
  for (const row of data ? childrenOf(data) : []) {
    const at = Number(attributeOf(row, 'r') ?? next + 1) - 1;
    if (!Number.isInteger(at) || at < 0) continue;
    next = at + 1;
    yield [at, row];
  }
}
