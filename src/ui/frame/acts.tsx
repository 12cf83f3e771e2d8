'use client';

import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { strings } from '../strings';
import { whatIsWrong } from './what-is-wrong';
import { useKeys } from '../primitives/keys';

interface Act {
  /** What was done, as one sentence. */
  message: string;
  act: string;
}

interface Done {
  message: string;
  /** The act that can be undone; null when there is none. */
  act: string | null;
}

interface Acts {
  /** Tells what was done, and offers to undo it. */
  did(message: string, act: string | null): void;
  /** Remembers what was done so that it can be undone, without telling it: what is saved while somebody writes. */
  remember(message: string, act: string): void;
  /** Called after an undo with the act, so that lists draw what changed; gives back what ends that. */
  onUndo(changed: (act: string) => void): () => void;
}

const Context = createContext<Acts | null>(null);

export function useActs(): Acts {
  const acts = useContext(Context);
  if (!acts) throw new Error('useActs outside of ActsProvider');
  return acts;
}

/** Acts that can be undone one after the other, the latest first. */
const MOST_ACTS = 100;

/** The acts of this tab, which a reload leaves where they are. */
function storedActs(key: string): Act[] {
  try {
    return JSON.parse(sessionStorage.getItem(key) ?? '[]') as Act[];
  } catch {
    return [];
  }
}

interface Props {
  collection: string;
  undo(act: string): Promise<void>;
  children: ReactNode;
}

/** Keeps what was done, tells the last of it to eye and ear, and undoes it wherever the editor is by then. */
export function ActsProvider({ collection, undo, children }: Props) {
  const key = `detto.acts.${collection}`;
  const [done, setDone] = useState<Done | null>(null);
  const listeners = useRef(new Set<(act: string) => void>());
  const stack = useRef<Act[]>([]);
  useEffect(() => {
    stack.current = storedActs(key);
  }, [key]);
  const acts = useMemo<Acts>(() => {
    const remember = (message: string, act: string) => {
      stack.current = [...stack.current.filter((a) => a.act !== act), { message, act }].slice(-MOST_ACTS);
      sessionStorage.setItem(key, JSON.stringify(stack.current));
    };
    return {
      remember,
      did: (message, act) => {
        if (act) remember(message, act);
        setDone({ message, act });
      },
      onUndo: (changed) => {
        listeners.current.add(changed);
        return () => listeners.current.delete(changed);
      },
    };
  }, [key]);
  const undoLast = useCallback(async () => {
    const last = stack.current.at(-1);
    if (!last) return setDone({ message: strings.undo.nothing, act: null });
    setDone({ message: strings.undo.undoing, act: null });
    try {
      await undo(last.act);
      stack.current = stack.current.filter((a) => a.act !== last.act);
      sessionStorage.setItem(key, JSON.stringify(stack.current));
      setDone({ message: strings.undo.undone(last.message), act: stack.current.at(-1)?.act ?? null });
    } catch {
      setDone({ message: (await whatIsWrong()) ?? strings.failed, act: last.act });
    }
    for (const changed of listeners.current) changed(last.act);
  }, [key, undo]);
  useKeys({ u: () => void undoLast() });
  return (
    <Context.Provider value={acts}>
      {children}
      <div role="status" className={done ? 'acts' : 'sr-only'}>
        {done && (
          <>
            <span>{done.message}</span>
            {done.act && (
              <button type="button" className="link" onClick={() => void undoLast()}>
                {strings.undo.act}
              </button>
            )}
            <button type="button" className="link" onClick={() => setDone(null)}>
              {strings.undo.dismiss}
            </button>
          </>
        )}
      </div>
    </Context.Provider>
  );
}
