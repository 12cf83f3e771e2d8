import { PageBuilder } from '../page-builder';
import {
  attributeOf,
  childOf,
  childrenOf,
  descendantsOf,
  findBelow,
  textBelow,
  type XmlElement,
} from '../xml/xml-tree';
import { ObjectReader } from './drawn-object';
import type { OoxmlPackage, Part } from './package';
import { placeObject, type WrittenObject } from './place-objects';
import type { OfficePage } from './read-office';

const MOST_SHEETS = 2_000;
/** Rows of a sheet whose text is read, and cells of one. */
const MOST_ROWS = 2_000;
const MOST_CELLS = 60;

/** The letters of a column, from 0 (ECMA-376, part 1, 18.17.2.3). */
export function columnName(index: number): string {
  let name = '';
  for (let i = index; i >= 0; i = Math.floor(i / 26) - 1) name = String.fromCharCode(65 + (i % 26)) + name;
  return name;
}

interface Anchored {
  drawing: XmlElement;
  /** The cells that it covers, such as `B2:F14`; null where it is fixed to the sheet. */
  range: string | null;
  /** From 0; where it stands among the rows. */
  row: number;
}

const cellOf = (e: XmlElement | undefined): { column: number; row: number } | null => {
  const [column, row] = ['col', 'row'].map((name) => {
    const value = e && childOf(e, name);
    return value ? Number(textBelow(value)) : NaN;
  });
  return Number.isInteger(column) && Number.isInteger(row) ? { column: column!, row: row! } : null;
};

function anchorOf(anchor: XmlElement): Anchored {
  const [from, to] = [cellOf(childOf(anchor, 'from')), cellOf(childOf(anchor, 'to'))];
  const name = (c: { column: number; row: number }) => `${columnName(c.column)}${c.row + 1}`;
  const range = from && (to ? `${name(from)}:${name(to)}` : name(from));
  return { drawing: anchor, range, row: from?.row ?? 0 };
}

/** The texts of a sheet's rows. */
function rowsOf(sheet: Part, shared: readonly string[]): string[] {
  const data = findBelow(sheet.root, 'sheetData');
  const rows: string[] = [];
  for (const row of data ? childrenOf(data).slice(0, MOST_ROWS) : []) {
    const at = Number(attributeOf(row, 'r') ?? rows.length + 1) - 1;
    if (!(at >= 0 && at < MOST_ROWS)) continue;
    const texts = childrenOf(row)
      .slice(0, MOST_CELLS)
      .map((cell) => {
        const value = childOf(cell, 'v');
        if (attributeOf(cell, 't') === 's') return shared[Number(value && textBelow(value))] ?? '';
        const inline = childOf(cell, 'is');
        return inline ? textBelow(inline) : value ? textBelow(value) : '';
      });
    while (rows.length < at) rows.push('');
    rows[at] = texts.filter(Boolean).join(' ');
  }
  return rows;
}

function sharedStrings(pack: OoxmlPackage, main: string): string[] {
  const part = pack.optional(pack.related(main, 'sharedStrings')[0]);
  return part
    ? childrenOf(part.root).map((si) =>
        [...descendantsOf(si)]
          .filter((t) => t.local === 't')
          .map(textBelow)
          .join(''),
      )
    : [];
}

/** A workbook: its sheets in their order, hidden ones counted (ECMA-376, part 1, 12). */
export function readSheets(pack: OoxmlPackage): OfficePage[] {
  const main = pack.part(pack.main);
  const { title, language } = pack.properties;
  const list = findBelow(main.root, 'sheets');
  let shared: string[] | null = null;
  return (list ? childrenOf(list) : []).slice(0, MOST_SHEETS).map((e, i) => {
    const name = attributeOf(e, 'name') ?? '';
    const key = Object.entries(e.attributes).find(([attribute]) => /:id$/.test(attribute))?.[1] ?? null;
    const sheet = pack.optional(pack.target(main.name, key)?.target);
    const page = new PageBuilder();
    const written: WrittenObject[] = [];
    page.addHeading(name, 1);
    const drawing = sheet && pack.optional(pack.related(sheet.name, 'drawing')[0]);
    if (sheet && drawing) {
      shared ??= sharedStrings(pack, main.name);
      const rows = rowsOf(sheet, shared);
      const objects = new ObjectReader(pack, drawing.name);
      let row = 0;
      // Anchors stand in the order in which they are heard; the text up to each comes before it.
      for (const anchor of childrenOf(drawing.root).map(anchorOf)) {
        for (; row <= anchor.row && row < rows.length; row++) if (rows[row]) page.addParagraph(rows[row]!);
        const spot = () => (anchor.range === null ? null : { id: 'spot.cells', values: { range: anchor.range } });
        for (const o of objects.below(anchor.drawing))
          placeObject(page, o, { pack, part: drawing.name, root: 'sheet', spot }, written);
      }
      for (; row < rows.length; row++) if (rows[row]) page.addParagraph(rows[row]!);
    }
    const reading = page.build({ title: [title, name].filter(Boolean).join(': '), lang: language });
    return { fragment: `sheet=${i + 1}`, reading, objects: written };
  });
}
