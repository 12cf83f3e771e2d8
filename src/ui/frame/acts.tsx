'use client';

import Link from 'next/link';
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { fetchJson } from '../data/queries';
import { useCommands, isEditable } from '../keys/use-commands';
import { strings } from '../strings';
import { noteOwnAct } from './own-acts';
import { savesDone } from './unsaved';
import { whatIsWrong } from './what-is-wrong';

/** Something that was done and can be undone. */
export interface Act {
  /** What it was, to stand after "Undone:": "alt text of seal.gif". */
  what: string;
  act: string;
  /** Address of the place where it was done. */
  href?: string;
}

interface Acts {
  /**
   * Says what was done, and offers to undo it.
   *
   * @param href of a place where more is to be seen
   */
  did(message: string, act?: Act | null, href?: string): void;
  /** Remembers what was done so that it can be undone, without saying it: what is saved while somebody writes. */
  remember(act: Act): void;
  /** Says where the editor is now, or what was found, to the ear only. */
  say(message: string): void;
  /** Called after an undo or a redo with the act, so that lists draw what changed; gives back what ends that. */
  onTurn(changed: (act: string) => void): () => void;
  undo(): Promise<void>;
  redo(): Promise<void>;
}

const Context = createContext<Acts | null>(null);

export function useActs(): Acts {
  const acts = useContext(Context);
  if (!acts) throw new Error('useActs outside of ActsProvider');
  return acts;
}

/** How long a message stays that asks for nothing, in milliseconds. */
const READ_MS = 8000;

/** Acts that can be undone one after the other, the latest first. */
const MOST_ACTS = 200;

interface Stacks {
  done: Act[];
  undone: Act[];
}

/** The acts of this tab, which a reload leaves where they are. */
function storedActs(key: string): Stacks {
  try {
    const stored = JSON.parse(sessionStorage.getItem(key) ?? '{}') as Partial<Stacks>;
    return { done: stored.done ?? [], undone: stored.undone ?? [] };
  } catch {
    return { done: [], undone: [] };
  }
}

export type Direction = 'undo' | 'redo';

interface Shown {
  message: string;
  /** What the button beside it does. */
  can: Direction | null;
  /** The act that it does it to; the last one without it. */
  act?: string;
  /** Where it was done. */
  href: string | null;
}

interface Props {
  collection: string;
  children: ReactNode;
}

/** Keeps what was done, says the last of it to eye and ear, and undoes and redoes it wherever the editor is by then. */
export function ActsProvider({ collection, children }: Props) {
  const key = `detto.acts.${collection}`;
  const [shown, setShown] = useState<Shown | null>(null);
  const [heard, setHeard] = useState('');
  const listeners = useRef(new Set<(act: string) => void>());
  const stacks = useRef<Stacks>({ done: [], undone: [] });
  const turning = useRef(false);
  useEffect(() => {
    stacks.current = storedActs(key);
  }, [key]);
  const store = useCallback(
    (next: Stacks) => {
      stacks.current = next;
      sessionStorage.setItem(key, JSON.stringify(next));
    },
    [key],
  );

  const message = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!shown || shown.can || shown.href) return;
    let timer = 0;
    const leave = () => {
      // Not from under the hand, nor the focus.
      if (message.current?.matches(':hover, :focus-within')) timer = window.setTimeout(leave, READ_MS);
      else setShown(null);
    };
    timer = window.setTimeout(leave, READ_MS);
    return () => window.clearTimeout(timer);
  }, [shown]);

  const turn = useCallback(
    async (direction: Direction, named?: string) => {
      // Keys that repeat wait for the one before.
      if (turning.current) return;
      const s = strings.undo;
      const [from, to] = direction === 'undo' ? (['done', 'undone'] as const) : (['undone', 'done'] as const);
      turning.current = true;
      // What is written is the last act, and is remembered once it is saved.
      await savesDone();
      const acts = stacks.current[from];
      const last = acts.find((a) => a.act === named) ?? acts.at(-1);
      if (!last) {
        turning.current = false;
        return setShown({ message: s.nothing[direction], can: null, href: null });
      }
      setShown({ message: s.doing[direction], can: null, href: null });
      try {
        await fetchJson(`/api/collections/${collection}/acts/${last.act}`, {
          method: 'POST',
          body: JSON.stringify({ turn: direction }),
        });
        const rest = stacks.current[from].filter((a) => a.act !== last.act);
        store({ ...stacks.current, [from]: rest, [to]: [...stacks.current[to], last] } as Stacks);
        setShown({
          message: s.turned[direction](last.what),
          can: direction === 'undo' ? 'redo' : 'undo',
          href: last.href ?? null,
          act: last.act,
        });
      } catch {
        const message = (await whatIsWrong()) ?? strings.failed;
        setShown({ message, can: direction, href: null, act: last.act });
      } finally {
        turning.current = false;
      }
      for (const changed of listeners.current) changed(last.act);
    },
    [collection, store],
  );

  const acts = useMemo<Acts>(() => {
    const remember = (act: Act) => {
      noteOwnAct(act.act);
      const { done } = stacks.current;
      // What is saved once more under its act keeps its place.
      if (done.some((a) => a.act === act.act))
        return store({ ...stacks.current, done: done.map((a) => (a.act === act.act ? act : a)) });
      store({ done: [...done, act].slice(-MOST_ACTS), undone: [] });
      // The buttons beside an older message would turn this act, not the one it names.
      setShown((before) => (before?.can ? null : before));
    };
    return {
      remember,
      did: (message, act = null, href) => {
        if (act) remember(act);
        setShown({ message, can: act ? 'undo' : null, href: href ?? null, ...(act ? { act: act.act } : {}) });
      },
      // The same words twice are two messages.
      say: (message) => setHeard((before) => (before === message ? `${message}\u00a0` : message)),
      onTurn: (changed) => {
        listeners.current.add(changed);
        return () => listeners.current.delete(changed);
      },
      undo: () => turn('undo'),
      redo: () => turn('redo'),
    };
  }, [store, turn]);

  // In a field that was written in, the browser's own undo comes first.
  const ofField = (event: KeyboardEvent) =>
    isEditable(event.target) &&
    (event.target as HTMLElement).dataset['written'] !== 'no' &&
    // One that is being left takes no undo any more.
    !(event.target as HTMLTextAreaElement).readOnly;
  useCommands({
    'all.undo': (event) => (ofField(event) ? false : void turn('undo')),
    'all.redo': (event) => (ofField(event) ? false : void turn('redo')),
  });
  return (
    <Context.Provider value={acts}>
      {children}
      <div role="status" className="sr-only">
        {heard}
      </div>
      <div ref={message} role="status" className={shown ? 'acts' : 'sr-only'}>
        {shown && (
          <>
            <span>{shown.message}</span>
            {shown.href && (
              <Link href={shown.href} prefetch={false}>
                {strings.undo.show}
              </Link>
            )}
            {shown.can && (
              <button type="button" className="link" onClick={() => void turn(shown.can!, shown.act)}>
                {strings.undo[shown.can]}
              </button>
            )}
            <button type="button" className="link" onClick={() => setShown(null)}>
              {strings.undo.dismiss}
            </button>
          </>
        )}
      </div>
    </Context.Provider>
  );
}
