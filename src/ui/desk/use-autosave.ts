'use client';

import { useEffect, useState, useSyncExternalStore } from 'react';
import { backupKey, noteField, noteSave, noteUnsaved } from '../frame/unsaved';
import { Autosaver, type Written } from './autosaver';

/**
 * An autosaver for as long as its picture is on the Desk.
 *
 * @param key of the picture and place
 * @param initial what the page says; followed as long as nothing is written
 * @param since the revision of what the page says
 */
export function useAutosave(key: string, initial: Written, save: Parameters<Autosaver['saveWith']>[0], since?: number) {
  const [saver] = useState(() => new Autosaver(backupKey(key), initial, () => localStorage, since));
  const state = useSyncExternalStore(saver.subscribe, saver.get, saver.get);
  const { text } = initial;
  useEffect(() => {
    saver.saveWith(save);
  });
  useEffect(() => saver.syncFromServer(text, since), [saver, text, since]);
  const { status } = state;
  useEffect(() => noteUnsaved(key, status === 'problem'), [key, status]);
  useEffect(() => {
    saver.restore();
    const leave = () => saver.leave();
    window.addEventListener('pagehide', leave);
    const end = noteField(() => saver.flush());
    return () => {
      end();
      window.removeEventListener('pagehide', leave);
      // Nobody waits for it: what cannot be saved now is tried again, and said in the frame.
      const stop = saver.subscribe(() => noteUnsaved(key, saver.get().status === 'problem'));
      noteSave(
        saver.flush().then(() => {
          if (saver.get().status !== 'problem') stop();
        }),
      );
    };
  }, [saver, key]);
  return { saver, ...state };
}
