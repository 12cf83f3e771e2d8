/**
 * Puts words into a field as if they had been typed over what stands there, so that the browser's own undo brings that
 * back (`execCommand` is the one way to this; HTML Living Standard leaves it to the Editing APIs).
 */
export function writeInto(field: HTMLTextAreaElement, words: string): void {
  field.focus();
  field.select();
  if (field.value === words) return;
  // Where a browser no longer has it, the caller's own state sets the field.
  document.execCommand?.(words === '' ? 'delete' : 'insertText', false, words);
}
