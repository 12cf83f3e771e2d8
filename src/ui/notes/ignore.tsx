'use client';

import { useState } from 'react';
import { strings } from '../strings';

interface Props {
  /** Of the rule, for those who hear it. */
  title: string;
  ignoreFinding(reason: string, by: string): Promise<void>;
}

const NAME = 'detto:name';

/** Opens in the note itself: why the finding does not count here, and who says so. */
export function IgnoreFinding({ title, ignoreFinding }: Props) {
  const s = strings.notes;
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <button type="button" className="link" onClick={() => setOpen(true)}>
        {s.ignoreFinding}
        <span className="sr-only"> {title}</span>
      </button>
    );
  return (
    <form
      className="mt-1 grid basis-full gap-1.5 text-[13.5px] text-ink"
      onKeyDown={(e) => {
        if (e.key === 'Escape') setOpen(false);
      }}
      onSubmit={(e) => {
        e.preventDefault();
        const form = new FormData(e.currentTarget);
        const by = String(form.get('by')).trim();
        localStorage.setItem(NAME, by);
        setOpen(false);
        void ignoreFinding(String(form.get('reason')).trim(), by);
      }}
    >
      <label className="grid gap-0.5">
        {s.reason}
        <input name="reason" required maxLength={400} autoFocus className="field" />
      </label>
      <label className="grid gap-0.5">
        {s.who}
        <input
          name="by"
          required
          maxLength={80}
          defaultValue={localStorage.getItem(NAME) ?? ''}
          autoComplete="name"
          className="field"
        />
      </label>
      <span className="fixes">
        <button type="submit" className="link">
          {s.ignoreIt}
        </button>
        <button type="button" className="link" onClick={() => setOpen(false)}>
          {s.cancel}
        </button>
      </span>
    </form>
  );
}
