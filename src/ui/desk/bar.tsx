import { useEffect, useState, type Ref } from 'react';
import type { GalleyView } from '@/contract/galley';
import { whatIsWrong } from '../frame/what-is-wrong';
import { KeyButton } from '../keys/key-cap';
import { strings } from '../strings';
import type { SaveStatus } from './autosaver';
import type { QueueStep } from './desk-queue';
import type { DeskQueue } from './use-desk-queue';

interface Props {
  step: QueueStep;
  more: DeskQueue['more'];
  view: GalleyView;
  /** Title of the rule that the queue is filtered by; null for none. */
  rule: string | null;
  name: string;
  status: SaveStatus;
  decorative: { is: boolean; refused: boolean };
  previous(): void;
  next(): void;
  markDecorative(): void;
  saveAndNext(): void;
  /** Takes the focus where nothing is written. */
  heading: Ref<HTMLHeadingElement>;
}

/** Where the picture stands in the queue, whether its words are saved, and the two acts that end it. */
export function DeskBar({
  step,
  more,
  view,
  rule,
  name,
  status,
  decorative,
  previous,
  next,
  markDecorative,
  saveAndNext,
  heading,
}: Props) {
  const s = strings.desk;
  const [wrong, setWrong] = useState<string | null>(null);
  useEffect(() => {
    if (status === 'problem') void whatIsWrong().then(setWrong);
  }, [status]);
  const state = {
    untouched: '',
    unsaved: s.unsaved,
    saving: s.saving,
    saved: s.saved,
    conflict: s.conflict,
    problem: s.problem(wrong),
  }[status];
  return (
    <header className="bar desk-bar">
      <div className="min-w-[240px] grow basis-0">
        <h1 ref={heading} tabIndex={-1} className="text-[14px] font-normal">
          <span className="sr-only">{`${name}, `}</span>
          {step.position !== null && <b className="text-ink">{s.position(step.position, step.total)}</b>}
          {`, ${s.queue(strings.galley.states[view.state], rule, view.q, strings.galley.sorts[view.sort])}`}
        </h1>
        {more && (
          <p>
            {more.count === null ? s.moreInView : s.cameSince(more.count)}{' '}
            <button type="button" className="link" onClick={more.add}>
              {s.addThem}
            </button>
          </p>
        )}
      </div>
      <span className="flex items-center gap-x-2">
        <KeyButton
          command="desk.previous"
          isCapFirst
          onClick={previous}
          className="min-h-6 cursor-pointer"
          disabled={step.previous === null}
        >
          {s.previous}
        </KeyButton>
        <KeyButton
          command="desk.next"
          isCapFirst
          onClick={next}
          className="min-h-6 cursor-pointer"
          disabled={step.next === null}
        >
          {s.next}
        </KeyButton>
      </span>
      <span role="status" className={`ml-auto ${status === 'problem' || status === 'conflict' ? 'text-fails' : ''}`}>
        {state}
      </span>
      <KeyButton
        command="text.decorative"
        className="button quiet"
        onClick={markDecorative}
        disabled={decorative.is || decorative.refused}
        title={decorative.refused ? s.allItSays : undefined}
      >
        {decorative.is && !decorative.refused ? s.isDecorative : s.markDecorative}
      </KeyButton>
      <KeyButton command="desk.save-and-next" className="button" onClick={saveAndNext}>
        {s.keep}
      </KeyButton>
    </header>
  );
}
