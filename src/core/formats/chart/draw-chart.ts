import { xmlText } from '../xml/edit-xml';
import type { ChartData } from './chart-data';

const WIDTH = 640;
const HEIGHT = 400;
const PLOT = { left: 60, top: 56, right: 620, bottom: 330 };
/** Tones that stay apart in grey. */
const TONES = ['#3f2e56', '#b07a1e', '#4a6d8c', '#7d8f69', '#8c4a4a', '#5b5b5b'];
/** Series and categories that a small drawing can show. */
const MOST_SERIES = 6;
const MOST_CATEGORIES = 40;

const n = (value: number) => String(Math.round(value * 10) / 10);
const tone = (i: number) => TONES[i % TONES.length]!;
const label = (x: number, y: number, text: string, more = '') =>
  `<text x="${n(x)}" y="${n(y)}" ${more}>${xmlText(text.length > 40 ? `${text.slice(0, 39)}…` : text)}</text>`;

function frame(title: string, body: string[]): string {
  const head = title ? [label(WIDTH / 2, 28, title, 'text-anchor="middle" font-size="18"')] : [];
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" height="${HEIGHT}" ` +
    `font-family="sans-serif" font-size="12"><rect width="${WIDTH}" height="${HEIGHT}" fill="#fff"/>${[...head, ...body].join('')}</svg>`
  );
}

/** A plain drawing of a chart's numbers, for people to see what it is about: not the look that its document gives it. */
export function drawChart(data: ChartData): string {
  const series = data.series.slice(0, MOST_SERIES).map((s) => ({ ...s, values: s.values.slice(0, MOST_CATEGORIES) }));
  const categories = data.categories.slice(0, MOST_CATEGORIES);
  const legend = series.map(({ name }, i) => {
    const x = PLOT.left + i * 95;
    return `<rect x="${x}" y="372" width="10" height="10" fill="${tone(i)}"/>${label(x + 15, 381, name)}`;
  });
  if (data.kind === 'pie') return frame(data.title, pie(series[0]?.values ?? [], categories));
  const all = series.flatMap((s) => s.values.filter((v) => v !== null));
  const [low, high] = [Math.min(0, ...all), Math.max(0, ...all)];
  const span = high - low || 1;
  const y = (v: number) => PLOT.bottom - ((v - low) / span) * (PLOT.bottom - PLOT.top);
  const count = Math.max(1, categories.length, ...series.map((s) => s.values.length));
  const step = (PLOT.right - PLOT.left) / count;
  const axis =
    `<path d="M${PLOT.left} ${PLOT.top}V${PLOT.bottom}M${PLOT.left} ${n(y(0))}H${PLOT.right}" stroke="#555" fill="none"/>` +
    label(PLOT.left - 6, PLOT.top + 4, n(high), 'text-anchor="end"') +
    label(PLOT.left - 6, PLOT.bottom, n(low), 'text-anchor="end"');
  const every = Math.ceil(count / 8);
  const names = categories.map((c, i) =>
    i % every ? '' : label(PLOT.left + (i + 0.5) * step, PLOT.bottom + 18, c.slice(0, 14), 'text-anchor="middle"'),
  );
  const marks = series.map((s, i) =>
    data.kind === 'bar'
      ? bars(s.values, i, series.length, step, y)
      : points(s.values, i, step, y, data.kind === 'line'),
  );
  return frame(data.title, [axis, ...names, ...marks, ...legend]);
}

function bars(values: (number | null)[], i: number, of: number, step: number, y: (v: number) => number): string {
  const width = (step * 0.8) / of;
  return values
    .map((v, k) => {
      if (v === null) return '';
      const x = PLOT.left + k * step + step * 0.1 + i * width;
      return `<rect x="${n(x)}" y="${n(Math.min(y(v), y(0)))}" width="${n(width)}" height="${n(Math.abs(y(v) - y(0)))}" fill="${tone(i)}"/>`;
    })
    .join('');
}

function points(values: (number | null)[], i: number, step: number, y: (v: number) => number, joined: boolean): string {
  const at = values.flatMap((v, k) => (v === null ? [] : [[PLOT.left + (k + 0.5) * step, y(v)] as const]));
  const line = joined
    ? `<polyline points="${at.map(([x, v]) => `${n(x)},${n(v)}`).join(' ')}" fill="none" stroke="${tone(i)}" stroke-width="2"/>`
    : '';
  return line + at.map(([x, v]) => `<circle cx="${n(x)}" cy="${n(v)}" r="3" fill="${tone(i)}"/>`).join('');
}

function pie(values: (number | null)[], categories: string[]): string[] {
  const parts = values.map((v) => Math.max(0, v ?? 0));
  const sum = parts.reduce((a, b) => a + b, 0) || 1;
  const [cx, cy, r] = [200, 210, 140];
  let turn = -Math.PI / 2;
  return parts.flatMap((part, i) => {
    const from = turn;
    turn += Math.min(part / sum, 0.9999) * 2 * Math.PI;
    const at = (angle: number) => `${n(cx + r * Math.cos(angle))} ${n(cy + r * Math.sin(angle))}`;
    const large = turn - from > Math.PI ? 1 : 0;
    const slice = `<path d="M${cx} ${cy}L${at(from)}A${r} ${r} 0 ${large} 1 ${at(turn)}Z" fill="${tone(i)}" stroke="#fff"/>`;
    const key = i < 12 ? `<rect x="400" y="${90 + i * 22}" width="10" height="10" fill="${tone(i)}"/>` : '';
    return [slice, key, key && label(416, 99 + i * 22, `${categories[i] ?? ''} ${values[i] ?? ''}`)];
  });
}

/** A plain drawing of a diagram's texts, one box below another. */
export function drawDiagram(texts: readonly string[]): string {
  const shown = texts.slice(0, 8);
  const height = Math.min(60, 360 / Math.max(1, shown.length));
  return frame(
    '',
    shown.map((text, i) => {
      const y = 20 + i * height;
      return (
        `<rect x="80" y="${n(y)}" width="480" height="${n(height - 12)}" fill="none" stroke="#3f2e56"/>` +
        label(WIDTH / 2, y + height / 2 - 2, text, 'text-anchor="middle" font-size="15"')
      );
    }),
  );
}
