/** Collapses HTML's own white space (not nbsp), as a browser does before it says a name. */
export function collapse(text: string): string {
  return text.replace(/[ \t\n\r\f]+/g, ' ').replace(/^ | $/g, '');
}

/** True for a text in which nothing can be heard: white space, nbsp, zero-width characters only. */
export function isBlank(text: string | undefined | null): boolean {
  return !text || !/[^\s\u200b-\u200d\u2060\ufeff\u00ad]/.test(text);
}
