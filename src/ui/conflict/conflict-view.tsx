'use client';

import { useState } from 'react';
import type { Conflict } from '@/contract/conflict';
import { bothTexts } from '@/core/words/both-texts';
import type { Choice } from '../frame/keep';
import { Heard } from '../primitives/heard';
import { whileBusy } from '../primitives/while-busy';
import { strings } from '../strings';

interface Props {
  conflict: Conflict;
  /** Level of its heading. */
  level: 2 | 3;
  /** The later text was written in this window, just now. */
  isMine?: boolean;
  /** @param text the words that were chosen */
  choose(choice: Choice, text: string | null): Promise<void>;
}

/** Two texts for one place: each can be chosen, or both be edited into one; and what was found there first. */
export function ConflictView({ conflict: c, level, isMine = false, choose }: Props) {
  const s = strings.conflict;
  const [busy, setBusy] = useState(false);
  const [both, setBoth] = useState<string | null>(null);
  const Heading = `h${level}` as const;
  const name = strings.pictureName(c.picture);
  const who = c.kind === 'page' ? 'page' : isMine ? 'mine' : 'edit';
  const rows = [
    ...(c.kind === 'page' ? [{ name: s.first, text: c.first, choice: null }] : []),
    { name: s.theirs[who], text: c.theirs, choice: 'theirs' as const },
    { name: s.ours[who], text: c.ours, choice: 'ours' as const },
  ];
  const take = (choice: Choice, text: string | null) => {
    setBusy(true);
    void choose(choice, text).finally(() => setBusy(false));
  };
  return (
    <section
      aria-labelledby={`conflict-${c.id}`}
      className={`border-b border-hair py-3.5 ${level === 2 ? 'px-4 sm:px-7' : ''}`}
    >
      <Heading id={`conflict-${c.id}`} className="text-[15px] font-bold">
        {s.title}: {name}
        <span className="font-normal text-ink-2">
          , {c.page}
          {c.places > 1 && ` ${s.andMore(c.places - 1)}`}
        </span>
      </Heading>
      <p className="mt-0.5 text-[14px] text-ink-2">{s.about[c.kind]}</p>
      <dl className="mt-2 grid gap-y-1.5">
        {rows.map(({ name: label, text, choice }) => (
          <div key={label} className="grid items-baseline gap-x-4 sm:grid-cols-[minmax(96px,140px)_minmax(0,1fr)_auto]">
            <dt className="text-[13.5px] text-ink-2">{label}</dt>
            <dd className="min-w-0 text-[17px]">
              {text === null ? s.none : text === '' ? s.decorative : <Heard text={text} lang={c.lang} />}
            </dd>
            {choice && both === null && (
              <dd>
                <button type="button" className="button quiet" {...whileBusy(busy)} onClick={() => take(choice, text)}>
                  {s.use}
                  <span className="sr-only">{`: ${label}, ${name}`}</span>
                </button>
              </dd>
            )}
          </div>
        ))}
      </dl>
      {both === null ? (
        <button
          type="button"
          className="link mt-2"
          {...whileBusy(busy)}
          onClick={() => setBoth(bothTexts(c.theirs ?? '', c.ours ?? ''))}
        >
          {s.editBoth}
          <span className="sr-only">, {name}</span>
        </button>
      ) : (
        <form
          className="mt-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (both.trim() !== '') take({ text: both.trim() }, both.trim());
          }}
        >
          <textarea
            autoFocus
            rows={3}
            value={both}
            onChange={(e) => setBoth(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Escape') setBoth(null);
              if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) e.currentTarget.form?.requestSubmit();
            }}
            aria-label={s.bothOf(name)}
            lang={c.lang ?? undefined}
            dir="auto"
            className="block w-full resize-y border border-hair-2 bg-sheet p-2 font-heard text-[18px]"
          />
          <p className="fixes mt-1.5">
            <button type="submit" className="button" disabled={both.trim() === ''} {...whileBusy(busy)}>
              {strings.galley.keep}
            </button>
            <button type="button" className="button quiet" onClick={() => setBoth(null)}>
              {strings.galley.cancel}
            </button>
          </p>
        </form>
      )}
    </section>
  );
}
