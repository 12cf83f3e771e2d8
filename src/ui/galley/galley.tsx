'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useRouter, useSearchParams } from 'next/navigation';
import { useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { GalleyView, type Counts, type Line, type Lines } from '@/contract/galley';
import type { Target } from '@/contract/target';
import { queries, WINDOW } from '../data/queries';
import { heardAs, speak } from '../desk/speech';
import { dropQueues } from '../desk/desk-queue';
import { useActs } from '../frame/acts';
import { commandOf, useCommands } from '../keys/use-commands';
import { RoundDialog } from '../rounds/round-dialog';
import { strings } from '../strings';
import { asQuery, deskHref, galleyHref, printHref } from './address';
import { BulkDialog, type BulkKind } from './bulk-dialog';
import type { RuleTitle } from './facet-choice';
import type { GalleyActions } from './galley-actions';
import { GalleyLine, GroupHeading, type LineActs } from './line';
import { GRID } from './grid-commands';
import { ListMenu } from './list-menu';
import { Nothing } from './nothing';
import { ReplaceDialog } from './replace-dialog';
import { ALL, isSelected, keyOf, NONE, select, sizeOf, targetOf, type Selection } from './selection';
import { SelectionBar } from './selection-bar';
import { Sentence } from './sentence';
import { useBulk } from './use-bulk';
import { useLineActs } from './use-line-acts';
import { useLines } from './use-lines';
import { notedWhereabouts, useNotedWhereabouts } from './whereabouts';

interface Props {
  collection: string;
  /** What the page was opened with. */
  opened: { view: GalleyView; lines: Lines; counts: Counts };
  rules: readonly RuleTitle[];
  actions: GalleyActions;
}

const LINE_HEIGHT = 113;
/** What is drawn before the size of the window is known: the design size. */
const FIRST_WINDOW = { width: 1280, height: 800 };
const COLUMNS = 3;
const WORDS = 1;

/** The pictures of a collection as lines of a galley proof: a grid that is worked through by keyboard. */
export function Galley({ collection, opened, rules, actions }: Props) {
  const s = strings.galley;
  const router = useRouter();
  const client = useQueryClient();
  const acts = useActs();
  const { did, say, onTurn } = acts;
  const query = useSearchParams().toString();
  const view = useMemo(() => GalleyView.parse(Object.fromEntries(new URLSearchParams(query))), [query]);
  const viewKey = String(asQuery(view));
  const titles = useMemo(() => Object.fromEntries(rules.map((r) => [r.id, r.title])), [rules]);

  const [current, setCurrent] = useState(0);
  const [column, setColumn] = useState(WORDS);
  const [editing, setEditing] = useState<number | null>(null);
  const [selection, setSelection] = useState<Selection>(NONE);
  const [asking, setAsking] = useState<BulkKind | 'replace' | 'round' | null>(null);
  const anchor = useRef(0);
  const grid = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  const [range, setRange] = useState({ from: 0, to: 12 });

  const [first] = useState(opened);
  const openedKey = String(asQuery(first.view));
  if (viewKey === openedKey && !client.getQueryData(queries.lines(collection, view, 0).queryKey))
    client.setQueryData(queries.lines(collection, view, 0).queryKey, first.lines);
  const { total, lines, isOld } = useLines(
    collection,
    view,
    Math.min(range.from, current),
    Math.max(range.to, current),
  );
  const { perform: performBulk, share } = useBulk(collection);

  const virtual = useWindowVirtualizer({
    count: total,
    estimateSize: () => LINE_HEIGHT,
    overscan: 6,
    // The first lines are drawn by the server already; the window's own size counts once there is one.
    initialRect: FIRST_WINDOW,
    scrollMargin: top,
    onChange: (instance) => {
      const items = instance.getVirtualItems();
      const next = { from: items[0]?.index ?? 0, to: items.at(-1)?.index ?? 0 };
      setRange((before) => (before.from === next.from && before.to === next.to ? before : next));
    },
  });
  const rows = virtual.getVirtualItems();

  useEffect(() => {
    setTop(grid.current?.offsetTop ?? 0);
    dropQueues(collection);
  }, [collection]);

  // A view that is come back to is shown where it was left.
  const restored = useRef<string | null>(null);
  useEffect(() => {
    if (isOld || restored.current === viewKey) return;
    restored.current = viewKey;
    const at = notedWhereabouts();
    setSelection(NONE);
    setEditing(null);
    setCurrent(at ? Math.min(at.current, Math.max(0, total - 1)) : 0);
    if (at) requestAnimationFrame(() => window.scrollTo(0, at.top));
  }, [viewKey, isOld, total]);
  useNotedWhereabouts(current, viewKey);

  const show = useCallback(
    (changed: Partial<GalleyView>, how: 'push' | 'replace' = 'push') => {
      const to = galleyHref(collection, { ...view, ...changed });
      window.history[how === 'push' ? 'pushState' : 'replaceState'](null, '', to);
      if (how === 'push') window.scrollTo(0, 0);
    },
    [collection, view],
  );

  const line = lines.get(current);
  const announce = useRef(false);
  useEffect(() => {
    // After an act, where the editor is by then: the line may have left the view.
    if (!announce.current || !line) return;
    announce.current = false;
    const state = line.draft !== null ? 'draft' : line.state;
    say(strings.desk.whereabouts(current + 1, total, strings.pictureName(line.name), state, line.notes.length));
  }, [line, current, total, say]);
  const redraw = useCallback(async () => {
    announce.current = true;
    await client.invalidateQueries({ queryKey: [collection] });
  }, [client, collection]);
  useEffect(() => onTurn(() => void redraw()), [onTurn, redraw]);

  const hrefOf = useCallback(
    (l: Line) => deskHref(collection, l.id, view, l.isPlace ? l.appearanceId : undefined),
    [collection, view],
  );
  const { shown, ...ownActs } = useLineActs(collection, actions, titles, hrefOf, redraw);
  const lineActs: LineActs = {
    ...ownActs,
    titles,
    edit: (l, by = 0) => {
      if (by !== 0) return void editBeside(by);
      setEditing(l === null ? null : keyOf(l));
      if (l === null) focusCell(current, WORDS);
    },
    pick: (l, extend) => pick(keyOf(l), [...lines].find(([, one]) => one === l)?.[0] ?? current, extend),
  };

  const focusCell = (index: number, col: number) =>
    requestAnimationFrame(() => grid.current?.querySelector<HTMLElement>(`[data-cell="${index}-${col}"]`)?.focus());
  const go = (index: number, col = column) => {
    const next = Math.max(0, Math.min(total - 1, index));
    setCurrent(next);
    setColumn(col);
    virtual.scrollToIndex(next, { align: 'auto' });
    focusCell(next, col);
    return next;
  };
  /** Saves the line that is edited, and edits the one before or after it. */
  const editBeside = (by: number) => {
    const next = Math.max(0, Math.min(total - 1, current + by));
    const beside = lines.get(next);
    setEditing(beside && next !== current ? keyOf(beside) : null);
    go(next, WORDS);
  };

  /** The keys of the lines between two positions, those that are not there yet as well. */
  const keysBetween = async (a: number, b: number): Promise<number[]> => {
    const [from, to] = [Math.min(a, b), Math.max(a, b)];
    const keys: number[] = [];
    for (let w = Math.floor(from / WINDOW); w <= Math.floor(to / WINDOW); w++) {
      const { lines: some } = await client.ensureQueryData(queries.lines(collection, view, w));
      some.forEach((l, i) => {
        const at = w * WINDOW + i;
        if (at >= from && at <= to) keys.push(keyOf(l));
      });
    }
    return keys;
  };
  const extend = async (to: number) => {
    const keys = await keysBetween(anchor.current, to);
    setSelection((before) => {
      const next = select(before, keys, true);
      say(s.selected(sizeOf(next, total)));
      return next;
    });
  };
  const pick = (key: number, index: number, isRange: boolean) => {
    if (isRange) return void extend(index);
    anchor.current = index;
    const next = select(selection, [key], !isSelected(selection, key));
    setSelection(next);
    say(s.selected(sizeOf(next, total)));
  };
  const pageOf = () => Math.max(1, Math.floor(window.innerHeight / LINE_HEIGHT) - 1);

  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const cell = (event.target as HTMLElement).closest<HTMLElement>('[data-cell]');
    const isCell = cell === event.target;
    if (!isCell) {
      // Inside of a cell, its own controls have the keys; Escape comes back to it.
      if (event.key === 'Escape' && cell && !event.defaultPrevented && editing === null) cell.focus();
      return;
    }
    const command = commandOf(event.nativeEvent, GRID);
    if (!command || total === 0) return;
    event.preventDefault();
    event.stopPropagation();
    const step = (by: number) => {
      anchor.current = go(current + by);
    };
    switch (command) {
      case 'galley.up':
        return step(-1);
      case 'galley.down':
        return step(1);
      case 'galley.left':
        return void go(current, Math.max(0, column - 1));
      case 'galley.right':
        return void go(current, Math.min(COLUMNS - 1, column + 1));
      case 'galley.page-up':
        return step(-pageOf());
      case 'galley.page-down':
        return step(pageOf());
      case 'galley.first-cell':
        return void go(current, 0);
      case 'galley.last-cell':
        return void go(current, COLUMNS - 1);
      case 'galley.first':
        anchor.current = go(0, 0);
        return;
      case 'galley.last':
        anchor.current = go(total - 1, COLUMNS - 1);
        return;
      case 'galley.select':
        if (line) pick(keyOf(line), current, false);
        return;
      case 'galley.extend-up':
        return void extend(go(current - 1));
      case 'galley.extend-down':
        return void extend(go(current + 1));
      case 'galley.select-all':
        setSelection(ALL);
        return say(s.selected(total));
      case 'galley.edit':
        if (line) setEditing(keyOf(line));
        return;
      case 'galley.open':
        if (column === WORDS || column === 0) {
          if (line) router.push(hrefOf(line));
          return;
        }
        // The first control of the findings.
        return cell?.querySelector<HTMLElement>('button, a')?.focus();
    }
  };
  const selected = sizeOf(selection, total);
  useCommands({
    'text.decorative': () => (selected > 0 ? setAsking('decorative') : line ? void lineActs.say(line, '') : false),
    'text.accept-draft': () =>
      selected > 0 ? setAsking('accept') : line?.draft ? lineActs.accept(line) : say(s.noDraft),
    'text.hear': () => {
      if (!line) return false;
      const words = line.state === 'described' ? line.heard : '';
      const spoken = words === '' && line.state === 'decorative' ? strings.desk.decorative : heardAs(null, words);
      if (!speak(spoken, line.lang)) did(strings.desk.noSpeech);
    },
    'galley.print': () => router.push(printHref(collection, view)),
    'desk.next': () => void go(current + 1),
    'desk.previous': () => void go(current - 1),
  });

  const hasConflict = [...lines.values()].some((l) => l.conflict);
  const { data: open } = useQuery({ ...queries.conflicts(collection), enabled: hasConflict });
  const conflictOf = (l: Line) =>
    l.conflict
      ? (open?.conflicts.find((c) => c.pictureId === l.id && (!l.isPlace || c.appearanceId === l.appearanceId)) ?? null)
      : null;
  const target: Target = selected > 0 ? targetOf(selection, view) : { kind: 'view', view, except: [] };
  return (
    <div data-focus-home='[data-cell][tabindex="0"]' aria-busy={isOld}>
      <Sentence collection={collection} view={view} rules={rules} total={total} counts={opened.counts} show={show}>
        <button type="button" className="link" onClick={() => setAsking('replace')}>
          {strings.replace.open}
        </button>
        <button type="button" className="link" onClick={() => setAsking('round')}>
          {strings.rounds.draft}
        </button>
        <ListMenu collection={collection} view={view} />
      </Sentence>
      {(selected > 0 || share !== null) && (
        <SelectionBar
          selected={selected}
          total={total}
          share={share}
          ask={setAsking}
          draft={() => setAsking('round')}
          all={() => setSelection(ALL)}
          none={() => {
            setSelection(NONE);
            focusCell(current, column);
          }}
        />
      )}
      <div
        ref={grid}
        role={total > 0 ? 'grid' : undefined}
        aria-label={total > 0 ? s.title : undefined}
        aria-rowcount={total > 0 ? total : undefined}
        aria-colcount={total > 0 ? COLUMNS : undefined}
        aria-multiselectable={total > 0 ? true : undefined}
        className="galley-grid"
        style={{ height: virtual.getTotalSize(), minHeight: 'calc(100dvh - 96px)' }}
        onKeyDown={onKeyDown}
      >
        {total === 0 && !isOld && <Nothing view={view} all={opened.counts.pictures} collection={collection} />}
        {rows.map((row) => {
          const own = lines.get(row.index);
          const before = lines.get(row.index - 1);
          const heading = own?.group && own.group.key !== before?.group?.key ? own.group : null;
          return (
            <div
              key={row.index}
              role="presentation"
              data-index={row.index}
              ref={virtual.measureElement}
              data-focus-home={`[data-cell="${row.index}-${WORDS}"]`}
              className="absolute top-0 left-0 w-full"
              style={{ transform: `translateY(${row.start - top}px)` }}
            >
              {heading && <GroupHeading group={heading} />}
              {own ? (
                <GalleyLine
                  line={shown(own)}
                  index={row.index}
                  current={row.index === current}
                  column={column}
                  picked={isSelected(selection, keyOf(own))}
                  editing={editing === keyOf(own)}
                  reasoned={view.sort === 'first'}
                  desk={hrefOf(own)}
                  collection={collection}
                  conflict={conflictOf(own)}
                  acts={lineActs}
                  entered={(col) => {
                    setCurrent(row.index);
                    if (col !== null) setColumn(col);
                  }}
                />
              ) : (
                <div role="row" aria-rowindex={row.index + 1} className="line">
                  <span role="gridcell" className="col-span-3 p-4 text-ink-2">
                    {s.loading}
                  </span>
                </div>
              )}
            </div>
          );
        })}
      </div>
      {asking === 'replace' && (
        <ReplaceDialog
          collection={collection}
          target={target}
          selected={selected}
          perform={(work) => void performBulk(target, work)}
          close={() => setAsking(null)}
        />
      )}
      {asking === 'round' && <RoundDialog collection={collection} target={target} close={() => setAsking(null)} />}
      {asking !== null && asking !== 'replace' && asking !== 'round' && (
        <BulkDialog
          collection={collection}
          kind={asking}
          target={target}
          rules={rules}
          perform={(work) => void performBulk(target, work).then(() => setSelection(NONE))}
          close={() => setAsking(null)}
        />
      )}
    </div>
  );
}
