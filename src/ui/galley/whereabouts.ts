import { useEffect } from 'react';

/** Where the editor was in a view, kept with the entry of the browser's history. */
export interface Whereabouts {
  current: number;
  top: number;
}

/** Where the editor left the view that the browser's history came back to; null for a new one. */
export function notedWhereabouts(): Whereabouts | null {
  return (history.state as { dettoGalley?: Whereabouts } | null)?.dettoGalley ?? null;
}

/** Keeps where the editor is in a view, as the line in hand and the scroll position in pixels. */
export function useNotedWhereabouts(current: number, view: string): void {
  useEffect(() => {
    const note = () => {
      const dettoGalley: Whereabouts = { current, top: window.scrollY };
      history.replaceState({ ...(history.state as object | null), dettoGalley }, '');
    };
    const timer = setTimeout(note, 150);
    const scrolled = () => {
      clearTimeout(waiting);
      waiting = setTimeout(note, 150);
    };
    let waiting = timer;
    window.addEventListener('scroll', scrolled, { passive: true });
    return () => {
      clearTimeout(waiting);
      window.removeEventListener('scroll', scrolled);
    };
  }, [current, view]);
}
