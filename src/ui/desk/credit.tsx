'use client';

import { startTransition, useOptimistic, useState } from 'react';
import type { DeskPicture, DeskPlace } from '@/contract/desk';
import { creditLine, type Credit } from '@/core/model/credit';
import { Copy } from '../primitives/copy';
import { strings } from '../strings';
import { FieldHistory } from './field-parts';
import { Fold } from './fold';

const s = strings.desk.details;
const FIELDS = ['credit', 'licence', 'source'] as const;

interface CreditProps {
  credit: Credit;
  /** What was recorded before, the latest first. */
  history: DeskPicture['creditHistory'];
  now: string;
  record(credit: Credit): Promise<void>;
  /** The line below the picture at the shown place. */
  line: DeskPlace['creditLine'];
  /** Puts it there, or leaves it off; at how many places. */
  places: number;
  show(isShown: boolean): Promise<void>;
}

/** Credit, licence and source page, and the line that says them. */
export function CreditFold(props: CreditProps) {
  const { credit, history, now, record } = props;
  return (
    <Fold title={s.credit} summary={creditLine(credit) || s.noCredit}>
      <p className="mb-1.5 max-w-[72ch] text-[13.5px] text-ink-2">{s.creditAbout}</p>
      <CreditForm {...props} />
      <FieldHistory
        title={s.credit}
        history={history.map(({ id, credit: one, isUndone, at }) => ({
          ...{ id, at, act: '', by: 'person', text: creditLine(one) },
          state: isUndone ? 'undone' : 'accepted',
        }))}
        lang={null}
        now={now}
        show={(line) => line}
        use={(_, id) => void record(history.find((h) => h.id === id)!.credit)}
      />
    </Fold>
  );
}

function CreditForm({ credit, record, line: shown, places, show }: CreditProps) {
  const [fields, setFields] = useState(credit);
  const [known, setKnown] = useState(credit);
  // What was recorded elsewhere meanwhile shows; the fields themselves stay, with the focus in them.
  if (FIELDS.some((key) => known[key] !== credit[key])) {
    setKnown(credit);
    setFields(credit);
  }
  const line = creditLine(fields);
  const changed = FIELDS.some((key) => fields[key] !== credit[key]);
  return (
    <form
      className="grid max-w-[560px] gap-1.5 text-[14px]"
      onSubmit={(e) => {
        e.preventDefault();
        void record(fields);
      }}
    >
      {FIELDS.map((key) => (
        <label key={key} className="grid grid-cols-[70px_minmax(0,1fr)] items-baseline gap-2">
          <span className="text-ink-2">{s.creditFields[key]}</span>
          <input
            className="field"
            value={fields[key]}
            maxLength={key === 'source' ? 2000 : 300}
            onChange={(e) => setFields({ ...fields, [key]: e.target.value })}
          />
        </label>
      ))}
      <Line line={line} shown={shown} places={places} show={show} />
      <p className="fixes">
        <button type="submit" className="link" disabled={!changed}>
          {s.record}
        </button>
        {line !== '' && <Copy text={line} label={s.copyCredit} />}
      </p>
    </form>
  );
}

interface LineProps {
  line: string;
  shown: CreditProps['line'];
  places: number;
  show(isShown: boolean): Promise<void>;
}

/** Whether the line is to stand below the picture. */
function Line({ line, shown, places, show }: LineProps) {
  const [isShown, setShown] = useOptimistic(shown.isShown);
  if (shown.refused)
    return (
      <p className="text-ink-2">
        {s.noLine} {strings.message(shown.refused)}
      </p>
    );
  return (
    <label className="flex min-h-6 items-baseline gap-2">
      <input
        type="checkbox"
        checked={isShown}
        disabled={line === '' && !isShown}
        onChange={(e) => {
          const next = e.target.checked;
          startTransition(async () => {
            setShown(next);
            await show(next);
          });
        }}
      />
      <span>{s.showLine(strings.places(places))}</span>
    </label>
  );
}
