'use client';

import { useEffect } from 'react';
import { strings } from '../strings';

interface Props {
  /** Path that the person wanted to see. */
  to: string;
  problem: 'wrong' | 'wait' | null;
}

/** Asks for the token that the person who runs Detto has set. */
export function SignIn({ to, problem }: Props) {
  const s = strings.signIn;
  useEffect(() => {
    // A link from another site brings no cookie along; asked from here, it shows whether there is one.
    void fetch('/api/session').then((answer) => {
      if (answer.ok) window.location.replace(to);
    });
  }, [to]);
  return (
    <main id="sheet" className="sheet max-w-[560px]">
      <p className="word">{strings.product}</p>
      <h1 className="mt-4 text-[25px] leading-[1.42]">{s.title}</h1>
      <p className="mt-2 text-ink-2">{s.about}</p>
      <form method="post" action="/api/session" className="mt-5 grid gap-4">
        <input type="hidden" name="to" value={to} />
        <label className="grid gap-1">
          {s.token}
          <input
            name="token"
            type="password"
            required
            autoFocus
            autoComplete="current-password"
            aria-describedby={problem ? 'problem' : undefined}
            aria-invalid={problem === 'wrong'}
            className="field"
          />
        </label>
        {problem && (
          <p id="problem" role="alert" className="text-fails">
            {s[problem]}
          </p>
        )}
        <p>
          <button type="submit" className="button">
            {s.submit}
          </button>
        </p>
      </form>
    </main>
  );
}
