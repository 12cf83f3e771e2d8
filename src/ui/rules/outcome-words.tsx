import type { Outcome } from '@/core/model/finding';
import { strings } from '../strings';

const TONE = { failed: 'text-fails', cantTell: 'text-look', advice: 'text-polish' } as const;

/** What a rule can give, as the margin says it. */
export function OutcomeWords({ outcomes }: { outcomes: readonly Outcome[] }) {
  return (
    <span>
      {outcomes.map((o) => (
        <b key={o} className={`mr-2 ${TONE[o]}`}>
          {strings.outcomes[o]}
        </b>
      ))}
    </span>
  );
}
