import { useEffect, useRef, useState } from 'react';
import type { TextField } from '@/core/model/texts';
import { keepText } from '../frame/keep';
import type { Autosaver, SaveStatus } from './autosaver';
import { useAutosave } from './use-autosave';

export interface WrittenField {
  saver: Autosaver;
  status: SaveStatus;
  text: string;
  /** One that somebody else saved meanwhile; null when there is none to choose from. */
  other: string | null;
  change(text: string): void;
  choose(choice: 'ours' | 'theirs'): void;
}

interface Field {
  collection: string;
  picture: number;
  field: TextField;
  /** For a title or a caption: the places that it is for, the shown one first. */
  places: readonly number[];
  /** As it is stored now. */
  saved: string;
  /** Called after each save, with its act, or null where somebody else's text is to be chosen from first. */
  done(act: string | null): void;
}

/**
 * A text of a picture other than its alt text while it is written: saved behind, and held against what somebody else saved
 * meanwhile.
 */
export function useFieldText({ collection, picture, field, places, saved, done }: Field): WrittenField {
  const base = useRef(saved);
  const [other, setOther] = useState<string | null>(null);
  const key = `${collection}/${picture}/${field}${places.length > 0 ? `@${places[0]}` : ''}`;
  const { saver, status, value } = useAutosave(
    key,
    { text: saved, places: places.length > 0 ? new Set(places) : 'all', by: 'person' },
    async ({ text, places: at }, act) => {
      const asked = { field, picture, places: at === 'all' ? [] : [...at], text: text.trim(), act, base: base.current };
      const { theirs } = await keepText({ collection, ...asked });
      setOther(theirs);
      if (theirs === null) base.current = text.trim();
      done(theirs === null ? act : null);
      return { conflicts: theirs === null ? [] : [theirs], revision: 0 };
    },
  );
  useEffect(() => {
    if (saver.currentAct === '') base.current = saved;
  }, [saver, saved]);
  const change = (text: string) => saver.change(places.length > 0 ? { text, places: new Set(places) } : { text });
  return {
    saver,
    status,
    text: value.text,
    other,
    change,
    choose: (choice) => {
      const theirs = other ?? '';
      base.current = theirs;
      setOther(null);
      if (choice === 'theirs') saver.forget(theirs);
      else change(value.text);
    },
  };
}
