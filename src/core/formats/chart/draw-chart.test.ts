import { parseXml, rootOf, descendantsOf, attributeOf, textBelow } from '../xml/xml-tree';
import { drawChart, drawDiagram } from './draw-chart';
import type { ChartData } from './chart-data';

const fares: ChartData = {
  kind: 'bar',
  title: 'Fares <by> zone',
  categories: ['Inner', 'Outer'],
  series: [
    { name: 'Adults', values: [4, 8] },
    { name: 'Children', values: [2, null] },
  ],
};
const parts = (svg: string, local: string) =>
  [...descendantsOf(rootOf(parseXml(svg, 'chart.svg')))].filter((e) => e.local === local);
const number = (e: Parameters<typeof attributeOf>[0], name: string) => Number(attributeOf(e, name));
/** The bars, without the ground and the keys of the legend. */
const bars = (svg: string) =>
  parts(svg, 'rect').filter((e) => number(e, 'width') !== 640 && attributeOf(e, 'width') !== '10');

test('a bar is as high as its number, and no number has no bar', () => {
  const [four, eight, two, ...more] = bars(drawChart(fares)).map((e) => number(e, 'height'));
  expect(more).toEqual([]);
  expect(eight! / four!).toBeCloseTo(2, 1);
  expect(four! / two!).toBeCloseTo(2, 1);
});

test('a number below zero hangs below the axis', () => {
  const [up, down] = bars(drawChart({ ...fares, series: [{ name: 'Change', values: [5, -5] }] }));
  expect(number(down!, 'y')).toBeCloseTo(number(up!, 'y') + number(up!, 'height'), 1);
});

test('its words are text, whatever they hold', () => {
  const texts = parts(drawChart(fares), 'text').map(textBelow);
  expect(texts).toEqual(expect.arrayContaining(['Fares <by> zone', 'Inner', 'Outer', 'Adults', 'Children']));
});

test.each([
  ['line', 1, 3],
  ['points', 0, 3],
] as const)('a chart of kind %s joins %i of its series with a line', (kind, lines, circles) => {
  const svg = drawChart({ ...fares, kind, series: [{ name: 'Adults', values: [1, null, 2, 3] }] });
  expect(parts(svg, 'polyline')).toHaveLength(lines);
  expect(parts(svg, 'circle')).toHaveLength(circles);
});

test('a pie has a slice for each number of its first series', () => {
  const svg = drawChart({ ...fares, kind: 'pie' });
  expect(parts(svg, 'path')).toHaveLength(2);
  expect(parts(svg, 'text').map(textBelow)).toContain('Outer 8');
});

test('a slice beyond half a turn takes the long way round', () => {
  const [large, small] = parts(drawChart({ ...fares, kind: 'pie', series: [{ name: '', values: [9, 1] }] }), 'path');
  expect(attributeOf(large!, 'd')).toMatch(/A140 140 0 1 1/);
  expect(attributeOf(small!, 'd')).toMatch(/A140 140 0 0 1/);
});

test.each(['bar', 'line', 'pie', 'points'] as const)(
  'a chart of kind %s without numbers is still a drawing',
  (kind) => {
    const svg = drawChart({ kind, title: '', categories: [], series: [] });
    expect(svg).not.toMatch(/NaN|Infinity/);
    expect(rootOf(parseXml(svg, 'chart.svg')).local).toBe('svg');
  },
);

test('a chart with more series and categories than a drawing can show shows the first ones', () => {
  const values = Array.from({ length: 200 }, (_, i) => i);
  const svg = drawChart({
    ...fares,
    series: Array.from({ length: 20 }, (_, i) => ({ name: `Series ${i}`, values })),
    categories: values.map(String),
  });
  expect(bars(svg)).toHaveLength(6 * 40);
});

test('a diagram is its texts in boxes, the longest cut', () => {
  const texts = parts(drawDiagram(['Order', 'x'.repeat(60)]), 'text').map(textBelow);
  expect(texts).toEqual(['Order', `${'x'.repeat(39)}…`]);
});
