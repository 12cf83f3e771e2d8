'use client';

import { useState } from 'react';
import { creditLine, type Credit } from '@/core/picture/credit';
import { Copy } from '../primitives/copy';
import { strings } from '../strings';
import { Fold } from './fold';

const s = strings.desk.details;

interface CreditProps {
  credit: Credit;
  record(credit: Credit): Promise<void>;
}

/** Credit, licence and source page, and the line that says them. */
export function CreditForm({ credit, record }: CreditProps) {
  const [fields, setFields] = useState(credit);
  const line = creditLine(fields);
  const changed = (['credit', 'licence', 'source'] as const).some((key) => fields[key] !== credit[key]);
  return (
    <Fold title={s.credit} summary={line === '' ? s.noCredit : line}>
      <form
        className="grid max-w-[560px] gap-1.5 text-[14px]"
        onSubmit={(e) => {
          e.preventDefault();
          void record(fields);
        }}
      >
        {(['credit', 'licence', 'source'] as const).map((key) => (
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
        <p className="fixes">
          <button type="submit" className="link" disabled={!changed}>
            {s.record}
          </button>
          {line !== '' && <Copy text={line} label={s.copyCredit} />}
        </p>
      </form>
    </Fold>
  );
}
