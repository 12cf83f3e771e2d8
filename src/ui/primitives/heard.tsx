import type { ReactNode } from 'react';
import { quotesFor } from '@/core/words/quotes';
import type { Outcome } from '@/core/model/finding';

export interface HeardSpan {
  start: number;
  end: number;
  outcome: Outcome;
}

/** Words as a screen reader says them, with the spans that findings speak of underlined. */
export function Heard({ text, lang, spans = [] }: { text: string; lang: string | null; spans?: readonly HeardSpan[] }) {
  const [open, close] = quotesFor(lang);
  return (
    <span lang={lang ?? undefined} dir="auto" className="font-heard break-words whitespace-pre-wrap">
      <span aria-hidden="true" className="text-hair-2">
        {open}
      </span>
      {underlined(text, spans)}
      <span aria-hidden="true" className="text-hair-2">
        {close}
      </span>
    </span>
  );
}

/** Cuts a text at the ends of spans; where spans overlap, the gravest is drawn. */
function underlined(text: string, spans: readonly HeardSpan[]): ReactNode[] {
  const cuts = [...new Set([0, text.length, ...spans.flatMap((s) => [s.start, s.end])])]
    .filter((c) => c >= 0 && c <= text.length)
    .sort((a, b) => a - b);
  const gravity = ['failed', 'cantTell', 'advice'];
  return cuts.slice(0, -1).map((from, i) => {
    const to = cuts[i + 1]!;
    const over = spans
      .filter((s) => s.start <= from && s.end >= to)
      .sort((a, b) => gravity.indexOf(a.outcome) - gravity.indexOf(b.outcome))[0];
    const piece = text.slice(from, to);
    return over ? (
      <u key={from} className={`u-${over.outcome}`}>
        {piece}
      </u>
    ) : (
      piece
    );
  });
}
