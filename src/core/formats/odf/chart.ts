import { MOST_CATEGORIES, MOST_SERIES, type ChartData } from '../chart/chart-data';
import { attributeOf, childrenOf, descendantsOf, findBelow, textBelow, type XmlElement } from '../xml/xml-tree';

/** The local table of an embedded chart: its first row names the series, its first column the categories. */
export function readChart(root: XmlElement): ChartData | null {
  const chart = findBelow(root, 'chart');
  const table = findBelow(root, 'table');
  if (!chart || !table) return null;
  const title = childrenOf(chart).find((c) => c.local === 'title');
  const rows = [...descendantsOf(table)]
    .filter((r) => r.local === 'table-row')
    .slice(0, MOST_CATEGORIES + 1)
    .map((r) => childrenOf(r).slice(0, MOST_SERIES + 1));
  const [head = [], ...body] = rows;
  const number = (cell: XmlElement | undefined) => {
    const value = Number(cell ? (attributeOf(cell, 'value') ?? NaN) : NaN);
    return Number.isFinite(value) ? value : null;
  };
  const type = attributeOf(chart, 'class') ?? '';
  return {
    kind: /circle|ring/.test(type)
      ? 'pie'
      : /line|area|radar/.test(type)
        ? 'line'
        : /scatter|bubble/.test(type)
          ? 'points'
          : 'bar',
    title: title ? textBelow(title).trim() : '',
    categories: body.map((r) => (r[0] ? textBelow(r[0]).trim() : '')),
    series: head
      .slice(1)
      .map((cell, i) => ({ name: textBelow(cell).trim(), values: body.map((r) => number(r[i + 1])) })),
  };
}
