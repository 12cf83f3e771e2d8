'use client';

import Link from 'next/link';
import { useSyncExternalStore, type Ref } from 'react';
import type { DeskPlace } from '@/contract/desk';
import type { LiveAnswer } from '@/contract/live';
import type { Appearance } from '@/core/model/appearance';
import type { AppliedFix, Finding } from '@/core/model/finding';
import { lengthOf } from '@/core/words/graphemes';
import { Heard } from '../primitives/heard';
import { FixButtons } from '../notes/fix-buttons';
import { IgnoreFinding } from '../notes/ignore';
import { Note } from '../primitives/note';
import { strings } from '../strings';
import { KeyButton } from '../keys/key-cap';
import { typeAhead } from './arrival';
import { Measure } from './measure';
import { canSpeak, heardAs } from './speech';

interface Props {
  ref: Ref<HTMLTextAreaElement>;
  /** Of the picture's file, and of the page. */
  name: string;
  page: string;
  text: string;
  /** Something was written since the picture came, so that the browser's undo has something to undo. */
  isWritten: boolean;
  lang: string | null;
  reading: Appearance;
  limit: number;
  /** What the rules find in the text as it stands. */
  findings: readonly Omit<Finding, 'context'>[];
  /** What they find in it beside other texts, as of the last time it was kept. */
  inSets: DeskPlace['findings'];
  /** What was set aside of these words. */
  ignored: DeskPlace['ignored'];
  live: LiveAnswer | null;
  titles: Readonly<Record<string, string>>;
  now: string;
  collection: string;
  change(text: string): void;
  apply(fix: AppliedFix): void;
  ignoreFinding(rule: string, reason: string, by: string): Promise<void>;
  bringBack(rule: string): Promise<void>;
  /** Speaks what a screen reader would say. */
  hear(): void;
  /** What somebody else has saved while this was written; null when nobody has. */
  meanwhile: string | null;
  /** Leaves the field. */
  leave(): void;
}

/** Findings that stand open before others are folded. */
const OPEN_NOTES = 2;

