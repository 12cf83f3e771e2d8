'use client';

import { useActionState, useId } from 'react';

interface Answer {
  error: string | null;
}

interface Props {
  label: string;
  placeholder: string;
  button: string;
  action: (before: Answer, form: FormData) => Promise<Answer>;
}

/** One way to put a collection on the shelf: a sentence with a field in it. */
export function AddForm({ label, placeholder, button, action }: Props) {
  const [answer, submit, pending] = useActionState(action, { error: null });
  const id = useId();
  return (
    <form action={submit} className="flex flex-wrap items-baseline gap-3 text-[19px]">
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        name="where"
        required
        placeholder={placeholder}
        aria-describedby={answer.error ? `${id}-error` : undefined}
        className="field min-w-0 flex-1 font-code text-[16px]"
      />
      <button type="submit" className="button" disabled={pending}>
        {button}
      </button>
      {answer.error && (
        <p id={`${id}-error`} role="alert" className="basis-full text-[15px] text-fails">
          {answer.error}
        </p>
      )}
    </form>
  );
}
