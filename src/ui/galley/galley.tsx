'use client';

import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { GalleyView, Line, Lines } from '@/contract/galley';
import type { Target } from '@/contract/target';
import { dropTrail } from '../desk/trail';
import { useActs } from '../frame/acts';
import { clashingPlaces, type Keep } from '../frame/keep';
import { whatIsWrong } from '../frame/what-is-wrong';
import type { NoteActions } from '../notes/note-actions';
import { useKeys } from '../primitives/keys';
import { strings } from '../strings';
import { asQuery } from './address';
import { GalleyLine, type LineActs } from './line';
import { useLines } from './use-lines';

export interface GalleyActions {
  notes: NoteActions;
  keep: Keep;
  draft(collection: string, target: Target, act: string): Promise<{ drafted: number; of: number }>;
  answerDrafts(collection: string, target: Target, answer: 'accept' | 'reject', act: string): Promise<number>;
}

interface Props extends GalleyActions {
  collection: string;
  view: GalleyView;
  first: Lines;
  /** Of the collection, whatever the view. */
  allPictures: number;
  /** Of the rules, by id. */
  titles: Readonly<Record<string, string>>;
}

const LINE_HEIGHT = 113;
const newAct = () => crypto.randomUUID();

/** The pictures of a collection as lines of a galley proof. */
export function Galley({ collection, view, first, allPictures, titles, keep, draft, answerDrafts, notes }: Props) {
  const s = strings.galley;
  const router = useRouter();
  const { did, onUndo } = useActs();
  const { store, total, lines } = useLines(collection, view, first);
  const [current, setCurrent] = useState(0);
  const [editing, setEditing] = useState<number | null>(null);
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
  const list = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  const virtual = useWindowVirtualizer({
    count: total,
    estimateSize: () => LINE_HEIGHT,
    overscan: 6,
    scrollMargin: top,
  });
  const rows = virtual.getVirtualItems();
  const from = rows[0]?.index ?? 0;
  const to = rows.at(-1)?.index ?? 0;

  useEffect(() => {
    setTop(list.current?.offsetTop ?? 0);
    dropTrail();
  }, []);
  const shown = useRef({ from, to });
  useEffect(() => {
    shown.current = { from, to };
    store.need(from, to);
  }, [from, to, store]);

  const redraw = useCallback(async () => {
    await store.reload(shown.current.from, shown.current.to);
    router.refresh();
  }, [store, router]);
  useEffect(() => onUndo(() => void redraw()), [onUndo, redraw]);

  /** Performs an act on some lines, tells it and draws them again. */
  const perform = useCallback(
    async (work: (act: string) => Promise<string>, canUndo = true) => {
      const act = newAct();
      try {
        did(await work(act), canUndo ? act : null);
        setPicked(new Set());
      } catch {
        did((await whatIsWrong()) ?? strings.failed, null);
      }
      await redraw();
    },
    [did, redraw],
  );

  /** The oldest state among the lines that a target's pictures are shown by. */
  const sinceOf = (target: Target): number | undefined => {
    const wanted = new Set(
      target.kind === 'pictures' ? target.pictures : target.kind === 'noted' ? [target.picture] : [],
    );
    const shown = [...lines.values()].filter((l) => wanted.has(l.id)).map((l) => l.revision);
    return shown.length > 0 ? shown.reduce((least, r) => Math.min(least, r)) : undefined;
  };
  const say = (target: Target, text: string) =>
    perform(async (act) => {
      const since = sinceOf(target);
      const answer = await keep({ collection, target, text, act, ...(since === undefined ? {} : { since }) });
      if (answer.conflicts.length > 0) return strings.undo.clashes(strings.places(clashingPlaces(answer)));
      const places = strings.places(answer.places);
      return text === '' ? strings.undo.silenced(places) : strings.undo.worded(places);
    });
  const draftFor = (target: Target) =>
    perform(async (act) => {
      const { drafted, of } = await draft(collection, target, act);
      return strings.undo.drafted(drafted, of);
    });
  const all = (line: Line): Target => ({ kind: 'pictures', pictures: [line.id] });
  const acts: LineActs = {
    say,
    titles,
    fix: (target, fix) => {
      if (fix.kind === 'accept word')
        void perform(async () => {
          await notes.acceptWord(collection, fix.word);
          return strings.notes.accepted(fix.word);
        }, false);
      else void say(target, fix.kind === 'mark decorative' ? '' : fix.text);
    },
    ignoreFinding: (target, rule, reason, by) =>
      perform(async (act) =>
        strings.notes.ignoredIn(
          strings.places(await notes.ignoreFinding(collection, target, { rule, reason, by, act })),
        ),
      ),
    draft: (line) => void draftFor(all(line)),
    accept: (line) =>
      void perform(async (act) =>
        strings.undo.worded(strings.places(await answerDrafts(collection, all(line), 'accept', act))),
      ),
    reject: (line) =>
      void perform(async (act) => {
        await answerDrafts(collection, all(line), 'reject', act);
        return strings.undo.rejected;
      }),
    edit: setEditing,
    pick: (line) =>
      setPicked((before) => {
        const after = new Set(before);
        if (!after.delete(line.id)) after.add(line.id);
        return after;
      }),
  };

  const go = (index: number) => {
    const next = Math.max(0, Math.min(total - 1, index));
    setCurrent(next);
    virtual.scrollToIndex(next, { align: 'auto' });
    requestAnimationFrame(() => list.current?.querySelector<HTMLElement>(`[data-line="${next}"] .words`)?.focus());
  };
  const line = lines.get(current);
  useKeys({
    j: () => go(current + 1),
    k: () => go(current - 1),
    e: () => line && setEditing(line.id),
    s: () => line && void say(all(line), ''),
    d: () => line && acts.draft(line),
    x: () => line && acts.pick(line),
  });

  const deskHref = (id: number) => `/c/${collection}/desk/${id}?${asQuery(view)}`;
  const picks: Target = { kind: 'pictures', pictures: [...picked] };
  return (
    <div data-focus-home='[data-current="true"] .words, .words'>
      {picked.size > 0 && (
        <div className="bar sticky top-0 z-10 bg-paper">
          <b className="text-ink">{s.picked(picked.size)}</b>
          <button type="button" className="link" onClick={() => void say(picks, '')}>
            {s.silence}
          </button>
          <button type="button" className="link" onClick={() => void draftFor(picks)}>
            {s.draftAll}
          </button>
          <button type="button" className="link" onClick={() => setPicked(new Set())}>
            {s.unpick}
          </button>
        </div>
      )}
      <div
        ref={list}
        role={total > 0 ? 'list' : undefined}
        aria-label={total > 0 ? s.title : undefined}
        className="relative bg-sheet"
        style={{ height: virtual.getTotalSize(), minHeight: 'calc(100dvh - 96px)' }}
      >
        {total === 0 && <Nothing view={view} all={allPictures} collection={collection} />}
        {rows.map((row) => {
          const own = lines.get(row.index);
          return (
            <div
              key={row.index}
              role="listitem"
              aria-posinset={row.index + 1}
              aria-setsize={total}
              data-index={row.index}
              data-line={row.index}
              ref={virtual.measureElement}
              data-focus-home=".words"
              className="absolute top-0 left-0 w-full"
              style={{ transform: `translateY(${row.start - top}px)` }}
              onFocus={() => setCurrent(row.index)}
            >
              {own ? (
                <GalleyLine
                  line={own}
                  position={row.index + 1}
                  current={row.index === current}
                  picked={picked.has(own.id)}
                  editing={editing === own.id}
                  reasoned={view.sort === 'first'}
                  desk={deskHref(own.id)}
                  collection={collection}
                  acts={acts}
                />
              ) : (
                <div className="line">
                  <span className="col-span-2" />
                  <p className="p-4 text-ink-2">{s.loading}</p>
                </div>
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
}

function Nothing({ view, all, collection }: { view: GalleyView; all: number; collection: string }) {
  const s = strings.galley;
  const narrowed =
    view.state !== 'all' || view.rule !== 'any' || view.q !== '' || view.kind !== 'any' || view.similarGroup > 0;
  return (
    <p className="px-7 py-10 text-[17px] text-ink-2">
      {all === 0 ? s.nothingYet : s.none} {all > 0 && narrowed && <a href={`/c/${collection}/galley`}>{s.showAll}</a>}
    </p>
  );
}
