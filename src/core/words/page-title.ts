/** Pages that have to share a title before it counts as common. */
const FEWEST = 3;
/** Share of all pages from which a title says nothing of one. */
const COMMON = 0.1;

/** Titles that over a tenth of the pages have: those of frame sets and of templates. */
export function commonTitles(titles: readonly string[]): string[] {
  const counts = new Map<string, number>();
  for (const title of titles) counts.set(title, (counts.get(title) ?? 0) + 1);
  return [...counts].filter(([, n]) => n >= FEWEST && n > COMMON * titles.length).map(([title]) => title);
}

/** A page's own part of its title: what stands before the name of the site (common practice). */
export function ownTitle(title: string): string {
  return title.split(/\s[–—|·-]\s/)[0]!.trim() || title;
}
