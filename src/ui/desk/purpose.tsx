'use client';

import { ToggleGroup } from 'radix-ui';
import type { Message } from '@/core/model/message';
import { PURPOSES, type Purpose } from '@/core/model/appearance';
import type { Answers } from '@/core/purpose/decision-tree';
import { Fold } from './fold';
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

/** What the picture does here, in one line: proposed with its evidence, or set by a person, who can change it. */
export function PurposeChoice({ purpose, settled, evidence, sure, known, settle }: Props) {
  const s = strings.desk;
  const reasons = evidence.map(strings.message).join(', ');
  return (
    <Fold
      title={s.purpose}
      summary={
        <>
          <b className="text-ink">{s.purposes[purpose]}</b>
          {settled ? `, ${s.settled}` : `, ${s.proposed(reasons, sure)}`}
        </>
      }
    >
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
      <Questions known={known} settle={settle} />
    </Fold>
  );
}
