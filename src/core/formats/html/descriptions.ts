import type { Description } from '../../model/appearance';
import type { NameIndex } from './accname';
import { attr, isElement, isText, parentOf, textOf, type Element, descendants } from './tree';
import { isBlank } from '../../white-space';

/** What a link to a longer description is called (G73; common practice), in the languages of the word lists. */
const DESCRIPTION_LINK =
  /^\[?(?:d|(?:long |full |text |image )?(?:description|transcript)|text(?: version| alternative)|described? (?:in|as) text|(?:lange |ausführliche )?(?:bild)?beschreibung|textfassung|description (?:longue|détaillée)|descripción (?:larga|detallada)|descrizione (?:lunga|estesa)|lange beschrijving|descrição (?:longa|detalhada))\]?(?:$|[\s:])/i;

/**
 * What is attached to a picture as a longer description: `aria-describedby` and `aria-details` (WAI-ARIA 1.2), `longdesc`
 * (obsolete, HTML Living Standard 16.2), `details` beside it, and a link right after it (G73).
 *
 * @param figure the `figure` that it stands in
 */
export function descriptionsOf(node: Element, figure: Element | null, index: NameIndex): Description[] {
  const out: Description[] = [];
  for (const by of ['aria-describedby', 'aria-details'] as const)
    for (const id of attr(node, by)?.split(/\s+/).filter(Boolean) ?? [])
      out.push({ by, target: id, leads: leadsTo(id, index) });
  const longdesc = attr(node, 'longdesc');
  if (longdesc !== undefined) out.push({ by: 'longdesc', target: longdesc.trim(), leads: follow(longdesc, index) });
  const after = nextElement(node) ?? (isWrapped(node) ? nextElement(parentOf(node) as Element) : null);
  const details = after?.tagName === 'details' ? after : figure && find(figure, 'details');
  if (details)
    out.push({ by: 'details', target: '', leads: isBlank(textOf(details)) ? 'to an empty place' : 'to text' });
  const link = descriptionLinkAfter(node);
  const href = link ? attr(link, 'href') : undefined;
  if (link && href !== undefined) out.push({ by: 'link', target: href, leads: follow(href, index) });
  return out;
}

/** Elements between a picture and the link to its description. */
const MOST_LEVELS = 5;
/** UTF-16 code units of a text that can be such a link and nothing else. */
const MOST_LINK = 120;

/** What an element says, where it is as short as such a link and holds few nodes; null where it says more. */
function shortText(element: Element): string | null {
  const inside = descendants(element, { limit: MOST_LINK + 1 });
  if (inside.length > MOST_LINK) return null;
  const text = inside
    .map((n) => (isText(n) ? n.value : ''))
    .join('')
    .trim();
  return text.length <= MOST_LINK ? text : null;
}

/** The link to a description that follows a picture at once, by itself or as all that an element says: “[D]”. */
function descriptionLinkAfter(picture: Element): Element | null {
  let inner = picture;
  for (let up = 0; up < MOST_LEVELS; up++) {
    const after = nextElement(inner);
    const text = after && shortText(after);
    if (after && text && DESCRIPTION_LINK.test(text)) {
      if (after.tagName === 'a') return after;
      const links = descendants(after, { limit: MOST_LINK }).filter(
        (n): n is Element => isElement(n) && n.tagName === 'a',
      );
      if (links.length === 1) return links[0]!;
    }
    const parent = parentOf(inner);
    if (after || !parent || !isElement(parent) || parent.tagName === 'body' || shortText(parent) !== '') return null;
    inner = parent;
  }
  return null;
}

function leadsTo(id: string, index: NameIndex): Description['leads'] {
  const target = index.byId(id);
  if (!target) return 'nowhere';
  if (!isBlank(textOf(target)) || !isBlank(attr(target, 'aria-label')) || !isBlank(attr(target, 'alt')))
    return 'to text';
  return find(target, 'img') ? 'to text' : 'to an empty place';
}

function follow(address: string, index: NameIndex): Description['leads'] {
  const target = address.trim();
  if (target === '' || target === '#') return 'nowhere';
  if (!target.startsWith('#')) return 'elsewhere';
  try {
    return leadsTo(decodeURIComponent(target.slice(1)), index);
  } catch {
    return leadsTo(target.slice(1), index);
  }
}

/** Among more siblings nothing is looked for: finding each one's place would take too long. */
const MOST_SIBLINGS = 4000;

function nextElement(node: Element): Element | null {
  const siblings = parentOf(node)?.childNodes ?? [];
  if (siblings.length > MOST_SIBLINGS) return null;
  for (let i = siblings.indexOf(node) + 1; i > 0 && i < siblings.length; i++) {
    const next = siblings[i]!;
    if (isElement(next)) return next;
    if (isText(next) && !isBlank(next.value)) return null;
  }
  return null;
}

function isWrapped(node: Element): boolean {
  const parent = parentOf(node);
  return parent !== null && isElement(parent) && ['a', 'picture', 'p', 'span'].includes(parent.tagName);
}

function find(root: Element, tag: string): Element | null {
  for (const n of descendants(root)) if (isElement(n) && n.tagName === tag) return n;
  return null;
}
