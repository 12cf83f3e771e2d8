'use client';

import { createContext, useCallback, useContext, useMemo, useRef, useState, type ReactNode } from 'react';
import { strings } from '../strings/en';
import { useKeys } from '../primitives/keys';

interface Done {
  message: string;
  /** The act that can be undone; null when there is none. */
  act: string | null;
}

interface Acts {
  /** Tells what was done, and offers to undo it. */
  did(message: string, act: string | null): void;
  /** Called after an undo, so that lists draw what changed; gives back what ends that. */
  onUndo(changed: () => void): () => void;
}

const Context = createContext<Acts | null>(null);

export function useActs(): Acts {
  const acts = useContext(Context);
  if (!acts) throw new Error('useActs outside of ActsProvider');
  return acts;
}

/** Keeps what was done last, tells it to eye and ear, and undoes it. */
export function ActsProvider({ undo, children }: { undo: (act: string) => Promise<void>; children: ReactNode }) {
  const [done, setDone] = useState<Done | null>(null);
  const listeners = useRef(new Set<() => void>());
  const acts = useMemo<Acts>(
    () => ({
      did: (message, act) => setDone({ message, act }),
      onUndo: (changed) => {
        listeners.current.add(changed);
        return () => listeners.current.delete(changed);
      },
    }),
    [],
  );
  const undoLast = useCallback(async () => {
    if (!done?.act) return;
    const { act } = done;
    setDone({ message: strings.undo.undoing, act: null });
    await undo(act).then(
      () => setDone({ message: strings.undo.done, act: null }),
      () => setDone({ message: strings.failed, act }),
    );
    for (const changed of listeners.current) changed();
  }, [done, undo]);
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
