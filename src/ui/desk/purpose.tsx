'use client';

import { ToggleGroup } from 'radix-ui';
import type { DeskPlace } from '@/contract/desk';
import { PURPOSES, type Purpose } from '@/core/model/appearance';
import { Fold } from './fold';
import { Questions } from './questions';
import { strings } from '../strings';

interface Props {
  place: DeskPlace;
  settle(purpose: Purpose): Promise<void>;
}

/** What the picture does here, in one line: proposed with its evidence, or set by an editor, who can change it. */
export function PurposeChoice({ place, settle }: Props) {
  const { purpose, evidence, purposeSure, answers } = place;
  // Whoever marked it decorative has said what it does.
  const isSet = place.purposeSettled || (place.worded && place.state === 'decorative');
  const s = strings.desk;
  const reasons = evidence.map(strings.message).join(', ');
  return (
    <Fold
      title={s.purpose}
      summary={
        <>
          <b className="text-ink">{s.purposes[purpose]}</b>
          {isSet ? `, ${s.settled}` : `, ${s.proposed(reasons, purposeSure)}`}
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
      <Questions known={answers} settle={settle} />
    </Fold>
  );
}
