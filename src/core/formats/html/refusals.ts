import type { Part } from '../../model/document';
import { takesNoWords, type Appearance, type AppearanceElement } from '../../model/appearance';
import type { Message } from '../../model/message';

/** Elements below which something can stand: what they show takes room on the page. */
export const PLACEABLE: readonly AppearanceElement[] = ['img', 'svg', 'object', 'embed', 'role-img', 'canvas'];

/** Elements whose `title` attribute titles the picture; an `svg` has an element for it. */
const TAKE_TITLE: readonly AppearanceElement[] = ['img', 'area', 'input', 'object', 'embed', 'role-img', 'canvas'];

/** Why no alt text can be put into the source for an appearance; null when it can. */
export function refusalFor(a: Appearance): Message | null {
  if (a.location.kind === 'script') return { id: 'refusal.script' };
  if (takesNoWords(a)) return { id: `refusal.${a.element}` };
  if (a.markup.templated) return { id: 'refusal.template' };
  if (a.accessible.nameSource === 'aria-labelledby') return { id: 'refusal.labelledby' };
  return null;
}

/** Why its element cannot be given a title; null when it can. */
export function titleRefusalFor(a: Appearance): Message | null {
  if (a.location.kind === 'script') return { id: 'refusal.script' };
  if (a.context.wordsOnly) return { id: 'refusal.document-title' };
  if (!TAKE_TITLE.includes(a.element)) return { id: 'refusal.no-title' };
  return a.markup.templated ? { id: 'refusal.template' } : null;
}

/** Why nothing can be put below it or tied to it; null when it can. */
export function refusalBeside(a: Appearance, part: Exclude<Part, 'attributes'>): Message | null {
  if (a.location.kind === 'script') return { id: 'refusal.script' };
  if (a.context.wordsOnly) return { id: part === 'caption' ? 'refusal.document-caption' : 'refusal.document-beside' };
  if (part === 'caption') {
    if (a.context.captionSlot === 'markup') return { id: 'refusal.caption-markup' };
    return a.context.captionSlot ? null : { id: 'refusal.no-figure' };
  }
  if (!PLACEABLE.includes(a.element)) return { id: 'refusal.no-room' };
  return part === 'long-description' && a.markup.templated ? { id: 'refusal.template' } : null;
}

/** Whether a long description of the picture is written into the page at an appearance. */
export const takesLongDescription = (a: Appearance): boolean =>
  a.state !== 'decorative' && a.accessible.hidden === null && refusalBeside(a, 'long-description') === null;
