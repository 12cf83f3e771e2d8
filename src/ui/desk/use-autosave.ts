'use client';

import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { z } from 'zod';

const Backup = z.object({ text: z.string(), act: z.string().min(1) });
type Backup = z.infer<typeof Backup>;

const PAUSE_MS = 700;
const RETRY_MS = 4000;

export interface Written {
  text: string;
  /** Places the words are for, by id, or every place of the picture. */
  places: ReadonlySet<number> | 'all';
  by: 'person' | 'drafter';
}

export type SaveStatus = 'untouched' | 'unkept' | 'keeping' | 'kept' | 'problem';

interface Options {
  /** Under which what is not kept yet survives a reload. */
  key: string;
  initial: Written;
  save(written: Written, act: string): Promise<void>;
}

/** Keeps what is written a moment after the last change; nothing is lost on reload or while Detto is away. */
export function useAutosave({ key, initial, save }: Options) {
  const backup = `detto.unkept.${key}`;
  const [value, setValue] = useState(initial);
  const [status, setStatus] = useState<SaveStatus>('untouched');
  const latest = useRef({ value, save, dirty: false, act: '' });
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const saving = useRef<Promise<void>>(Promise.resolve());
  useEffect(() => {
    latest.current.save = save;
  });

  const flush = useCallback((): Promise<void> => {
    if (timer.current) clearTimeout(timer.current);
    const work = async () => {
      const state = latest.current;
      if (!state.dirty) return;
      state.dirty = false;
      const written = state.value;
      setStatus('keeping');
      try {
        await state.save(written, state.act);
        if (state.dirty) return;
        localStorage.removeItem(backup);
        setStatus('kept');
      } catch {
        state.dirty = true;
        setStatus('problem');
        timer.current = setTimeout(() => void flush(), RETRY_MS);
      }
    };
    return (saving.current = saving.current.then(work));
  }, [backup]);

  const change = useCallback(
    (next: Written) => {
      const state = latest.current;
      state.act ||= crypto.randomUUID();
      Object.assign(state, { value: next, dirty: true });
      setValue(next);
      setStatus('unkept');
      localStorage.setItem(backup, JSON.stringify({ text: next.text, act: state.act } satisfies Backup));
      if (timer.current) clearTimeout(timer.current);
      timer.current = setTimeout(() => void flush(), PAUSE_MS);
    },
    [backup, flush],
  );

  /** What is written was taken back elsewhere: later changes are a new act. */
  const forget = useCallback(() => {
    if (timer.current) clearTimeout(timer.current);
    Object.assign(latest.current, { dirty: false, act: '' });
    localStorage.removeItem(backup);
    setStatus('untouched');
  }, [backup]);

  const reset = useCallback((next: Written) => {
    latest.current.value = next;
    setValue(next);
  }, []);

  // What stands on the page, or was kept elsewhere, shows as long as nothing was written here.
  const { text } = initial;
  useEffect(() => {
    if (latest.current.act === '') reset({ ...latest.current.value, text });
  }, [text, reset]);

  useEffect(() => {
    const left = Backup.safeParse(JSON.parse(localStorage.getItem(backup) ?? 'null'));
    if (left.success && left.data.text !== latest.current.value.text) {
      // Under the same act, so that what the last page may still have kept is not kept twice.
      latest.current.act = left.data.act;
      change({ ...latest.current.value, text: left.data.text });
    }
    const away = () => {
      if (document.visibilityState === 'hidden') void flush();
    };
    document.addEventListener('visibilitychange', away);
    return () => {
      document.removeEventListener('visibilitychange', away);
      void flush();
    };
  }, [backup, change, flush]);

  return useMemo(() => ({ value, status, change, flush, forget, reset }), [value, status, change, flush, forget, reset]);
}
