import { strings } from '../strings';

export type MarkState = 'described' | 'decorative' | 'missing' | 'draft';

const PAIR = 'M2.7 4.7h3.8v4.4L4.3 13.3M10.7 4.7h3.8v4.4l-2.2 4.2';

/** The drawn mark of a state: a closed quotation pair, a rest, an empty pair, a dotted pair. */
export function Mark({ state }: { state: MarkState }) {
  return (
    <svg width="18" height="18" viewBox="0 0 18 18" aria-hidden="true" className="shrink-0">
      {state === 'described' && (
        <path d="M2 4h5v5.2L4.6 14H2.4L4 9H2zM10 4h5v5.2L12.6 14h-2.2L12 9h-2z" fill="var(--ink)" />
      )}
      {state === 'decorative' && (
        <>
          <path d="M1.5 11.5h15" stroke="var(--ink-2)" strokeWidth="1.6" />
          <path d="M5 7h8v4.5H5z" fill="var(--ink-2)" />
        </>
      )}
      {state === 'missing' && <path d={PAIR} fill="none" stroke="var(--fails)" strokeWidth="1.5" />}
      {state === 'draft' && (
        <path d={PAIR} fill="none" stroke="var(--key)" strokeWidth="1.6" strokeDasharray="1.6 1.6" />
      )}
    </svg>
  );
}

export function StateWord({ state }: { state: MarkState }) {
  return (
    <span className="inline-flex items-center gap-1.5 font-semibold text-ink">
      <Mark state={state} />
      {strings.states[state]}
    </span>
  );
}
