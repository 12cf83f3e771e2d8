import { chartTable, diagramList, MOST_CATEGORIES, MOST_SERIES, type ChartData } from '../chart/chart-data';
import { drawChart, drawDiagram } from '../chart/draw-chart';
import {
  attributeOf,
  childOf,
  childrenOf,
  descendantsOf,
  findBelow,
  textBelow,
  type XmlElement,
} from '../xml/xml-tree';
import type { DrawnObject } from './drawn-object';
import type { OoxmlPackage } from './package';

/** What an object without a picture of its own is drawn as, and its data in words. */
export interface DrawnData {
  svg: string | null;
  data: string | null;
}

const NOTHING: DrawnData = { svg: null, data: null };

/** The texts of the cells that a reference names; nothing where there are none. */
export type CellsAt = (reference: string) => string[];

/**
 * The drawing and the data of a chart or a diagram, from the part that keeps them (ECMA-376, part 1, 21.2 and 21.4).
 *
 * @param cellsAt read where a chart keeps no copy of its numbers, only where they stand
 */
export function drawnData(pack: OoxmlPackage, o: DrawnObject, cellsAt: CellsAt = () => []): DrawnData {
  const part = pack.optional(o.dataPart ?? undefined);
  if (!part) return NOTHING;
  if (o.element === 'chart') {
    const chart = readChart(part.root, cellsAt);
    const data = chart && chartTable(chart);
    return chart && data ? { svg: drawChart(chart), data } : NOTHING;
  }
  const texts = diagramTexts(part.root);
  return texts.length > 0 ? { svg: drawDiagram(texts), data: diagramList(texts) } : NOTHING;
}

const KINDS: [RegExp, ChartData['kind']][] = [
  [/^(?:pie|pie3D|doughnut|ofPie)Chart$/, 'pie'],
  [/^(?:line|line3D|area|area3D|stock|radar)Chart$/, 'line'],
  [/^(?:scatter|bubble)Chart$/, 'points'],
  [/Chart$/, 'bar'],
];

function readChart(space: XmlElement, cellsAt: CellsAt): ChartData | null {
  const chart = findBelow(space, 'chart');
  const plot = chart && findBelow(chart, 'plotArea');
  if (!chart || !plot) return null;
  const title = childOf(chart, 'title');
  const type = childrenOf(plot).find((c) => /Chart$/.test(c.local));
  const kind = KINDS.find(([name]) => type && name.test(type.local))?.[1] ?? 'bar';
  const series = [...descendantsOf(plot)].filter((e) => e.local === 'ser').slice(0, MOST_SERIES);
  const first = series[0];
  const categories = first ? (childOf(first, 'cat') ?? childOf(first, 'xVal')) : undefined;
  return {
    kind,
    title: title ? chartText(title) : '',
    categories: categories ? pointsOf(categories, cellsAt) : [],
    series: series.map((s) => {
      const [name, values] = [childOf(s, 'tx'), childOf(s, 'val') ?? childOf(s, 'yVal')];
      return {
        name: name ? chartText(name) || (pointsOf(name, cellsAt)[0] ?? '') : '',
        values: (values ? pointsOf(values, cellsAt) : []).map((v) =>
          v !== '' && Number.isFinite(Number(v)) ? Number(v) : null,
        ),
      };
    }),
  };
}

/** What a title or a name says: rich text, or the text that a cell was read to have. */
const chartText = (e: XmlElement): string =>
  [...descendantsOf(e)]
    // The text of a diagram's point is an element `t` itself, around those of its runs.
    .filter((t) => (t.local === 't' || t.local === 'v') && childrenOf(t).length === 0)
    .map(textBelow)
    .join('')
    .trim();

/** The points of a cache by their index, those that it leaves out empty; without a cache, the cells themselves. */
function pointsOf(e: XmlElement, cellsAt: CellsAt): string[] {
  const out: string[] = [];
  for (const point of descendantsOf(e)) {
    if (point.local !== 'pt') continue;
    const at = Number(attributeOf(point, 'idx'));
    if (!(at >= 0 && at < MOST_CATEGORIES)) continue;
    while (out.length < at) out.push('');
    out[at] = textBelow(childOf(point, 'v') ?? point).trim();
  }
  const reference = out.length === 0 ? findBelow(e, 'f') : undefined;
  return reference ? cellsAt(textBelow(reference)) : out;
}

function diagramTexts(model: XmlElement): string[] {
  const points = [...descendantsOf(model)].filter((e) => e.local === 'pt');
  return points
    .filter((p) => /^(?:node|asst)$/.test(attributeOf(p, 'type') ?? 'node'))
    .map((p) => chartText(p))
    .filter((text) => text !== '')
    .slice(0, MOST_CATEGORIES);
}
