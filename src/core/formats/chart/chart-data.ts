/** The numbers that a chart shows, as its document keeps them beside the drawing. */
export interface ChartData {
  kind: 'bar' | 'line' | 'pie' | 'points';
  title: string;
  categories: string[];
  series: { name: string; values: (number | null)[] }[];
}

/** Rows and columns of a chart that are read; a hostile one has more. */
export const MOST_CATEGORIES = 500;
export const MOST_SERIES = 50;

const cell = (text: string) =>
  text
    .replace(/\s+/g, ' ')
    .replace(/([\\|`*_<[\]])/g, '\\$1')
    .trim();

/** A chart's numbers as a table in CommonMark, its categories as rows; null where it has none. */
export function chartTable({ categories, series, title }: ChartData): string | null {
  const rows = Math.max(categories.length, ...series.map((s) => s.values.length));
  if (series.length === 0 || rows === 0 || !Number.isFinite(rows)) return null;
  const line = (cells: string[]) => `| ${cells.map((c) => cell(c) || ' ').join(' | ')} |`;
  const body = Array.from({ length: rows }, (_, i) =>
    line([
      categories[i] ?? String(i + 1),
      ...series.map((s) => ((s.values[i] ?? null) === null ? '' : String(s.values[i]))),
    ]),
  );
  // A column without a name leaves those who listen to guess; the chart's own title says what its rows are of.
  const head = line([title || '—', ...series.map((s, i) => s.name || String(i + 1))]);
  return [head, `| --- |${' --- |'.repeat(series.length)}`, ...body].join('\n');
}

/** The texts of a diagram as a list in CommonMark; null where it has none. */
export const diagramList = (texts: readonly string[]): string | null =>
  texts.length === 0 ? null : texts.map((t) => `- ${cell(t)}`).join('\n');
