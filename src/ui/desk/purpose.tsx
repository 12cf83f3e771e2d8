'use client';

import { ToggleGroup } from 'radix-ui';
import type { Message } from '@/core/model/message';
import { PURPOSES, type Purpose } from '@/core/model/appearance';
import type { Answers } from '@/core/purpose/decision-tree';
import { Questions } from './questions';
import { strings } from '../strings';

interface Props {
  purpose: Purpose;
  settled: boolean;
  evidence: readonly Message[];
  /** From 0 to 1. */
  sure: number;
  /** What the evidence answers to the questions of the decision tree. */
  known: Answers;
  settle(purpose: Purpose): Promise<void>;
}

/** What the picture does here: proposed with its evidence, settled by a person. */
export function PurposeChoice({ purpose, settled, evidence, sure, known, settle }: Props) {
  const s = strings.desk;
  return (
    <section className="border-b border-hair px-4 py-2.5 text-[14.5px] sm:px-7">
      <ToggleGroup.Root
        type="single"
        value={purpose}
        onValueChange={(value) => void settle((value || purpose) as Purpose)}
        aria-label={s.purpose}
        className="flex flex-wrap gap-x-5"
      >
        {PURPOSES.map((p) => (
          <ToggleGroup.Item key={p} value={p} className="purpose-choice">
            {s.purposes[p]}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      <p className="mt-1 text-[13px] text-ink-2">
        {settled ? s.settled : s.proposed(evidence.map(strings.message).join(', '), sure)}
      </p>
      <Questions known={known} settle={settle} />
    </section>
  );
}
