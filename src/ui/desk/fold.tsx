import type { ReactNode, Ref } from 'react';

interface Props {
  title: string;
  /** The state of it, in one line. */
  summary: ReactNode;
  open?: boolean;
  onToggle?(isOpen: boolean): void;
  ref?: Ref<HTMLDetailsElement>;
  children: ReactNode;
}

/** A part of the Desk that is folded to one line until it is wanted. */
export function Fold({ title, summary, open = false, onToggle, ref, children }: Props) {
  return (
    <details ref={ref} open={open} onToggle={(e) => onToggle?.(e.currentTarget.open)} className="fold">
      <summary>
        <b>{title}</b>
        <span className="min-w-0 text-ink-2">{summary}</span>
      </summary>
      <div className="px-4 pt-1 pb-4 sm:px-7">{children}</div>
    </details>
  );
}
