'use client';

import { useState } from 'react';
import type { Conflict } from '@/contract/conflict';
import { Heard } from '../primitives/heard';
import { strings } from '../strings';

interface Props {
  conflict: Conflict;
  /** Level of its heading. */
  level: 2 | 3;
  /** @param text the words that were chosen */
  choose(choice: 'ours' | 'theirs', text: string | null): Promise<void>;
}

/** Two texts for one place, each with the button that chooses it, and what was found there first. */
export function ConflictView({ conflict: c, level, choose }: Props) {
  const s = strings.conflict;
  const [busy, setBusy] = useState(false);
  const Heading = `h${level}` as const;
  const rows = [
    ...(c.kind === 'page' ? [{ name: s.first, text: c.first, choice: null }] : []),
    { name: s.theirs[c.kind], text: c.theirs, choice: 'theirs' as const },
    { name: s.ours[c.kind], text: c.ours, choice: 'ours' as const },
  ];
  return (
    <section
      aria-labelledby={`conflict-${c.id}`}
      className={`border-b border-hair py-3.5 ${level === 2 ? 'px-4 sm:px-7' : ''}`}
    >
      <Heading id={`conflict-${c.id}`} className="text-[15px] font-bold">
        {s.title}: {strings.pictureName(c.picture)}
        <span className="font-normal text-ink-2">
          , {c.page}
          {c.places > 1 && ` ${s.andMore(c.places - 1)}`}
        </span>
      </Heading>
      <p className="mt-0.5 text-[14px] text-ink-2">{s.about[c.kind]}</p>
      <dl className="mt-2 grid gap-y-1.5">
        {rows.map(({ name, text, choice }) => (
          <div key={name} className="grid items-baseline gap-x-4 sm:grid-cols-[minmax(120px,170px)_minmax(0,1fr)_auto]">
            <dt className="text-[13.5px] text-ink-2">{name}</dt>
            <dd className="min-w-0 text-[17px]">
              {text === null ? s.none : text === '' ? s.decorative : <Heard text={text} lang={c.lang} />}
            </dd>
            {choice && (
              <dd>
                <button
                  type="button"
                  className="button quiet"
                  disabled={busy}
                  onClick={() => {
                    setBusy(true);
                    void choose(choice, text).finally(() => setBusy(false));
                  }}
                >
                  {s.use}
                  <span className="sr-only">{`${name}, ${strings.pictureName(c.picture)}`}</span>
                </button>
              </dd>
            )}
          </div>
        ))}
      </dl>
    </section>
  );
}
