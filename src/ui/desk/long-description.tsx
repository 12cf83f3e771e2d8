'use client';

import { useState, type Ref } from 'react';
import type { LongText } from '@/contract/desk';
import { longDescriptionHtml } from '@/core/words/long-description';
import { lengthOf } from '@/core/words/graphemes';
import { Copy } from '../primitives/copy';
import { Fold } from './fold';
import { strings } from '../strings';

interface Props {
  ref: Ref<HTMLTextAreaElement>;
  text: string;
  history: readonly LongText[];
  lang: string | null;
  /** The picture holds more than a short text can say. */
  wanted: boolean;
  now: string;
  change(text: string): void;
  /** What somebody else has saved while this one was written; null when nobody has. */
  other: string | null;
  choose(choice: 'ours' | 'theirs'): void;
  /** Puts an earlier text into the field again. */
  use(text: string): void;
}

/** What a short text cannot say: written with headings and lists, kept like words, and taken as HTML. */
export function LongDescription({ ref, text, history, lang, wanted, now, change, other, choose, use }: Props) {
  const s = strings.desk.long;
  const [open] = useState(text !== '');
  const html = longDescriptionHtml(text);
  const latest = history.find((h) => h.state === 'accepted')?.id;
  return (
    <Fold
      title={s.title}
      open={open}
      summary={text.trim() !== '' ? strings.desk.length(lengthOf(text)) : wanted ? s.wanted : s.none}
    >
      <div className="grid gap-x-7 gap-y-3 pb-1.5 text-[14px] lg:grid-cols-2">
        <div>
          <textarea
            ref={ref}
            value={text}
            onChange={(e) => change(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Escape') e.currentTarget.closest('details')?.querySelector('summary')?.focus();
            }}
            aria-label={s.field}
            aria-describedby="long-how"
            lang={lang ?? undefined}
            dir="auto"
            rows={Math.min(16, Math.max(4, text.split('\n').length + 1))}
            className="field w-full font-code text-[13.5px] leading-[1.5]"
          />
          {other !== null && (
            <section data-conflicts aria-label={strings.conflict.long} className="mt-2 border-l-2 border-fails pl-3">
              <p>
                <b>{strings.conflict.long}.</b> {strings.conflict.longAbout}
              </p>
              <p className="my-1.5 max-h-40 overflow-auto font-code text-[13px] whitespace-pre-wrap">
                {other === '' ? s.none : other}
              </p>
              <p className="fixes">
                <button type="button" className="link" onClick={() => choose('theirs')}>
                  {strings.conflict.useSaved}
                </button>
                <button type="button" className="link" onClick={() => choose('ours')}>
                  {strings.conflict.keepField}
                </button>
              </p>
            </section>
          )}
          <p id="long-how" className="mt-1 text-[13px] text-ink-2">
            {s.how}
          </p>
        </div>
        {text.trim() !== '' && (
          <section aria-label={s.reads} className="min-w-0">
            <div
              lang={lang ?? undefined}
              dir="auto"
              className="long-text"
              // Safe: HTML in the text was made text, and links that would run something lead nowhere.
              dangerouslySetInnerHTML={{ __html: html }}
            />
            <p className="fixes mt-2">
              <Copy text={html} label={s.copy} done={s.copied} />
            </p>
          </section>
        )}
      </div>
      {history.length > 0 && (
        <ul className="grid gap-1 pb-1 text-[13px] text-ink-2">
          {history.slice(0, 5).map((h) => (
            <li key={h.id}>
              {strings.when(h.at, new Date(now))}, {h.text === '' ? s.emptied : s.was[h.state]}
              {h.text !== '' && `: ${strings.desk.length(lengthOf(h.text))}`}
              {h.id !== latest && h.text !== '' && (
                <>
                  {' '}
                  <button type="button" className="link" onClick={() => use(h.text)}>
                    {strings.desk.useAgain}
                    <span className="sr-only">: {s.title}</span>
                  </button>
                </>
              )}
            </li>
          ))}
        </ul>
      )}
    </Fold>
  );
}
