export interface Candidate {
  src: string;
  /** `2x`, `640w` or empty. */
  descriptor: string;
  /** Where the survey asked for it; not there before. */
  address?: string | null;
  /** The `media` of the `source` it comes from; empty for the element's own. */
  media: string;
}

/** Image candidate strings of a `srcset` attribute (HTML Living Standard 4.8.4.3.3, without validation of sizes). */
export function parseSrcset(srcset: string, media = ''): Candidate[] {
  const out: Candidate[] = [];
  let rest = srcset;
  while ((rest = rest.replace(/^[\s,]+/, '')) !== '') {
    const url = /^\S+/.exec(rest)![0];
    rest = rest.slice(url.length);
    const src = url.replace(/,+$/, '');
    let descriptor = '';
    if (src === url) {
      const comma = rest.indexOf(',');
      descriptor = (comma < 0 ? rest : rest.slice(0, comma)).trim();
      rest = comma < 0 ? '' : rest.slice(comma + 1);
    }
    out.push({ src, descriptor, media });
  }
  return out;
}
