import { useEffect, useRef, useState, type RefObject } from 'react';
import { withLines } from '@/core/words/long-description';
import type { Autosaver, SaveStatus } from './autosaver';
import type { DeskActions } from './desk-actions';
import { useAutosave } from './use-autosave';

interface WrittenDescription {
  saver: Autosaver;
  status: SaveStatus;
  text: string;
  /** One that somebody else saved meanwhile; null when there is none to choose from. */
  other: string | null;
  change(text: string): void;
  choose(choice: 'ours' | 'theirs'): void;
  /** Takes a text of the history once more. */
  use(text: string): void;
  /** Adds lines that were read in the picture, and goes there. */
  add(lines: readonly string[]): void;
}

/**
 * A picture's long description while it is written: saved behind, and held against what somebody else saved meanwhile.
 *
 * @param saved as it is stored now
 * @param writing the field it is written in
 * @param done called after each save, with its act, or null where somebody else's text is to be chosen from first
 */
export function useLongDescription(
  collection: string,
  picture: number,
  saved: string,
  writing: RefObject<HTMLTextAreaElement | null>,
  saveLong: DeskActions['saveLong'],
  done: (act: string | null) => void,
): WrittenDescription {
  const base = useRef(saved);
  const [other, setOther] = useState<string | null>(null);
  const { saver, status, value } = useAutosave(
    `${collection}/${picture}/long`,
    { text: saved, places: 'all', by: 'person' },
    async ({ text }, act) => {
      const theirs = await saveLong(collection, picture, text.trim(), act, base.current);
      setOther(theirs);
      if (theirs === null) base.current = text.trim();
      done(theirs === null ? act : null);
      return { conflicts: theirs === null ? [] : [theirs], revision: 0 };
    },
  );
  useEffect(() => {
    if (saver.currentAct === '') base.current = saved;
  }, [saver, saved]);
  return {
    saver,
    status,
    text: value.text,
    other,
    change: (text) => saver.change({ text }),
    choose: (choice) => {
      const theirs = other ?? '';
      base.current = theirs;
      setOther(null);
      if (choice === 'theirs') saver.forget(theirs);
      else saver.change({ text: value.text });
      writing.current?.focus();
    },
    use: (text) => {
      saver.change({ text });
      writing.current?.focus();
    },
    add: (lines) => {
      saver.change({ text: withLines(value.text, lines) });
      writing.current?.closest('details')?.setAttribute('open', '');
      writing.current?.focus();
    },
  };
}