/** The text as it is written, its findings beside it and under it, its length, and how it is heard. */
export function WritingPlace(props: Props) {
  const { ref, text, lang, reading, limit, findings, inSets, collection, change } = props;
  const s = strings.desk;
  const notes = [...findings, ...inSets];
  // What the words themselves are found to be stands open; of the rest, so much that the draft stays in sight.
  const shown = Math.max(findings.length, Math.min(notes.length, OPEN_NOTES));
  const note = (f: (typeof notes)[number]) => (
    <Note key={f.rule} outcome={f.outcome} message={f.message} also={f.also}>
      <FixButtons fixes={f.fixes ?? []} apply={props.apply} />
      <IgnoreFinding
        title={props.titles[f.rule] ?? f.rule}
        ignoreFinding={(reason, by) => props.ignoreFinding(f.rule, reason, by)}
      />
      <Link href={`/c/${collection}/rules/${f.rule}`} prefetch={false}>
        {strings.galley.why}
        <span className="sr-only"> {props.titles[f.rule]}</span>
      </Link>
    </Note>
  );
  const spans = findings.flatMap((f) => (f.span && text !== '' ? [{ ...f.span, outcome: f.outcome }] : []));
  return (
    <section className="grid grid-cols-1 lg:grid-cols-[minmax(0,1fr)_238px]">
      <div className="px-4 pt-3.5 pb-2.5 sm:pr-6 sm:pl-7">
        <p className="mb-1.5 truncate text-[13px] text-ink-2" title={s.writeFor(props.name, props.page)}>
          {s.writeFor(props.name, props.page)}
        </p>
        <div className="relative">
          <div aria-hidden="true" className="writing-mirror">
            <Heard text={`${text}\u200b`} lang={lang} spans={spans} />
          </div>
          <textarea
            ref={ref}
            value={text}
            data-written={props.isWritten ? 'yes' : 'no'}
            onChange={(e) => change(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Escape') props.leave();
              if (!e.currentTarget.readOnly || e.ctrlKey || e.metaKey || e.altKey || e.key.length > 1) return;
              // It is for the next picture, which is on its way.
              e.preventDefault();
              typeAhead(e.key);
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
        {props.meanwhile !== null && (
          <p role="status" className="mt-1 text-[13.5px] text-look">
            {s.meanwhile}{' '}
            {props.meanwhile === '' ? strings.decorativeHere : <Heard text={props.meanwhile} lang={lang} />}
          </p>
        )}
        {props.live && text.trim() !== '' && (
          <div className="mt-2 grid gap-0.5 text-[13.5px] text-ink-2">
            <Keywords uses={props.live.keywords} />
          </div>
        )}
      </div>
      <div
        id="notes"
        className="grid content-start gap-2.5 border-hair px-4 pt-3.5 pb-2 pl-[18px] sm:pl-7 lg:border-l lg:pr-5 lg:pl-[18px]"
      >
        {notes.slice(0, shown).map(note)}
        {shown < notes.length && (
          <details className="text-[13.5px]">
            <summary className="min-h-6 cursor-pointer text-ink-2">
              {s.moreNotes(
                notes.length - shown,
                notes
                  .slice(shown)
                  .map((f) => props.titles[f.rule] ?? f.rule)
                  .join(', '),
              )}
            </summary>
            <div className="mt-1.5 grid gap-2.5">{notes.slice(shown).map(note)}</div>
          </details>
        )}
        {props.live && props.live.stuffing.score >= TOLD_FROM && text.trim() !== '' && (
          <StuffingView stuffing={props.live.stuffing} />
        )}
        {findings.length + inSets.length === 0 && <p className="text-[13.5px] text-ink-2">{s.noNotes}</p>}
        {text.trim() !== '' && (
          <p className="text-[13.5px] text-ink-2">
            {s.heardAs} <Heard text={heardAs(reading, text.trim())} lang={lang} /> <HearIt hear={props.hear} />
          </p>
        )}
        {props.ignored.length > 0 && (
          <div className="text-[13.5px] text-ink-2">
            <b className="text-ink">{strings.notes.ignored}</b>
            {props.ignored.map((a) => (
              <p key={a.rule}>
                {strings.notes.ignoredLine(
                  props.titles[a.rule] ?? a.rule,
                  a.reason,
                  a.by,
                  strings.when(a.at, new Date(props.now)),
                )}{' '}
                <button type="button" className="link" onClick={() => void props.bringBack(a.rule)}>
                  {strings.notes.bringBack}
                </button>
              </p>
            ))}
          </div>
        )}
        {reading.markup.templated && <p className="text-[13.5px] text-look">{s.refusedPlace}</p>}
      </div>
    </section>
  );
}

const never = () => () => {};

/** Offers to speak it, where the browser can. */
function HearIt({ hear }: { hear(): void }) {
  const can = useSyncExternalStore(never, canSpeak, () => false);
  return can ? (
    <KeyButton command="text.hear" className="link" onClick={hear}>
      {strings.desk.hear}
    </KeyButton>
  ) : null;
}

/** Lower scores say nothing. */
const TOLD_FROM = 0.25;

/** The score with what adds to it, each with the words it comes from. */
function StuffingView({ stuffing: { score, contributions } }: { stuffing: LiveAnswer['stuffing'] }) {
  const s = strings.desk;
  return (
    <details className="text-[13.5px] text-ink-2">
      <summary className="cursor-pointer">{s.stuffing(score)}</summary>
      <ul className="mt-1 grid gap-1">
        {contributions.map((c) => (
          <li key={c.kind}>
            {s.stuffingWhy[c.kind]}, {s.adds(c.weight)}: {c.words.slice(0, 8).join(', ')}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** What page and house want to be found by, and whether the words say it: a keyword that fits, once, is fine. */
function Keywords({ uses }: { uses: LiveAnswer['keywords'] }) {
  const s = strings.desk;
  return (['house', 'page'] as const).map((from) => {
    const own = uses.filter((k) => k.from === from);
    return own.length === 0 ? null : (
      <p key={from}>
        {s.about[from]}{' '}
        {own.map((k, i) => (
          <span key={k.word}>
            {i > 0 && ', '}
            <b className={k.times > 0 ? 'text-ink' : 'font-normal text-ink'}>{k.word}</b> {s.used(k.times)}
          </span>
        ))}
      </p>
    );
  });
}
