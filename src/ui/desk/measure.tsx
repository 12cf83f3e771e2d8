import { strings } from '../strings';

const WIDTH = 400;
const TICKS = 30;

/** The measure under the writing place: the length in ink, the house limit as a tick. */
export function Measure({ length, limit }: { length: number; limit: number }) {
  const s = strings.desk;
  const full = Math.max(limit * 1.5, Math.ceil(length / 50) * 50);
  const x = (characters: number) => Math.min(WIDTH, (characters / full) * WIDTH);
  const over = length > limit;
  return (
    <div className="mt-2">
      <svg viewBox={`-1 -3 ${WIDTH + 4} 23`} className="block w-full max-w-[460px]" aria-hidden="true">
        <path d={`M0 4h${WIDTH}`} stroke="var(--hair-2)" />
        {Array.from({ length: TICKS + 1 }, (_, i) => (
          <path
            key={i}
            d={`M${(i * WIDTH) / TICKS} 4v${i % 10 === 0 ? 10 : i % 2 === 0 ? 7 : 4}`}
            stroke="var(--hair-2)"
          />
        ))}
        <path d={`M0 4h${x(length)}`} stroke={over ? 'var(--polish)' : 'var(--said)'} strokeWidth="4" />
        <path d={`M${x(limit)} -3v22`} stroke="var(--ink)" strokeWidth="2" />
      </svg>
      <p id="length" className="flex max-w-[460px] justify-between text-[13px] text-ink-2">
        <b className="text-ink">{s.length(length)}</b>
        <span>{s.limit(limit)}</span>
      </p>
    </div>
  );
}
