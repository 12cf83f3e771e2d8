'use client';

import Link from 'next/link';
import type { Ref } from 'react';
import type { DeskPlace } from '@/contract/desk';
import type { Appearance } from '@/core/appearance';
import type { Finding, Mend } from '@/core/rules/rule';
import { lengthOf } from '@/core/words/graphemes';
import { Heard } from '../primitives/heard';
import { Note } from '../primitives/note';
import { strings } from '../strings/en';
import { Measure } from './measure';

interface Props {
  ref: Ref<HTMLTextAreaElement>;
  text: string;
  lang: string | null;
  reading: Appearance;
  limit: number;
  /** What the rules find in the text as it stands. */
  findings: readonly Finding[];
  /** What they find in it beside other texts, as of the last time it was kept. */
  inSets: DeskPlace['findings'];
  collection: string;
  change(text: string): void;
  apply(mend: Mend): void;
  keepAndGoOn(): void;
}

/** The text as it is written, its findings beside it and under it, its length, and how it is heard. */
export function WritingPlace(props: Props) {
  const { ref, text, lang, reading, limit, findings, inSets, collection, change, apply, keepAndGoOn } = props;
  const s = strings.desk;
  const spans = findings.flatMap((f) => (f.span && text !== '' ? [{ ...f.span, outcome: f.outcome }] : []));
  return (
    <section className="grid lg:grid-cols-[minmax(0,1fr)_238px]">
      <div className="px-4 pt-4 pb-2.5 sm:pr-6 sm:pl-7">
        <div className="relative">
          <div aria-hidden="true" className="writing-mirror">
            <Heard text={`${text}\u200b`} lang={lang} spans={spans} />
          </div>
          <textarea
            ref={ref}
            value={text}
            onChange={(e) => change(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Escape') e.currentTarget.blur();
              if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
                e.preventDefault();
                keepAndGoOn();
              }
            }}
            aria-label={s.write}
            aria-describedby="notes length"
            lang={lang ?? undefined}
            dir="auto"
            spellCheck
            placeholder={strings.nothingSaid}
            className="writing"
          />
        </div>
        <Measure length={lengthOf(text)} limit={limit} />
      </div>
      <div
        id="notes"
        className="grid content-start gap-2.5 border-hair px-4 pt-4 pb-2 pl-[18px] sm:pl-7 lg:border-l lg:pr-5 lg:pl-[18px]"
      >
        {[...findings, ...inSets].map((f) => (
          <Note key={f.rule} outcome={f.outcome} message={f.message}>
            {(f.mends ?? []).map((mend) => (
              <button
                key={mend.kind === 'use words' ? mend.text : mend.kind}
                type="button"
                className="link text-left"
                onClick={() => apply(mend)}
              >
                {mend.kind === 'use words' ? strings.galley.mends.use(mend.text) : strings.galley.mends.silent}
              </button>
            ))}
            <Link href={`/c/${collection}/rules/${f.rule}`} prefetch={false}>
              {strings.galley.why}
              <span className="sr-only"> {f.rule}</span>
            </Link>
          </Note>
        ))}
        {findings.length + inSets.length === 0 && <p className="text-[13.5px] text-ink-2">{s.noNotes}</p>}
        {text.trim() !== '' && (
          <p className="text-[13.5px] text-ink-2">
            {s.heardAs} <Heard text={heardAs(reading, text.trim())} lang={lang} />
          </p>
        )}
        {reading.templated && <p className="text-[13.5px] text-look">{s.refusedPlace}</p>}
      </div>
    </section>
  );
}

function heardAs(reading: Appearance, words: string): string {
  return reading.control?.text === ''
    ? strings.desk.saidControl(reading.control.kind, words)
    : strings.desk.said(words);
}
