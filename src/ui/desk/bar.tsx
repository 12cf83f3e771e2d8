import { useEffect, useState, type Ref } from 'react';
import type { GalleyView, Queue } from '@/contract/galley';
import { whatIsWrong } from '../frame/what-is-wrong';
import { strings } from '../strings';
import type { SaveStatus } from './autosaver';

interface Props {
  queue: Queue;
  hasPrevious: boolean;
  view: GalleyView;
  /** Title of the rule that the queue is filtered by; null for none. */
  rule: string | null;
  name: string;
  status: SaveStatus;
  decorative: { is: boolean; refused: boolean };
  previous(): void;
  next(): void;
  markDecorative(): void;
  keepAndGoOn(): void;
  /** Takes the focus where nothing is written, so that single keys act. */
  heading: Ref<HTMLHeadingElement>;
}

/** Where the picture stands in the queue, whether its words are kept, and the two acts that end it. */
export function DeskBar({
  queue,
  hasPrevious,
  view,
  rule,
  name,
  status,
  decorative,
  previous,
  next,
  markDecorative,
  keepAndGoOn,
  heading,
}: Props) {
  const s = strings.desk;
  const [wrong, setWrong] = useState<string | null>(null);
  useEffect(() => {
    if (status === 'problem') void whatIsWrong().then(setWrong);
  }, [status]);
  const state = {
    untouched: '',
    unkept: s.unkept,
    keeping: s.keeping,
    kept: s.kept,
    conflict: s.conflict,
    problem: s.problem(wrong),
  }[status];
  return (
    <header className="bar">
      <h1 ref={heading} tabIndex={-1} className="text-[14px] font-normal">
        <span className="sr-only">{`${name}, `}</span>
        <b className="text-ink">{s.position(queue.position, queue.total)}</b>{' '}
        {s.queue(strings.galley.states[view.state], rule, view.q, strings.galley.sorts[view.sort])}
      </h1>
      <button type="button" onClick={next} className="min-h-6 cursor-pointer" disabled={queue.next === null}>
        <kbd>J</kbd> {s.next}
      </button>
      <button type="button" onClick={previous} className="min-h-6 cursor-pointer" disabled={!hasPrevious}>
        <kbd>K</kbd> {s.previous}
      </button>
      <span role="status" className={`ml-auto ${status === 'problem' || status === 'conflict' ? 'text-fails' : ''}`}>
        {state}
      </span>
      <button
        type="button"
        className="button quiet"
        onClick={markDecorative}
        disabled={decorative.is || decorative.refused}
        title={decorative.refused ? s.allItSays : undefined}
      >
        {decorative.is && !decorative.refused ? s.isDecorative : s.markDecorative}
      </button>
      <button type="button" className="button" onClick={keepAndGoOn}>
        {s.keep}
      </button>
    </header>
  );
}
