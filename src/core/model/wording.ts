import type { Appearance } from './appearance';
import { isBlank } from '../formats/html/tree';

/**
 * An appearance as it will be once a wording is in its page: what is heard, and its state. `''` is silence.
 * Mirrors what `patchPage` writes.
 */
export function withWords(a: Appearance, text: string): Appearance {
  const takesAlt = a.element === 'img' || a.element === 'area' || a.element === 'input';
  if (text === '') {
    const silenced = takesAlt ? { alt: '', title: null } : { title: a.title };
    // An empty alt leaves a button or an area without a name; only a plain picture falls silent.
    const isControl = a.element === 'input' || (a.element === 'area' && a.control !== null);
    return {
      ...a,
      ...silenced,
      ariaLabel: null,
      name: '',
      nameSource: takesAlt ? 'alt' : null,
      ignored: !isControl,
      state: isControl ? 'unsaid' : 'silent',
      control: nameControl(a, ''),
    };
  }
  const label = !takesAlt || !isBlank(a.ariaLabel);
  return {
    ...a,
    alt: takesAlt ? text : a.alt,
    ariaLabel: label ? text : a.ariaLabel,
    role: a.role === 'none' ? 'image' : a.role,
    name: text.replace(/\s+/g, ' ').trim(),
    nameSource: label ? 'aria-label' : 'alt',
    ignored: a.hidden !== null,
    state: isBlank(text) ? 'unsaid' : 'said',
    control: nameControl(a, text),
  };
}

/** A control whose name comes from this picture takes its new words. */
function nameControl(a: Appearance, text: string): Appearance['control'] {
  const c = a.control;
  if (!c || c.text !== '') return c;
  const fromPicture = c.defaultName || isBlank(c.name) || c.name === a.name;
  return fromPicture ? { ...c, name: text, defaultName: false } : c;
}

/** The text that delivery would put back: what the page says now, `''` for silent, null for unsaid. */
export function writtenWords(a: Appearance): string | null {
  if (a.state === 'silent') return '';
  if (a.state === 'unsaid') return null;
  return a.nameSource === 'alt' ? (a.alt ?? '') : a.name;
}
