'use client';

import Link from 'next/link';
import { useState } from 'react';
import type { Line, LineNote } from '@/contract/galley';
import type { Target } from '@/contract/target';
import type { Fix } from '@/core/model/finding';
import { Heard } from '../primitives/heard';
import { StateWord } from '../primitives/mark';
import { FixButtons } from '../notes/fix-buttons';
import { IgnoreFinding } from '../notes/ignore';
import { Note } from '../primitives/note';
import { strings } from '../strings';

export interface LineActs {
  say(target: Target, text: string): Promise<void>;
  fix(target: Target, fix: Fix): void;
  ignoreFinding(target: Target, rule: string, reason: string, by: string): Promise<void>;
  /** Of the rules, by id. */
  titles: Readonly<Record<string, string>>;
  draft(line: Line): void;
  accept(line: Line): void;
  reject(line: Line): void;
  edit(picture: number | null): void;
  pick(line: Line): void;
}

interface Props {
  line: Line;
  position: number;
  current: boolean;
  picked: boolean;
  editing: boolean;
  /** Say why it comes where it comes in the order of work. */
  reasoned: boolean;
  desk: string;
  collection: string;
  acts: LineActs;
}

/** One picture: its number, its thumbnail, the words as they will be heard, and the notes in the margin. */
export function GalleyLine({ line, position, current, picked, editing, reasoned, desk, collection, acts }: Props) {
  const s = strings.galley;
  return (
    <article className="line" data-current={current} aria-label={s.lineLabel(position, strings.pictureName(line.name))}>
      <div className="pt-4 pl-3 sm:pl-[18px]">
        <span className="block font-code text-[13px] text-ink-2">{position}</span>
        <label className="-ml-1 flex size-6 items-center justify-center">
          <span className="sr-only">{s.pick(strings.pictureName(line.name))}</span>
          <input type="checkbox" checked={picked} onChange={() => acts.pick(line)} />
        </label>
      </div>
      <Thumb line={line} />
      <div className="min-w-0 py-3 pr-6 pl-2">
        {editing ? <EditWords line={line} acts={acts} /> : <Words line={line} desk={desk} />}
        <p className="mt-1.5 flex flex-wrap items-center gap-x-3.5 gap-y-0.5 text-[13px] text-ink-2">
          <StateWord state={line.draft !== null ? 'draft' : line.state} />
          <span>{strings.desk.purposes[line.purpose].toLowerCase()}</span>
          <span>{s.onPages(line.reach)}</span>
          {line.missing > 0 && line.state !== 'missing' && <span>{s.alsoMissing(line.missing)}</span>}
          {line.similarGroup && (
            <Link
              href={`/c/${collection}/galley?similarGroup=${line.similarGroup.id}`}
              prefetch={false}
              className="text-ink-2"
            >
              {s.alike(line.similarGroup.size)}
            </Link>
          )}
          <span className="break-all">{strings.pictureName(line.name)}</span>
          {line.bytes !== null && <span>{strings.weight(line.bytes)}</span>}
          {line.worded && <span className="text-said">{s.worded}</span>}
          {line.conflict && <b className="text-fails">{strings.conflict.short}</b>}
        </p>
        {reasoned && line.reason && (
          <p className="mt-1 text-[13px] text-ink-2">{strings.sentence(strings.message(line.reason))}</p>
        )}
        {line.draft !== null && (
          <p className="mt-2 text-[13.5px]">
            <span className="text-ink-2">{s.draftWaits}: </span>
            <span className="text-[16px]">
              <Heard text={line.draft} lang={line.lang} />
            </span>{' '}
            <span className="fixes">
              <button type="button" className="link" onClick={() => acts.accept(line)}>
                {s.fixes.accept}
              </button>
              <button type="button" className="link" onClick={() => acts.reject(line)}>
                {s.fixes.reject}
              </button>
            </span>
          </p>
        )}
      </div>
      <div className="margin">
        {line.notes.map((note) => (
          <LineNoteView key={note.rule} note={note} line={line} collection={collection} acts={acts} />
        ))}
      </div>
    </article>
  );
}

