import { isDocumentObject, takesAlt, type Appearance, type Control } from './appearance';
import { isBlank } from '../white-space';

/**
 * An appearance as it will be once a wording is in its page: what is heard, and its state. `''` makes it decorative.
 * Mirrors what `patchPage` writes.
 */
export function withWords(a: Appearance, text: string): Appearance {
  const hasAlt = takesAlt(a);
  if (text === '') {
    // An empty alt leaves a button or an area without a name; only a plain picture becomes decorative.
    const isControl = a.element === 'input' || (a.element === 'area' && a.context.control !== null);
    return {
      ...a,
      state: isControl ? 'missing' : 'decorative',
      markup: {
        ...a.markup,
        ...(hasAlt ? { alt: '' } : {}),
        ...(hasAlt && !isDocumentObject(a) ? { title: null } : {}),
        ariaLabel: null,
      },
      accessible: { ...a.accessible, name: '', nameSource: hasAlt ? 'alt' : null, ignored: !isControl },
      context: { ...a.context, control: nameControl(a, '') },
    };
  }
  const label = !hasAlt || !isBlank(a.markup.ariaLabel);
  return {
    ...a,
    state: isBlank(text) ? 'missing' : 'described',
    markup: {
      ...a.markup,
      alt: hasAlt ? text : a.markup.alt,
      ariaLabel: label ? text : a.markup.ariaLabel,
    },
    accessible: {
      ...a.accessible,
      role: a.accessible.role === 'none' ? 'image' : a.accessible.role,
      name: text.replace(/\s+/g, ' ').trim(),
      nameSource: label ? 'aria-label' : 'alt',
      ignored: a.accessible.hidden !== null,
    },
    context: { ...a.context, control: nameControl(a, text) },
  };
}

/** Texts that are accepted and not in the page yet; null where the page stands. */
export interface AcceptedTexts {
  words: string | null;
  title: string | null;
  caption: string | null;
}

/** An appearance as it will be once all its accepted texts are in its page. Mirrors what `patchPage` writes. */
export function withTexts(a: Appearance, { words, title, caption }: AcceptedTexts): Appearance {
  let out = a;
  if (caption !== null) out = { ...out, context: { ...out.context, caption: caption === '' ? null : caption } };
  if (title !== null) out = withTitle(out, title);
  return words === null ? out : withWords(out, words);
}

/** With another title, which is its name where nothing else names it (HTML-AAM 1.0, 4.1.9); `''` for none. */
function withTitle(a: Appearance, title: string): Appearance {
  const out = { ...a, markup: { ...a.markup, title: title === '' ? null : title } };
  const { nameSource, hidden, name, ignored } = a.accessible;
  if (hidden !== null || (ignored && a.markup.alt !== '')) return out;
  const isNamed = !isBlank(title);
  // A title beside an empty alt names nothing, and the picture is announced all the same (accname-cases.json).
  if (a.markup.alt === '' && name === '')
    return {
      ...out,
      state: isNamed ? 'missing' : 'decorative',
      accessible: {
        ...a.accessible,
        ...(isNamed ? { role: 'image', nameSource: 'alt' } : { role: 'none', nameSource: null }),
        ignored: !isNamed,
      },
    };
  if (nameSource !== 'title' && name !== '') return out;
  return {
    ...out,
    state: isNamed ? 'described' : 'missing',
    accessible: {
      ...a.accessible,
      name: isNamed ? title.replace(/\s+/g, ' ').trim() : '',
      nameSource: isNamed ? 'title' : null,
      ignored: false,
    },
    context: { ...a.context, control: nameControl(a, isNamed ? title : '') },
  };
}

/** A control whose name comes from this picture takes its new words. */
function nameControl(a: Appearance, text: string): Control | null {
  const c = a.context.control;
  if (!c || c.text !== '') return c;
  const fromPicture = c.defaultName || isBlank(c.name) || c.name === a.accessible.name;
  return fromPicture ? { ...c, name: text, defaultName: false } : c;
}

/** The text that delivery would put back: what the page says now, `''` for decorative, null for missing. */
export function writtenWords(a: Appearance): string | null {
  if (a.state === 'decorative') return '';
  if (a.state === 'missing') return null;
  return a.accessible.nameSource === 'alt' ? (a.markup.alt ?? '') : a.accessible.name;
}
