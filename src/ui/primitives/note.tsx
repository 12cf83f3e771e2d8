import type { ReactNode } from 'react';
import type { Outcome, SubsumedFinding } from '@/core/model/finding';
import type { Message } from '@/core/model/message';
import { strings } from '../strings';

const TONE = { failed: 'text-fails', cantTell: 'text-look', advice: 'text-polish' } as const;

interface NoteProps {
  outcome: Outcome;
  message: Message;
  /** In how many places it was found, in words, where it is more than one. */
  places?: string | undefined;
  /** What other rules found of the same cause. */
  also?: readonly SubsumedFinding[];
  children?: ReactNode;
}

/** A note in the margin: a hairline to its line, mark and word before tone, the plain words, the fixes. */
export function Note({ outcome, message, places, also = [], children }: NoteProps) {
  return (
    <div className={`note relative ${TONE[outcome]}`}>
      <OutcomeMark outcome={outcome} />
      <b>{strings.outcomes[outcome]}</b>
      <span className="sr-only">:</span>{' '}
      <span className="text-ink">
        {strings.message(message)}
        {places && ` ${places}`}
      </span>
      {also.length > 0 && (
        <span className="text-ink-2">
          {' '}
          {strings.also(also.map((other) => strings.message(other.message)).join(' '))}
        </span>
      )}
      {children && <span className="fixes"> {children}</span>}
    </div>
  );
}

/** Struck through, questioned, smoothed: the proofreader's three marks of this house. */
function OutcomeMark({ outcome }: { outcome: Outcome }) {
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true" className="mr-1 inline align-[-2px]">
      <g fill="none" stroke="currentColor" strokeWidth="1.7" strokeLinecap="round">
        {outcome === 'failed' && <path d="M2 7h10M4 11.5l6-9" />}
        {outcome === 'cantTell' && <path d="M1.5 7q5.5-6 11 0-5.5 6-11 0zM7 6.5v1" />}
        {outcome === 'advice' && <path d="M2 9q2.5-5 5-2t5-2" />}
      </g>
    </svg>
  );
}
