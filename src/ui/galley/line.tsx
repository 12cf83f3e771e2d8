'use client';

import Link from 'next/link';
import { useEffect, useRef, useState, type FocusEvent, type KeyboardEvent } from 'react';
import type { Conflict } from '@/contract/conflict';
import type { Line, LineGroup, LineNote } from '@/contract/galley';
import type { Target } from '@/contract/target';
import type { AppliedFix } from '@/core/model/finding';
import { ConflictView } from '../conflict/conflict-view';
import type { Choice } from '../frame/keep';
import { commandOf } from '../keys/use-commands';
import { Heard } from '../primitives/heard';
import { StateWord } from '../primitives/mark';
import { FixButtons } from '../notes/fix-buttons';
import { IgnoreFinding } from '../notes/ignore';
import { Note } from '../primitives/note';
import { strings } from '../strings';

export interface LineActs {
  /** Saves words at the line's places; `''` marks them decorative. */
  say(line: Line, text: string): Promise<void>;
  fix(line: Line, target: Target, fix: AppliedFix): void;
  ignoreFinding(line: Line, target: Target, rule: string, reason: string, by: string): Promise<void>;
  /** Of the rules, by id. */
  titles: Readonly<Record<string, string>>;
  draft(line: Line): void;
  accept(line: Line): void;
  reject(line: Line): void;
  choose(line: Line, conflict: number, choice: Choice): Promise<void>;
  /** Edits a line, ends editing (null), or goes on with the line so many further on. */
  edit(line: Line | null, by?: number): void;
  /** Selects the line or takes it out; `extend` selects all between it and the last one. */
  pick(line: Line, extend: boolean): void;
}

interface Props {
  line: Line;
  /** From 0. */
  index: number;
  current: boolean;
  /** The column that has the focus in the current line. */
  column: number;
  picked: boolean;
  editing: boolean;
  /** Say why it comes where it comes in the order of work. */
  reasoned: boolean;
  desk: string;
  collection: string;
  /** The two texts between which somebody has to choose; null where there are none, or they are not there yet. */
  conflict: Conflict | null;
  acts: LineActs;
  /** The focus came into a cell, or into a control of one. */
  entered(column: number | null): void;
}

const CONTROLS = 'a[href], button, input, textarea, summary';

/** One picture: its number, its thumbnail, the words as they will be heard, and the notes in the margin. */
export function GalleyLine(props: Props) {
  const { line, index, current, column, picked, editing, reasoned, desk, collection, conflict, acts, entered } = props;
  const s = strings.galley;
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // The grid is one stop of the Tab key; the controls of its current line follow.
    for (const control of row.current?.querySelectorAll<HTMLElement>(CONTROLS) ?? [])
      control.tabIndex = current ? 0 : -1;
  });
  const cell = (col: number) => ({
    role: 'gridcell' as const,
    'aria-colindex': col + 1,
    tabIndex: current && column === col ? 0 : -1,
    'data-cell': `${index}-${col}`,
    onFocus: (event: FocusEvent) => entered(event.target === event.currentTarget ? col : null),
  });
  const name = strings.pictureName(line.name);
  return (
    <div
      ref={row}
      role="row"
      aria-rowindex={index + 1}
      aria-selected={picked}
      aria-label={s.lineLabel(index + 1, name)}
      className="line"
      data-current={current}
    >
      <div {...cell(0)} className="line-picture">
        <div className="pt-4 pl-3 sm:pl-[18px]">
          <span className="block font-code text-[13px] text-ink-2">{index + 1}</span>
          <label className="-ml-1 flex size-6 items-center justify-center">
            <span className="sr-only">{s.pick(name)}</span>
            <input
              type="checkbox"
              checked={picked}
              onChange={(e) => acts.pick(line, (e.nativeEvent as MouseEvent).shiftKey === true)}
            />
          </label>
        </div>
        <Thumb line={line} />
      </div>
      <div {...cell(1)} className="min-w-0 py-3 pr-6 pl-2">
        {editing ? <EditWords line={line} acts={acts} /> : <Words line={line} desk={desk} />}
        {line.texts.length > 0 && <OtherTexts line={line} desk={desk} />}
        <p className="mt-1.5 flex flex-wrap items-center gap-x-3.5 gap-y-0.5 text-[13px] text-ink-2">
          <StateWord state={line.state} />
          {line.draft !== null && <StateWord state="draft" />}
          <span>{strings.desk.purposes[line.purpose].toLowerCase()}</span>
          {line.isPlace ? <span>{line.page}</span> : <span>{s.onPages(line.reach)}</span>}
          {line.textsTotal > 1 && <span>{s.saysSo(line.places, line.appearances)}</span>}
          {line.similarGroup && line.group?.kind !== 'alike' && (
            <Link
              href={`/c/${collection}/galley?similarGroup=${line.similarGroup.id}`}
              prefetch={false}
              className="inline-flex min-h-[24px] items-center text-ink-2"
            >
              {s.alike(line.similarGroup.size)}
            </Link>
          )}
          <span className="break-all">{name}</span>
          {line.bytes !== null && <span>{strings.weight(line.bytes)}</span>}
          {line.worded && <span className="text-said">{s.worded}</span>}
          {line.conflict && !conflict && <b className="text-fails">{strings.conflict.short}</b>}
        </p>
        {reasoned && line.reason && (
          <p className="mt-1 text-[13px] text-ink-2">{strings.sentence(strings.message(line.reason))}</p>
        )}
        {line.draft !== null && (
          <p className="mt-2 text-[13.5px]">
            <span className="text-ink-2">{s.draftWaits}: </span>
            <span className="text-[16px]">
              {line.draft === '' ? strings.reading.decorative : <Heard text={line.draft} lang={line.lang} />}
            </span>{' '}
            <span className="fixes">
              <button type="button" className="link min-h-[24px]" onClick={() => acts.accept(line)}>
                {s.fixes.accept}
              </button>
              <button type="button" className="link min-h-[24px]" onClick={() => acts.reject(line)}>
                {s.fixes.reject}
              </button>
            </span>
          </p>
        )}
        {conflict && (
          <ConflictView conflict={conflict} level={3} choose={(choice) => acts.choose(line, conflict.id, choice)} />
        )}
      </div>
      <div {...cell(2)} className="margin">
        {line.notes.map((note) => (
          <LineNoteView key={note.rule} note={note} line={line} collection={collection} acts={acts} />
        ))}
        {line.notes.length === 0 && <span className="sr-only">{strings.desk.noNotes}</span>}
      </div>
    </div>
  );
}

