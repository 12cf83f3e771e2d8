/** A page's own part of its title: what stands before the name of the site (common practice). */
export function ownTitle(title: string): string {
  return title.split(/\s[–—|·-]\s/)[0]!.trim() || title;
}
