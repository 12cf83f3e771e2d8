import { PageBuilder } from '../page-builder';
import { childOf, childrenOf, textBelow, type XmlElement } from '../xml/xml-tree';
import { ObjectReader } from './drawn-object';
import type { OoxmlPackage } from './package';
import { placeObject, type WrittenObject } from './place-objects';
import type { OfficePage } from './read-office';
import { columnName, Workbook } from './workbook';

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

/** A workbook: its sheets in their order, hidden ones counted (ECMA-376, part 1, 12). */
export function readSheets(pack: OoxmlPackage): OfficePage[] {
  const workbook = new Workbook(pack);
  const cellsAt = (reference: string) => workbook.cellsAt(reference);
  const { title, language } = pack.properties;
  return workbook.sheets.map(({ name, part: sheet }, i) => {
    const page = new PageBuilder();
    const written: WrittenObject[] = [];
    page.addHeading(name, 1);
    const drawing = sheet && pack.optional(pack.related(sheet.name, 'drawing')[0]);
    if (sheet && drawing) {
      const rows = workbook.rowsOf(sheet);
      const objects = new ObjectReader(pack, drawing.name);
      let row = 0;
      // Anchors stand in the order in which they are heard; the text up to each comes before it.
      for (const anchor of childrenOf(drawing.root).map(anchorOf)) {
        for (; row <= anchor.row && row < rows.length; row++) if (rows[row]) page.addParagraph(rows[row]!);
        const spot = () => (anchor.range === null ? null : { id: 'spot.cells', values: { range: anchor.range } });
        for (const o of objects.below(anchor.drawing))
          placeObject(page, o, { pack, part: drawing.name, root: 'sheet', spot, cellsAt }, written);
      }
      for (; row < rows.length; row++) if (rows[row]) page.addParagraph(rows[row]!);
    }
    const reading = page.build({ title: [title, name].filter(Boolean).join(': '), lang: language });
    return { fragment: `sheet=${i + 1}`, reading, objects: written };
  });
}
