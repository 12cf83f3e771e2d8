'use client';

import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  LinearScale,
  Tooltip,
  type ChartData,
  type ChartOptions,
  type Plugin,
} from 'chart.js';
import { useMemo, useSyncExternalStore } from 'react';
import { Bar } from 'react-chartjs-2';
import { strings } from '../strings';

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

/** How a bar is filled: distinguished by its drawing first, by tone second. */
export type Filling = 'ink' | 'dots' | 'hatching' | 'uprights';

interface Series {
  name: string;
  values: readonly number[];
  filling: Filling;
  /** Name of a tone of the style sheet. */
  tone: string;
}

interface Props {
  /** The chart in one sentence, for those who do not see it. */
  says: string;
  /** What the bars stand for, as the table's first column says it. */
  heading: string;
  labels: readonly string[];
  series: readonly Series[];
  /** Shorter labels for the axis, where there is less room. */
  short?: readonly string[];
  sideways?: boolean;
  height: number;
  /** A line between two bars, before the bar of that number, with its words. */
  tick?: { at: number; words: string };
}

/** A bar chart with the same figures as a table. */
export function BarChart({ says, heading, labels, series, short = labels, sideways = false, height, tick }: Props) {
  const tones = useTones();
  const ink = tones?.('--ink-2') ?? '#000';
  const data: ChartData<'bar', number[], string> = {
    labels: [...short],
    datasets: series.map((s) => ({
      label: s.name,
      data: [...s.values],
      backgroundColor: tones ? filled(s.filling, tones(s.tone), tones('--sheet')) : 'transparent',
      borderColor: tones?.(s.tone) ?? 'transparent',
      borderWidth: 1,
      barPercentage: 0.92,
      categoryPercentage: sideways ? 0.7 : 0.96,
    })),
  };
  const font = { size: 13, family: tones?.('--font-ui') ?? 'sans-serif' };
  const axis = { grid: { display: false }, border: { color: ink }, ticks: { color: ink, font, maxRotation: 0 } };
  const figures = { ...axis, ticks: { ...axis.ticks, precision: 0, maxTicksLimit: 5 } };
  const options: ChartOptions<'bar'> = {
    indexAxis: sideways ? 'y' : 'x',
    animation: false,
    responsive: true,
    maintainAspectRatio: false,
    plugins: { legend: { display: false }, tooltip: { enabled: true } },
    scales: {
      x: { ...(sideways ? figures : axis), stacked: true },
      y: { ...(sideways ? axis : figures), stacked: true },
    },
  };
  return (
    <div>
      <div style={{ height }} className="chart mt-3">
        {tones && (
          <Bar data={data} options={options} plugins={tick ? [tickLine(tick, ink)] : []} role="img" aria-label={says} />
        )}
      </div>
      {series.length > 1 && (
        <p className="mt-1 flex flex-wrap gap-x-5 text-[13.5px]" aria-hidden="true">
          {series.map((s) => (
            <span key={s.name} className="inline-flex items-center gap-1.5">
              <span
                className={`inline-block h-3 w-5 border border-ink filling-${s.filling}`}
                style={{ color: `var(${s.tone})` }}
              />
              {s.name}
            </span>
          ))}
        </p>
      )}
      <p className="mt-2 text-[14px]">{says}</p>
      <details className="mt-1 text-[13.5px]">
        <summary className="cursor-pointer text-ink-2">{strings.brief.asTable}</summary>
        <table className="mt-1 w-full max-w-[520px] text-left tabular-nums">
          <thead>
            <tr>
              <th scope="col">{heading}</th>
              {series.map((s) => (
                <th key={s.name} scope="col" className="text-right">
                  {s.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {labels.map((label, i) => (
              <tr key={label} className="border-t border-hair">
                <th scope="row" className="font-normal">
                  {label}
                </th>
                {series.map((s) => (
                  <td key={s.name} className="text-right">
                    {strings.n(s.values[i] ?? 0)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </div>
  );
}

const dark = () => window.matchMedia('(prefers-color-scheme: dark)');

/** The tones of the style sheet as they are now; null while the page is only drawn by the server. */
function useTones(): ((name: string) => string) | null {
  const scheme = useSyncExternalStore(
    (changed) => {
      const query = dark();
      query.addEventListener('change', changed);
      return () => query.removeEventListener('change', changed);
    },
    () => (dark().matches ? 'dark' : 'light'),
    () => 'none',
  );
  return useMemo(() => {
    if (scheme === 'none') return null;
    const style = getComputedStyle(document.documentElement);
    return (name: string) => style.getPropertyValue(name).trim();
  }, [scheme]);
}

/** A small tile of the filling, in the tone on the sheet's ground. */
function filled(filling: Filling, tone: string, ground: string): CanvasPattern | string {
  if (filling === 'ink') return tone;
  const tile = document.createElement('canvas');
  tile.width = tile.height = 8;
  const pen = tile.getContext('2d')!;
  pen.fillStyle = ground;
  pen.fillRect(0, 0, 8, 8);
  pen.fillStyle = pen.strokeStyle = tone;
  pen.lineWidth = 2;
  pen.beginPath();
  if (filling === 'dots') pen.arc(4, 4, 1.3, 0, 7);
  else if (filling === 'uprights') pen.rect(1, 0, 2, 8);
  else {
    pen.moveTo(-2, 10);
    pen.lineTo(10, -2);
    pen.moveTo(-2, 2);
    pen.lineTo(2, -2);
    pen.moveTo(6, 10);
    pen.lineTo(10, 6);
    pen.stroke();
    return pen.createPattern(tile, 'repeat') ?? tone;
  }
  pen.fill();
  return pen.createPattern(tile, 'repeat') ?? tone;
}

function tickLine({ at, words }: { at: number; words: string }, ink: string): Plugin<'bar'> {
  return {
    id: 'tick',
    afterDraw({ ctx, chartArea, scales }) {
      const scale = scales['x']!;
      const step = scale.getPixelForValue(1) - scale.getPixelForValue(0);
      const x = scale.getPixelForValue(0) + (at - 0.5) * step;
      if (x > chartArea.right) return;
      ctx.save();
      ctx.strokeStyle = ctx.fillStyle = ink;
      ctx.lineWidth = 2;
      ctx.beginPath();
      ctx.moveTo(x, chartArea.top);
      ctx.lineTo(x, chartArea.bottom);
      ctx.stroke();
      ctx.font = `13px ${getComputedStyle(document.body).fontFamily}`;
      ctx.fillText(words, x + 5, chartArea.top + 12);
      ctx.restore();
    },
  };
}
