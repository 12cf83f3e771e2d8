'use client';

import { useEffect, useState, useSyncExternalStore } from 'react';
import { Autosaver, type Written } from './autosaver';

/**
 * An autosaver for as long as its picture is on the Desk.
 *
 * @param key of the picture and place
 * @param initial what the page says; followed as long as nothing is written
 * @param since the revision of what the page says
 */
export function useAutosave(key: string, initial: Written, save: Parameters<Autosaver['saveWith']>[0], since?: number) {
  const [saver] = useState(() => new Autosaver(`detto.unkept.${key}`, initial, () => localStorage, since));
  const state = useSyncExternalStore(saver.subscribe, saver.get, saver.get);
  const { text } = initial;
  useEffect(() => {
    saver.saveWith(save);
  });
  useEffect(() => saver.pageSays(text, since), [saver, text, since]);
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
