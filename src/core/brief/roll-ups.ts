/** Findings that one change would fix: of one picture, or at one place of a template. */
export interface FindingGroup {
  kind: 'place' | 'picture';
  /** The template place, or the picture. */
  key: string;
  rule: string;
  /** Appearances that it was found at. */
  appearances: readonly number[];
  pages: number;
}

export interface RollUp {
  kind: FindingGroup['kind'];
  key: string;
  /** The rules that it would content, the one with most findings first. */
  rules: string[];
  appearances: number[];
  pages: number;
}

/** Pages on which something has to be found before it is worth saying that one change fixes them all. */
export const LEAST_PAGES = 3;

/**
 * The roll-ups of a collection, largest reach first (RULES, "One fix, many places"). Groups of one key are one
 * change, whatever the rule; a group that is mostly fixed by a larger one is left out.
 */
export function rollUps(groups: readonly FindingGroup[]): RollUp[] {
  const byKey = new Map<string, RollUp>();
  for (const g of [...groups].sort((a, b) => b.appearances.length - a.appearances.length)) {
    if (g.pages < LEAST_PAGES) continue;
    const known = byKey.get(`${g.kind} ${g.key}`);
    byKey.set(`${g.kind} ${g.key}`, {
      kind: g.kind,
      key: g.key,
      rules: [...(known?.rules ?? []), g.rule],
      appearances: [...new Set([...(known?.appearances ?? []), ...g.appearances])],
      pages: Math.max(known?.pages ?? 0, g.pages),
    });
  }
  const fixed = new Set<number>();
  return [...byKey.values()]
    .sort((a, b) => b.pages - a.pages || b.appearances.length - a.appearances.length)
    .filter(({ appearances }) => {
      const fresh = appearances.filter((id) => !fixed.has(id));
      if (fresh.length * 2 <= appearances.length) return false;
      for (const id of appearances) fixed.add(id);
      return true;
    });
}

/** What people call a template place: the words of its innermost class, else its innermost named region. */
export function placeName(place: string): string | null {
  const parts = place.split('>').reverse();
  const withClass = parts.find((part) => part.includes('.'));
  if (withClass)
    return withClass
      .split('.')[1]!
      .replace(/([\p{Ll}\d])(\p{Lu})/gu, '$1 $2')
      .replace(/[-_]+/g, ' ')
      .trim()
      .toLowerCase();
  return parts.find((part) => /^(?:header|footer|nav|aside)$/.test(part)) ?? null;
}
