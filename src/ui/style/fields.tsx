'use client';

import { useId, useState } from 'react';

interface NumberProps {
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  change(value: number): void;
}

/** A figure inside a sentence; what is no figure in its bounds is not taken, and says so. */
export function NumberField({ label, value, min, max, step = 1, change }: NumberProps) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      type="number"
      aria-label={label}
      value={typed ?? String(value)}
      min={min}
      max={max}
      step={step}
      required
      className="field w-[4.4rem] leading-tight font-semibold"
      onChange={(e) => {
        setTyped(e.target.value);
        const next = e.target.valueAsNumber;
        if (e.target.validity.valid && Number.isFinite(next)) change(next);
      }}
      onBlur={() => setTyped(null)}
    />
  );
}

export function TextField({ label, value, change }: { label: string; value: string; change(value: string): void }) {
  return (
    <input
      type="text"
      aria-label={label}
      value={value}
      maxLength={200}
      className="field w-40 leading-tight font-semibold"
      onChange={(e) => change(e.target.value)}
    />
  );
}

interface ListProps {
  label: string;
  about: string;
  /** As the field shows it, one a line. */
  value: string;
  change(text: string): void;
}

/** One entry a line; what is typed stays as it is typed until the field is left. */
export function ListField({ label, about, value, change }: ListProps) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <div className="grid gap-1 leading-normal">
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      <textarea
        id={id}
        rows={Math.min(6, Math.max(2, (typed ?? value).split('\n').length))}
        value={typed ?? value}
        aria-describedby={`${id}-about`}
        className="block w-full max-w-[420px] resize-y border border-hair-2 bg-sheet p-2 leading-normal"
        onChange={(e) => {
          setTyped(e.target.value);
          change(e.target.value);
        }}
        onBlur={() => setTyped(null)}
      />
      <span id={`${id}-about`} className="text-[13.5px] text-ink-2">
        {about}
      </span>
    </div>
  );
}
