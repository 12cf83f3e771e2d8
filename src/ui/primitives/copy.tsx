'use client';

import { useState } from 'react';
import { strings } from '../strings';

interface Props {
  text: string;
  label: string;
  /** What is reported once it was copied. */
  done?: string;
}

/** Puts a text on the clipboard, and says so. */
export function Copy({ text, label, done = strings.desk.details.copied }: Props) {
  const [copied, setCopied] = useState<string | null>(null);
  return (
    <>
      <button
        type="button"
        className="link"
        onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(text))}
      >
        {label}
      </button>
      <span role="status" className="text-[13px] text-ink-2">
        {copied === text ? done : ''}
      </span>
    </>
  );
}
