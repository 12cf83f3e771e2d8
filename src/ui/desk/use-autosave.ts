'use client';

import { useEffect, useState, useSyncExternalStore } from 'react';
import { Autosaver, type Written } from './autosaver';

/**
 * An autosaver for as long as its picture is on the Desk.
 *
 * @param key of the picture and place
 * @param initial what the page says; followed as long as nothing is written
 */
export function useAutosave(key: string, initial: Written, save: Parameters<Autosaver['saveWith']>[0]) {
  const [saver] = useState(() => new Autosaver(`detto.unkept.${key}`, initial, () => localStorage));
  const state = useSyncExternalStore(saver.subscribe, saver.get, saver.get);
  const { text } = initial;
  useEffect(() => {
    saver.saveWith(save);
  });
  useEffect(() => saver.pageSays(text), [saver, text]);
  useEffect(() => {
    saver.restore();
    const leave = () => saver.leave();
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('pagehide', leave);
      void saver.flush();
    };
  }, [saver]);
  return { saver, ...state };
}
