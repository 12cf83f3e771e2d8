import type { Appearance } from '../../model/appearance';
import { MOST_APPEARANCES, type SourceReading } from '../../model/page';

/**
 * One reading of a page out of two: its source, and what a browser made of it. What stands in both is heard as the
 * browser has it and keeps its place in the source, where its words can be changed; then comes what only a script
 * puts there. What the browser does not show (a fallback for readers without scripts, a picture that a script takes
 * away) stays, hidden.
 *
 * @param base what references of the painted page are resolved against
 */
export function mergeReadings(source: SourceReading, rendered: SourceReading, base: string): SourceReading {
  const partner = matched(source, rendered, base);
  const taken = new Set(partner.values());
  const inSource = source.appearances.map((a) => {
    const painted = partner.get(a);
    if (!painted)
      return a.accessible.hidden
        ? a
        : { ...a, accessible: { ...a.accessible, hidden: 'not rendered' as const, ignored: true } };
    // The markup of an inline drawing is what it is known by, so it stays as the source has it.
    const { svg, templated } = a.markup;
    return {
      ...painted,
      order: a.order,
      markup: { ...painted.markup, svg, templated },
      context: { ...painted.context, place: a.context.place },
      location: a.location,
    };
  });
  const fromScripts = rendered.appearances.filter((a) => !taken.has(a));
  const byScript = fromScripts.slice(0, MOST_APPEARANCES - inSource.length);
  const both = (key: 'links' | 'unfollowed') => [...new Set([...source[key], ...rendered[key]])];
  return {
    ...rendered,
    title: rendered.title || source.title,
    description: rendered.description ?? source.description,
    links: both('links'),
    unfollowed: both('unfollowed'),
    directives: [...new Set([...source.directives, ...rendered.directives])],
    sheets: source.sheets,
    shell: source.shell,
    isDynamic: source.isDynamic,
    leftOut: Math.max(source.leftOut, rendered.leftOut) + fromScripts.length - byScript.length,
    appearances: [...inSource, ...byScript.map((a, i) => ({ ...a, order: inSource.length + i }))],
  };
}

/** The painted appearance of each of the source: by what it shows and where, then what it shows, then where. */
function matched(source: SourceReading, rendered: SourceReading, base: string): Map<Appearance, Appearance> {
  const fileOf = (a: Appearance, against: string | null) => {
    try {
      return a.markup.src?.trim() ? new URL(a.markup.src.trim(), new URL(against ?? base, base)).href : '';
    } catch {
      return a.markup.src!;
    }
  };
  const files = new Map<Appearance, string>();
  for (const a of source.appearances) files.set(a, fileOf(a, a.markup.sheet ?? source.base));
  for (const a of rendered.appearances) files.set(a, fileOf(a, null));
  const isEmpty = (a: Appearance) =>
    a.markup.src === null || a.markup.src === '' || a.markup.src.startsWith('data:') || a.markup.lazy;
  const partner = new Map<Appearance, Appearance>();
  const taken = new Set<Appearance>();
  const pair = (key: (a: Appearance) => string | null, of = source.appearances) => {
    const free = new Map<string, Appearance[]>();
    for (const a of rendered.appearances) {
      const k = taken.has(a) ? null : key(a);
      if (k === null) continue;
      const same = free.get(k);
      if (same) same.push(a);
      else free.set(k, [a]);
    }
    for (const a of of) {
      const k = partner.has(a) ? null : key(a);
      const found = k === null ? undefined : free.get(k)?.shift();
      if (!found) continue;
      partner.set(a, found);
      taken.add(found);
    }
  };
  pair((a) => JSON.stringify([a.element, files.get(a), a.context.place]));
  pair((a) => (files.get(a) ? JSON.stringify([a.element, files.get(a)]) : null));
  // Only what shows nothing yet in the source may become another picture and still be the same appearance.
  pair((a) => JSON.stringify([a.element, a.context.place]), source.appearances.filter(isEmpty));
  return partner;
}
