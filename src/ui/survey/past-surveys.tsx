import type { PastSurvey } from '@/contract/survey';
import { strings } from '../strings';

/** The surveys of a collection, the latest first, with what each found beside the one before. */
export function PastSurveys({ past }: { past: readonly PastSurvey[] }) {
  const s = strings.survey;
  if (past.length < 2) return null;
  return (
    <section className="mt-7" aria-labelledby="past">
      <h2 id="past" className="rule-below text-[16px] font-bold">
        {s.past}
      </h2>
      <ul>
        {past.map(({ id, state, startedAt, summary }) => (
          <li
            key={id}
            className="grid gap-x-6 border-b border-hair py-2 text-[14px] md:grid-cols-[180px_minmax(0,1fr)_minmax(0,1fr)]"
          >
            <span>{startedAt}</span>
            {summary ? (
              <>
                <span>
                  {strings.pictures(summary.pictures)}, {strings.pages(summary.pages)}
                </span>
                <span className="text-ink-2">
                  {s.beside(summary.newPages, summary.changedPages, summary.gonePages)}
                </span>
              </>
            ) : (
              <span className="text-ink-2">{s.states[state]}</span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