/** Smaller pictures get a frame, or nobody would see where they are. */
const TINY = 24;

function Thumb({ line }: { line: Line }) {
  const tiny = (line.width ?? TINY) < TINY && (line.height ?? TINY) < TINY;
  return (
    <div className="py-3">
      {line.thumb ? (
        <div className={`h-[88px] w-[118px] max-w-full ${tiny ? 'plate' : ''}`}>
          <img src={line.thumb} alt="" loading="lazy" className="plate max-h-full max-w-full" />
        </div>
      ) : (
        <div className="flex h-[88px] w-[118px] max-w-full items-center justify-center border border-dashed border-hair-2 p-2 text-center text-[13px] break-words text-ink-2">
          {line.broken ? strings.galley.broken : strings.pictureName(line.name)}
        </div>
      )}
    </div>
  );
}

function Words({ line, desk }: { line: Line; desk: string }) {
  const spans = line.notes.flatMap((n) => (n.span ? [{ ...n.span, outcome: n.outcome }] : []));
  return (
    <p className="text-[18px] leading-[1.45]">
      <Link
        href={desk}
        prefetch={false}
        className="words text-ink no-underline hover:underline hover:decoration-hair-2"
      >
        {line.heard ? (
          <Heard text={line.heard} lang={line.lang} spans={spans} />
        ) : (
          <span className="font-heard text-ink-2 italic">
            {line.state === 'decorative' ? strings.decorativeHere : strings.nothingSaid}
          </span>
        )}
      </Link>
    </p>
  );
}

function EditWords({ line, acts }: { line: Line; acts: LineActs }) {
  const s = strings.galley;
  const [text, setText] = useState(line.draft ?? line.heard);
  const close = () => acts.edit(null);
  const keep = () => {
    close();
    if (text.trim() !== '' && text !== line.heard)
      void acts.say({ kind: 'pictures', pictures: [line.id] }, text.trim());
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        keep();
      }}
    >
      <textarea
        autoFocus
        rows={2}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Escape') close();
          if (e.key === 'Enter' && !e.shiftKey) {
            e.preventDefault();
            keep();
          }
        }}
        aria-label={s.editing(strings.pictureName(line.name))}
        lang={line.lang ?? undefined}
        dir="auto"
        className="block w-full resize-none border border-hair-2 bg-sheet p-2 font-heard text-[18px]"
      />
      <p className="fixes mt-1 text-[13.5px]">
        <button type="submit" className="link">
          {s.keep}
          {line.appearances > 1 && ` ${s.everywhere(line.appearances)}`}
        </button>
        <button type="button" className="link" onClick={close}>
          {s.cancel}
        </button>
      </p>
    </form>
  );
}

function LineNoteView({
  note,
  line,
  collection,
  acts,
}: {
  note: LineNote;
  line: Line;
  collection: string;
  acts: LineActs;
}) {
  const s = strings.galley;
  const title = acts.titles[note.rule] ?? note.rule;
  const target: Target = { kind: 'noted', picture: line.id, rule: note.rule };
  const wordless = note.outcome === 'failed' && note.fixes.length === 0 && line.draft === null && !line.broken;
  return (
    <Note
      outcome={note.outcome}
      also={note.also}
      message={note.message}
      places={note.places > 1 ? s.inPlaces(strings.places(note.places)) : undefined}
    >
      <FixButtons fixes={note.fixes} apply={(fix) => acts.fix(target, fix)} />
      {wordless && (
        <button type="button" className="link" onClick={() => acts.draft(line)}>
          {s.fixes.draft}
        </button>
      )}
      <IgnoreFinding title={title} ignoreFinding={(reason, by) => acts.ignoreFinding(target, note.rule, reason, by)} />
      <Link href={`/c/${collection}/rules/${note.rule}`} prefetch={false}>
        {s.why}
        <span className="sr-only"> {title}</span>
      </Link>
    </Note>
  );
}
