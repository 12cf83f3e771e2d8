import { startTransition, useActionState, type FormEvent } from 'react';

/** What the server says about a form: what is wrong with it, in words; null where nothing is. */
export interface FormAnswer {
  error: string | null;
}
export type FormAction = (before: FormAnswer, form: FormData) => Promise<FormAnswer>;

/**
 * Sends a form to a server action and keeps what is written in it. Given to the form as its action, React would empty the
 * fields whenever Detto has something to say about them.
 */
export function useSentForm(action: FormAction) {
  const [answer, submit, isPending] = useActionState(action, { error: null });
  const send = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    startTransition(() => submit(form));
  };
  return { answer, send, isPending };
}
