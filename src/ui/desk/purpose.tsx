'use client';

import { ToggleGroup } from 'radix-ui';
import { PURPOSES, type Purpose } from '@/core/appearance';
import { strings } from '../strings/en';

interface Props {
  purpose: Purpose;
  settled: boolean;
  evidence: readonly string[];
  settle(purpose: Purpose): Promise<void>;
}

/** What the picture does here: proposed with its evidence, settled by a person. */
export function PurposeChoice({ purpose, settled, evidence, settle }: Props) {
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
      <p className="mt-1 text-[13px] text-ink-2">{settled ? s.settled : s.proposed(evidence.join(', '))}</p>
    </section>
  );
}