/** What the lines below it stand under. */
export function GroupHeading({ group: { kind, label } }: { group: LineGroup }) {
  return (
    <div role="row" className="group-heading">
      <span role="gridcell" aria-colspan={3}>
        {strings.galley.groupNames[kind](label)}
      </span>
    </div>
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

/** What the picture says at its other places, each with the way there. */
function OtherTexts({ line, desk }: { line: Line; desk: string }) {
  const s = strings.galley;
  const more = line.textsTotal - 1 - line.texts.length;
  const at = (place: number) => `${desk}${desk.includes('?') ? '&' : '?'}place=${place}`;
  return (
    <ul className="mt-1 text-[14px]" aria-label={s.saysElsewhere}>
      {line.texts.map((text) => (
        <li key={text.appearanceId} className="truncate text-ink-2">
          <Link
            href={at(text.appearanceId)}
            prefetch={false}
            className="inline-flex min-h-[24px] items-center text-ink-2"
          >
            {s.inPlacesElsewhere(text.places)}
          </Link>{' '}
          {text.state === 'described' ? (
            <span className="text-[15px] text-ink">
              <Heard text={text.heard} lang={text.lang} />
            </span>
          ) : (
            <i className="font-heard">{text.state === 'decorative' ? strings.decorativeHere : strings.nothingSaid}</i>
          )}
        </li>
      ))}
      {more > 0 && <li className="text-ink-2">{s.moreTexts(more)}</li>}
    </ul>
  );
}

function EditWords({ line, acts }: { line: Line; acts: LineActs }) {
  const s = strings.galley;
  const [text, setText] = useState(line.draft ?? line.heard);
  const save = () => {
    if (text.trim() !== '' && text !== line.heard) void acts.say(line, text.trim());
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const beside = commandOf(event.nativeEvent, ['desk.next', 'desk.previous']);
    if (event.key === 'Escape') acts.edit(null);
    else if (beside) {
      save();
      acts.edit(line, beside === 'desk.next' ? 1 : -1);
    } else if (event.key === 'Enter' && !event.shiftKey && !event.altKey) {
      save();
      acts.edit(null);
    } else return;
    event.preventDefault();
    event.stopPropagation();
    event.nativeEvent.stopImmediatePropagation();
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        save();
        acts.edit(null);
      }}
    >
      <textarea
        autoFocus
        rows={2}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={onKeyDown}
        aria-label={s.editing(strings.pictureName(line.name))}
        lang={line.lang ?? undefined}
        dir="auto"
        className="block w-full resize-none border border-hair-2 bg-sheet p-2 font-heard text-[18px]"
      />
      <p className="fixes mt-1 text-[13.5px]">
        <button type="submit" className="link">
          {s.keep}
          {!line.isPlace && line.appearances > 1 && ` ${s.everywhere(line.appearances)}`}
        </button>
        <button type="button" className="link" onClick={() => acts.edit(null)}>
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
  const target: Target = line.isPlace
    ? { kind: 'places', places: [line.appearanceId] }
    : { kind: 'noted', picture: line.id, rule: note.rule };
  const wordless = note.outcome === 'failed' && note.fixes.length === 0 && line.draft === null && !line.broken;
  return (
    <Note
      outcome={note.outcome}
      also={note.also}
      message={note.message}
      places={note.places > 1 ? s.inPlaces(strings.places(note.places)) : undefined}
    >
      <FixButtons fixes={note.fixes} apply={(fix) => acts.fix(line, target, fix)} />
      {wordless && (
        <button type="button" className="link" onClick={() => acts.draft(line)}>
          {s.fixes.draft}
        </button>
      )}
      <IgnoreFinding
        title={title}
        ignoreFinding={(reason, by) => acts.ignoreFinding(line, target, note.rule, reason, by)}
      />
      <Link href={`/c/${collection}/rules/${note.rule}`} prefetch={false}>
        {s.why}
        <span className="sr-only"> {title}</span>
      </Link>
    </Note>
  );
}
