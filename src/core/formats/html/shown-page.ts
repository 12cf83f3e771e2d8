/** A start tag of a picture in the source of a page. */
export interface ShownTag {
  /** UTF-16 code units in the decoded source, half open. */
  start: number;
  end: number;
  /** Where its picture can be shown from; null for one that cannot. */
  src: string | null;
  /** It is the one that is looked for. */
  isHere: boolean;
}

/** Id of the picture that is looked for. */
export const HERE = 'detto-here';

/**
 * The source of a page as it can be shown apart from its site: its pictures come from here, nothing else is asked for, and
 * one is outlined. Of attributes
 * with one name the first counts (HTML Living Standard, 13.2.5.33), so what is put first stands for what the page has.
 *
 * @param tags in any order; those that overlap another are left as they are
 */
export function shownPage(source: string, tags: readonly ShownTag[]): string {
  let out = '';
  let at = 0;
  for (const { start, end, src, isHere } of [...tags].sort((a, b) => a.start - b.start)) {
    if (start < at || end > source.length) continue;
    const name = /^<[a-z][^\s/>]*/i.exec(source.slice(start, end))?.[0];
    if (!name) continue;
    const shown = /^<(?:img|input|image)$/i.test(name)
      ? ` src="${src ?? ''}" srcset=""`
      : /^<source$/i.test(name)
        ? ' srcset="" media="not all"'
        : '';
    // The place to go to is an element of its own: a button that is gone to would take the focus.
    const mark = isHere ? `<span id="${HERE}"></span>` : '';
    const outline = isHere ? ' style="outline: 4px solid #243f8f; outline-offset: 3px"' : '';
    out += source.slice(at, start) + mark + name + shown + outline + source.slice(start + name.length, end);
    at = end;
  }
  return (out + source.slice(at)).replace(CONNECTING, '<detto-$1');
}

/**
 * Elements for which a browser opens a connection although a content security policy keeps it from loading them: hints
 * (W3C Resource Hints, 2.1 and 2.2), and frames, whose host it connects to before it asks whether they may be shown
 * (Chromium 156). They are made elements that mean nothing.
 */
const CONNECTING = /<(link|i?frame|object|embed|portal|fencedframe)(?=[\s/>])/gi;
