'use client';

import type { Scope } from '@/contract/scope';
import { useActs } from '../frame/acts';
import { useSentForm, type FormAction } from '../primitives/use-sent-form';
import { whileBusy } from '../primitives/while-busy';
import { strings } from '../strings';
import { Limits, HowFar } from './limits';

interface Props {
  collection: string;
  maxPages: number;
  maxDepth: number;
  scope: Scope;
  hasAccess: boolean;
  change: FormAction;
}

/** What the next survey goes by; the words that are there already stay whatever is chosen. */
export function LimitsForm({ collection, maxPages, maxDepth, scope, hasAccess, change }: Props) {
  const s = strings.survey;
  const { did } = useActs();
  const { answer, send, isPending } = useSentForm(async (before, form) => {
    const after = await change(before, form);
    if (after.error === null) did(s.limitsSaved, null);
    return after;
  });
  return (
    <details className="mt-4 text-[14px] text-ink-2">
      <summary className="min-h-6 cursor-pointer">{s.bounds}</summary>
      <form onSubmit={send}>
        <input type="hidden" name="collection" value={collection} />
        {scope.follow && <HowFar maxPages={maxPages} maxDepth={maxDepth} />}
        <Limits follows={scope.follow} scope={scope} hasAccess={hasAccess} />
        <button type="submit" className="button quiet mt-3" {...whileBusy(isPending)}>
          {s.saveLimits}
        </button>
        {answer.error && (
          <p role="alert" className="mt-2 text-fails">
            {answer.error}
          </p>
        )}
      </form>
    </details>
  );
}
